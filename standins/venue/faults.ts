/** What can be wrong with an input of the stand-in console, for trying out what the desk says of it. */
export const CONSOLE_FAULTS = ['none', 'dead', 'clipping', 'hum', 'late', 'dropouts'] as const;

export interface ConsoleFault {
	/** From 0. */
	input: number;
	fault: (typeof CONSOLE_FAULTS)[number];
}

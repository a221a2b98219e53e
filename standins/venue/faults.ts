/** What can be wrong with an input of the stand-in console, for trying out what the desk says of it. */
export const CONSOLE_FAULTS = ['none', 'dead', 'clipping', 'hum', 'late', 'dropouts', 'hearsDesk'] as const;
const SWITCHES = 'bivvo-stand-in-console';

export interface ConsoleFault {
	/** From 0. */
	input: number;
	fault: (typeof CONSOLE_FAULTS)[number];
}

/** Breaks an input of the console in every page of this browser, or mends it. */
export function breakInput(fault: ConsoleFault): void {
	const switches = new BroadcastChannel(SWITCHES);
	switches.postMessage(fault);
	switches.close();
}

/** A console's answer, once the fault is in the sound that it gives out. */
export interface ConsoleAnswer {
	applied: ConsoleFault;
}

/** @returns functions that answer, and that end it */
export function onBroken(tell: (fault: ConsoleFault) => void): {
	answer: (answer: ConsoleAnswer) => void;
	end: () => void;
} {
	const switches = new BroadcastChannel(SWITCHES);
	switches.onmessage = ({ data }: MessageEvent<ConsoleFault | ConsoleAnswer>) => {
		if ('fault' in data && CONSOLE_FAULTS.includes(data.fault)) tell(data);
	};
	return {
		answer: (answer) => switches.postMessage(answer),
		end: () => switches.close(),
	};
}

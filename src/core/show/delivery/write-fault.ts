/** Why something is not recorded, as codes; sentences are made where they are shown. */

/** Faults by their code, with what their sentence needs. */
export interface WriteFaults {
	diskFull: Record<never, never>;
	/** There is still room, which the program's recording needs. */
	diskNearlyFull: Record<never, never>;
	/** `problem` is the system's code for it. */
	cannotWrite: { problem: string };
	/** A picture of another size does not fit into the file. */
	otherSize: Record<never, never>;
}

export type WriteFaultCode = keyof WriteFaults;

export type WriteFault = { [C in WriteFaultCode]: { code: C; about: WriteFaults[C] } }[WriteFaultCode];

/** An error of the file system as a fault. */
export function writeFaultOf({ code, message }: Error & { code?: string }): WriteFault {
	return code === 'ENOSPC'
		? { code: 'diskFull', about: {} }
		: { code: 'cannotWrite', about: { problem: code ?? message } };
}

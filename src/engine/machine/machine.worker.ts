/** The worker in which a machine is tested; ended when it is done, with all its memory. */
import { expose } from 'comlink';
import type { Hardware } from '../../core/machine/machine.ts';
import type { Picture } from '../../core/show/state.ts';
import { makeParts } from '../picture/worker-parts.ts';
import { decodeFlatOut } from './decode-flat-out.ts';
import { findHardware } from './hardware.ts';
import { runFlatOut, type MachineJob } from './machine-run.ts';

export interface MachineWorker {
	hardware(picture: Picture): Promise<Hardware>;
	/** @returns frames a second that went through composition and encoders */
	run(job: MachineJob): Promise<number>;
	/** @returns pixels a second of guests' pictures that were decoded */
	decodes(cores: number, seconds: number): Promise<number>;
}

expose({
	hardware: findHardware,
	decodes: decodeFlatOut,
	run: async (job) => runFlatOut(job, await makeParts(job.kernelUrls, job.tried.picture)),
} satisfies MachineWorker);

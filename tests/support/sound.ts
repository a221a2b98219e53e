/** The sound kernels for tests and benches, as they are built. */
import { readFileSync } from 'node:fs';
import { SoundMemory, type SoundKernels } from '../../src/core/sound/memory.ts';

const module = new WebAssembly.Module(readFileSync('src/core/sound/kernels/build/sound.wasm'));

/** A memory of its own. */
export function soundMemory(): SoundMemory {
	return new SoundMemory(new WebAssembly.Instance(module).exports as unknown as SoundKernels);
}

/** A silent AAC-LC frame, written bit by bit: what is sent when there is nobody to encode one. */

/** Writes numbers of a few bits, the highest bit first. */
class BitWriter {
	#bits: number[] = [];

	put(value: number, width: number): this {
		for (let bit = width - 1; bit >= 0; bit--) this.#bits.push((value >> bit) & 1);
		return this;
	}

	/** Filled up with zeroes to whole bytes. */
	bytes(): Uint8Array {
		const bytes = new Uint8Array(Math.ceil(this.#bits.length / 8));
		this.#bits.forEach((bit, i) => (bytes[i >> 3]! |= bit << (7 - (i & 7))));
		return bytes;
	}
}

const ID_SCE = 0;
const ID_CPE = 1;
const ID_END = 7;

/**
 * A raw_data_block (ISO/IEC 14496-3, 4.4.2.1) of 1024 silent samples: no scale factor band has anything in it.
 * @param channels one or two
 */
export function silentAacFrame(channels: number): Uint8Array {
	const bits = new BitWriter();
	const stream = () =>
		bits
			.put(0, 8) // global_gain
			.put(0, 1) // ics_reserved_bit
			.put(0, 2) // window_sequence: only long
			.put(0, 1) // window_shape
			.put(0, 6) // max_sfb: no band is sent
			.put(0, 1) // predictor_data_present
			.put(0, 3); // no pulses, no noise shaping, no gain control
	bits.put(channels === 1 ? ID_SCE : ID_CPE, 3).put(0, 4);
	if (channels > 1) bits.put(0, 1); // common_window
	for (let i = 0; i < Math.min(2, channels); i++) stream();
	return bits.put(ID_END, 3).bytes();
}

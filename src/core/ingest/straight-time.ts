/**
 * Makes one time without steps of the time stamps of a camera: 32 bits of milliseconds that begin anywhere, run over,
 * jump when the camera corrects its clock, or stand still.
 */

/** A stamp that is further ahead than this, and than its packet is late, is a step and no gap. */
const MOST_AHEAD_MS = 1500;
/** Stamps may step back by so much without meaning anything: some encoders round. */
const MOST_BACK_MS = 250;
/** Picture and sound of one camera make the same step; theirs are taken for one when they agree to this. */
const SAME_STEP_MS = 400;
/** Over a step, time goes on by what the packets were apart, at most. */
const MOST_OVER_A_STEP_MS = 1000;

export type Line = 'video' | 'audio';

interface Straightened {
	/** The newest stamp as it came, and what was made of it. */
	raw: number;
	out: number;
	/** When it came, milliseconds of the caller's clock. */
	at: number;
	/** Added to a stamp that does not run over. */
	offset: number;
	/** Stamps unwrapped: as it came, plus the times that it ran over. */
	unwrapped: number;
}

export class StraightTime {
	readonly #lines = new Map<Line, Straightened>();
	/** How often stamps have stepped. */
	steps = 0;

	/**
	 * @param stampMs as it came, 0 to 2^32 − 1
	 * @param now when its packet came, milliseconds of a clock without steps
	 * @returns milliseconds, never less than what was returned for the packet before on the same line; 0 for the first
	 */
	at(line: Line, stampMs: number, now: number): number {
		const before = this.#lines.get(line);
		if (!before) return this.#begin(line, stampMs, now);
		// The difference modulo 2^32, as a signed number (RTMP 1.0, section 5.3.1.1: stamps run over).
		const ahead = (stampMs - before.raw) | 0;
		const unwrapped = before.unwrapped + ahead;
		const waited = Math.max(0, now - before.at);
		const isStep = ahead < -MOST_BACK_MS || ahead > MOST_AHEAD_MS + waited;
		if (isStep) this.steps++;
		const offset = isStep ? this.#offsetAfterStep(line, before, unwrapped, waited) : before.offset;
		const out = Math.max(before.out, unwrapped + offset);
		this.#lines.set(line, { raw: stampMs, out, at: now, offset, unwrapped });
		return out;
	}

	/** The first packet of all is at 0; what comes on the other line keeps its distance from that. */
	#begin(line: Line, stampMs: number, now: number): number {
		const other = this.#lines.get(line === 'video' ? 'audio' : 'video');
		const ahead = other ? (stampMs - other.raw) | 0 : 0;
		const isNear = Math.abs(ahead) <= MOST_AHEAD_MS + (other ? now - other.at : 0);
		// One that begins elsewhere begins now.
		const out = other ? Math.max(0, other.out + (isNear ? ahead : now - other.at)) : 0;
		this.#lines.set(line, { raw: stampMs, out, at: now, offset: out - stampMs, unwrapped: stampMs });
		return out;
	}

	#offsetAfterStep(line: Line, before: Straightened, unwrapped: number, waited: number): number {
		const expected = before.out + Math.min(waited, MOST_OVER_A_STEP_MS);
		const own = expected - unwrapped;
		const other = this.#lines.get(line === 'video' ? 'audio' : 'video');
		if (!other) return own;
		// What the other line makes of this stamp; both count their own turns of 2^32.
		const asOther = other.out + ((before.raw + (unwrapped - before.unwrapped) - other.raw) | 0);
		return Math.abs(asOther - expected) <= SAME_STEP_MS ? asOther - unwrapped : own;
	}
}

/**
 * A weak line, as far as a page can have one by itself: pictures and pieces of the voice are lost before they are sent, and
 * reports of the other side say so. What real packets do that are lost is for a network to show.
 */

/** Part of the packets that is lost, as it is reported. */
const LOST = 0.08;
/** Of so many pictures in a row the last ones are lost. */
const ROUND = { pictures: 30, lost: 9 };
/** In each second the voice is away for so long, seconds. */
const GAP_S = 0.08;
const GAP_EVERY_MS = 1000;

interface Report {
	type: string;
	fractionLost?: number;
}

export class WeakLine {
	/** Through this the voice goes. */
	readonly voice: GainNode;
	#pictures = 0;
	#gaps: ReturnType<typeof setInterval> | undefined;

	constructor(audio: BaseAudioContext) {
		this.voice = new GainNode(audio);
		const measured = Reflect.get(RTCPeerConnection.prototype, 'getStats') as () => Promise<RTCStatsReport>;
		const isWeak = () => this.isWeak;
		RTCPeerConnection.prototype.getStats = async function (this: RTCPeerConnection) {
			const reports = (await measured.call(this)) as ReadonlyMap<string, Report>;
			return (isWeak() ? new Map([...reports].map(([id, report]) => [id, asLost(report)])) : reports) as RTCStatsReport;
		};
	}

	get isWeak(): boolean {
		return this.#gaps !== undefined;
	}

	set isWeak(isWeak: boolean) {
		if (isWeak === this.isWeak) return;
		clearInterval(this.#gaps);
		const { gain, context } = this.voice;
		const gap = () => gain.setValueAtTime(0, context.currentTime).setValueAtTime(1, context.currentTime + GAP_S);
		this.#gaps = isWeak ? setInterval(gap, GAP_EVERY_MS) : undefined;
	}

	/** True for a picture that is lost; to be asked once for each. */
	losesPicture(): boolean {
		this.#pictures = (this.#pictures + 1) % ROUND.pictures;
		return this.isWeak && this.#pictures < ROUND.lost;
	}
}

function asLost(report: Report): Report {
	return report.type === 'remote-inbound-rtp' ? { ...report, fractionLost: LOST } : report;
}

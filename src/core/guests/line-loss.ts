/**
 * What a line loses, from the reports of the other side (RFC 3550, 6.4.2: the part lost since the report before). The voice
 * is the measure: lost packets of pictures are sent again, and count as lost or not as they come in time.
 */
export interface LossReport {
	of: 'voice' | 'pictures';
	/** When it came, ms. */
	at: number;
	/** Part of the packets, 0 to 1. */
	lost: number;
}

/** Told of so many reports: one covers some five seconds of voice. */
const REPORTS = 2;
/** A voice that is not sent is not reported of: pictures have to do. */
const SILENT_MS = 15_000;

export class LineLoss {
	#reports: LossReport[] = [];

	/** The newest part lost that was not told before; null when nothing new came. */
	take(reports: readonly LossReport[]): number | null {
		const newest = (of: LossReport['of']) =>
			reports.filter((each) => each.of === of).reduce<LossReport | null>((a, b) => (a && a.at >= b.at ? a : b), null);
		const [voice, pictures] = [newest('voice'), newest('pictures')];
		const report = voice && (!pictures || pictures.at - voice.at < SILENT_MS) ? voice : pictures;
		const before = this.#reports.at(-1);
		if (!report || (before && report.at <= before.at)) return null;
		this.#reports = [...this.#reports, report].slice(-REPORTS);
		return report.lost;
	}

	/** Part of the packets lost of late; null before the first report. */
	get part(): number | null {
		if (this.#reports.length === 0) return null;
		return this.#reports.reduce((sum, { lost }) => sum + lost, 0) / this.#reports.length;
	}
}

/** What a page is told for making clips of a recording; seconds from its start. */
import type { Focus } from './focus.ts';

export interface ForClips {
	/** Of what was recorded apart, the source that it is of; null for the program, and where that is gone. */
	sourceId: string | null;
	focus: (Focus & { atS: number })[];
	/** Words as they stood from a moment on; no lines where none did. */
	words: { atS: number; lines: string[] }[];
}

/** Text that stands over a part of a clip; seconds from the clip's start. */
export interface Caption {
	fromS: number;
	toS: number;
	text: string;
}

/** Words that stood within a part of a recording, as captions of it. */
export function captionsOf(words: ForClips['words'], fromS: number, toS: number): Caption[] {
	return words.flatMap(({ atS, lines }, i) => {
		const from = Math.max(fromS, atS);
		const to = Math.min(toS, words[i + 1]?.atS ?? toS);
		return lines.length === 0 || to <= from ? [] : [{ fromS: from - fromS, toS: to - fromS, text: lines.join('\n') }];
	});
}

/** The caption that stands at a moment; '' for none. */
export function captionAt(captions: readonly Caption[], atS: number): string {
	return captions.find(({ fromS, toS }) => atS >= fromS && atS < toS)?.text ?? '';
}

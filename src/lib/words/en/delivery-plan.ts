/** The sentences for why a broadcast is sent as it is, and for what would go wrong. */
import {
	SOUND_KBPS,
	VIEWERS_KBPS,
	type DeliveryReason,
	type DeliveryWarning,
	type PictureForm,
} from '../../../core/delivery/rates.ts';

const figure = (kbps: number) => (kbps / 1000).toFixed(1);
const megabits = (kbps: number) => `${figure(kbps)} Mbit/s`;
const form = ({ width, height, fps }: PictureForm) => `${width} × ${height}, ${fps}/s`;

export function deliveryReason(reason: DeliveryReason): string {
	switch (reason.is) {
		case 'gets': {
			const { name, picture, kbps, maxHeight, maxKbps } = reason;
			const caps = [maxHeight && `${maxHeight} lines`, maxKbps && megabits(maxKbps)].filter(Boolean).join(' and ');
			return `${name} gets ${form(picture)} at ${megabits(kbps)}${caps ? `; it accepts ${caps} at most` : ''}.`;
		}
		case 'total': {
			const terms = reason.kbps.map((kbps) => `(${figure(kbps)} + ${figure(SOUND_KBPS)})`);
			return `In total ${terms.join(' + ')} = ${megabits(reason.totalKbps)}.`;
		}
		case 'lineUnknown':
			return 'The line was not measured yet. Measure it, so that the rate fits it.';
		case 'line':
			return `The line carries ${megabits(reason.lineKbps)}; half of it, ${megabits(reason.allowedKbps)}, may be used.`;
		case 'chosen':
			return `You have chosen ${megabits(reason.kbps)} yourself.`;
	}
}

export function deliveryWarning(warning: DeliveryWarning): string {
	switch (warning.is) {
		case 'overLine':
			return `${megabits(warning.totalKbps)} is more than half of the line. Untick a destination, or choose a lower rate; else viewers may see it stop.`;
		case 'overViewers':
			return `${megabits(warning.kbps)} is more than many viewers’ own lines carry: for them it may stop again and again. ${megabits(VIEWERS_KBPS)} is safe for most.`;
		case 'overCap':
			return `${warning.name} accepts ${megabits(warning.maxKbps)} at most and will refuse ${megabits(warning.kbps)}.`;
		case 'littleRate':
			return `${megabits(warning.kbps)} is little for ${form(warning.picture)}: viewers see blocks where much moves.`;
	}
}

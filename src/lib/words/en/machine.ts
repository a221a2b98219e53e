import type { PictureForm } from '../../../core/delivery/rates.ts';
import type { Lighter } from '../../../core/machine/lighter.ts';
import type { Judgement, Machine } from '../../../core/machine/machine.ts';
import type { Value } from '../value.ts';

/** Words of the interface: the picture of an event, and what this machine can do with it. */
export const machine = {
	title: 'The picture, and this machine',
	size: 'Its size, and how many pictures a second',
	lighten: 'Change to that',
	lightened: 'The event is as light as this machine needs it now.',
	fixedOnAir: 'On air the picture stays as it is.',
	changed: (picture: Value) => `The picture is ${picture} now.`,
	test: 'Test this machine',
	testAgain: 'Test it again',
	cancel: 'Stop the test',
	about: 'Twelve seconds of your heaviest scenes, as fast as it goes. Nobody sees them.',
	testing: 'Making and encoding your heaviest scenes as fast as this machine can…',
	notOnAir: 'The machine is tested before the evening: on air it is needed.',
	elsewhere: 'It is tested on the page that makes the pictures: the desk that is open, or this page on a wider screen.',
	noScene: 'It is tested with your own scenes. Add a camera first.',
	untested: 'This machine has not been tested with an event yet.',
	outdated: 'The event has become heavier since this machine was tested. Test it again.',
	failed: (problem: Value) => `The test came to nothing (${problem}). Close other programs and try again.`,
	testedAt: (when: Value) => `Tested ${when}.`,
};

export const pictureName = ({ width, height, fps }: PictureForm) => `${width} × ${height} at ${fps}`;

const percent = (part: number) => `${Math.round(100 * part)} %`;

/** What becomes of a picture, in few words. */
export function machineVerdict({ verdict, room, share }: Judgement): string {
	if (verdict === 'ample') return `with room to spare (${percent(room)})`;
	return verdict === 'tight'
		? `with little to spare (${percent(room)})`
		: `would drop frames (${percent(share)} arrive)`;
}

/** “This machine makes 1280 × 720 at 30 with room to spare (61 %); 1920 × 1080 at 30 would drop frames.” */
export function machineSummary(judged: readonly { picture: PictureForm; judgement: Judgement }[]): string {
	const said = judged.map(({ picture, judgement }, i) => {
		const makes = judgement.verdict === 'drops' ? '' : i === 0 ? 'makes ' : '';
		return `${makes}${pictureName(picture)} ${machineVerdict(judgement)}`;
	});
	return `${judged[0]?.judgement.verdict === 'drops' ? 'On this machine' : 'This machine'} ${said.join('; ')}.`;
}

/**
 * What it costs to go on with a picture that is too much for the machine.
 * @param apart sources that are recorded apart as it is now
 */
export function machinePrice(
	picture: PictureForm,
	apart: number,
	{ share }: Judgement,
	lighter: Lighter | null,
): string {
	const advice = lighter
		? `${lighterName(lighter, apart)} arrives whole.`
		: 'Close other programs and test it again, or use a faster machine.';
	return `${pictureName(picture)} is too much for this machine: viewers would get about ${percent(share)} of the pictures. ${advice}`;
}

/** “1280 × 720 at 30 with 2 sources recorded separately”; these are named where there are fewer of them than before. */
function lighterName({ picture, sourceIds }: Lighter, apart: number): string {
	const { length } = sourceIds;
	if (length === apart) return pictureName(picture);
	const sources = length === 0 ? 'no source' : length === 1 ? '1 source' : `${length} sources`;
	return `${pictureName(picture)} with ${sources} recorded separately`;
}

/**
 * What guests take of the machine.
 * @param all part of it for guests in all seats
 * @param each part of it for one who fills the program
 */
export function machineGuests(seats: number, all: number, each: number): string {
	if (seats === 0) return `A guest who fills the program takes ${percent(each)} of this machine.`;
	const there = seats === 1 ? 'A guest in the only seat takes' : `Guests in all ${seats} seats take`;
	return `${there} ${percent(all)} of this machine; one who fills the program takes ${percent(each)}.`;
}

const HARDWARE: Record<Machine['hardware'], string> = {
	works: 'It encodes video in hardware, which was checked',
	none: 'It encodes video without help of hardware',
	spoils: 'Its hardware encoder spoils the picture or is too slow, so it is not used',
};

/** What the machine has. */
export function machineParts({ cores, memoryGb, hardware }: Machine): string {
	const memory = memoryGb === null ? '' : `, ${memoryGb} GB of memory${memoryGb >= 8 ? ' or more' : ''}`;
	return `${cores} ${cores === 1 ? 'core' : 'cores'}${memory}. ${HARDWARE[hardware]}.`;
}

import type { PictureForm } from '../../../core/delivery/rates.ts';
import type { Judgement, Machine } from '../../../core/machine/machine.ts';
import type { Value } from '../value.ts';

/** Words of the interface: the picture of an event, and what this machine can do with it. */
export const machine = {
	title: 'The picture, and this machine',
	size: 'Its size, and how many pictures a second',
	fixedOnAir: 'On air the picture stays as it is.',
	changed: (picture: Value) => `The picture is ${picture} now.`,
	test: 'Test this machine',
	testAgain: 'Test it again',
	cancel: 'Stop the test',
	about: 'Ten seconds of your heaviest scenes, as fast as it goes. Nobody sees them.',
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

/** What it costs to go on with a picture that is too much for the machine. */
export function machinePrice(picture: PictureForm, { share }: Judgement, better: PictureForm | null): string {
	const advice = better
		? `${pictureName(better)} arrives whole.`
		: 'Close other programs and test it again, or use a faster machine.';
	return `${pictureName(picture)} is too much for this machine: viewers would get about ${percent(share)} of the pictures. ${advice}`;
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

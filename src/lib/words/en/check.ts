/** Words of the interface: the line check. */
import type { CheckMend, CheckWhat } from '../../../core/line-check/entry.ts';
import type { Value } from '../value.ts';
import { conflictWords } from './conflicts.ts';
import { sendFaultWords } from './delivery-faults.ts';
import { deliveryWarning } from './delivery-plan.ts';
import { durationOf, rateOf, timeOf } from './figures.ts';
import { channelFaultWords } from './sound.ts';

export const check = {
	page: 'the line check',
	title: 'Line check',
	/** By what is most pressing. */
	ready: 'Everything was seen to be ready.',
	wrong: (count: number) => (count === 1 ? '1 thing viewers would miss' : `${count} things viewers would miss`),
	weak: (count: number) => (count === 1 ? '1 to look at' : `${count} to look at`),
	unseen: (count: number) => (count === 1 ? '1 not looked at yet' : `${count} not looked at yet`),
	good: (count: number) => `${count} ready`,
	starts: (time: Value) => `Begins on ${time}`,
	startsIn: (time: Value) => `in ${time}`,
	began: (time: Value) => `Was to begin on ${time}`,
	noStart: 'No date is set',
	groups: {
		cameras: 'Cameras',
		sound: 'Sound',
		delivery: 'Where it goes',
		machine: 'This machine and the others',
		evening: 'The evening',
		people: 'Guests and crew',
	},
	states: { good: 'Ready', weak: 'Look at it', wrong: 'Not ready', unseen: 'Not seen' },
	seenAt: (time: Value) => `seen ${time}`,
	print: 'Print as a checklist',
	onlyOpen: 'Show only what is not ready',
	showAll: 'Show all',
	nobodyLooks: 'Nobody looks at cameras and sound now. Open Prepare or the desk on the machine that has them.',
	opensPrepare: 'Open Prepare',
	working: 'Working …',
	done: 'Done',
	tickHere: 'seen by hand',
	card: 'Line check',
	toCheck: 'Open the line check',
};

const pages: Record<string, string> = {
	desk: 'the desk',
	prepare: 'Prepare',
	mix: 'the mix',
	words: 'the words',
	hall: 'the hall’s screen',
	stage: 'the stage’s screen',
	tally: 'a tally light',
	panel: 'a panel',
	sheet: 'the run sheet',
	surface: 'a control surface',
	other: 'another page',
};

const CAMERA_FAULTS: Readonly<Record<string, string>> = {
	black: 'is black. Is its lens covered, or its light off?',
	frozen: 'stands still. Check the camera and its cable.',
	noNewFrames: 'sends no new pictures. Check its cable and its power.',
	inUse: 'is in use by another program. Close that program.',
	notAllowed: 'may not be used by the browser. Allow it beside the address of the page.',
	opening: 'is being opened.',
	notShared: 'is not shared yet. Press Share beside its name on the desk.',
	shareEnded: 'is not shared any more. Press Share beside its name on the desk.',
};

const percent = (part: number) => `${Math.round(100 * part)} %`;
/** With a minus sign, which is wider than a hyphen. */
const signed = (value: number, digits = 0) => value.toFixed(digits).replace('-', '−');
const db = (level: number) => `${signed(level)} dB`;
/** A local day, ISO 8601 → "Saturday 28 November". */
function dayOf(local: string): string {
	const day = { weekday: 'long', day: 'numeric', month: 'long', timeZone: 'UTC' } as const;
	return new Date(`${local.slice(0, 10)}T00:00Z`).toLocaleDateString('en-GB', day).replace(',', '');
}
const ms = (value: number) =>
	Math.abs(value) < 1000 ? `${Math.round(Math.abs(value))} ms` : `${(Math.abs(value) / 1000).toFixed(1)} s`;

/** What a line of the check says, and what to do where something is not ready. */
export function checkWords(what: CheckWhat): string {
	switch (what.is) {
		case 'noCamera':
			return 'There is no camera yet.';
		case 'camera':
			if (what.width === 0) return `${what.name} was not seen lately.`;
			return `${what.name} has a picture that moves, ${what.width} × ${what.height}${what.fps === null ? '' : `, ${Math.round(what.fps)} a second`}.`;
		case 'cameraFault':
			return `${what.name} ${CAMERA_FAULTS[what.fault] ?? 'has no picture. Check its cable and its power.'}`;
		case 'cameraShape':
			return `${what.name} sends ${what.width} × ${what.height}, another shape than the event’s: viewers see bars beside it, or it is cropped.`;
		case 'cameraSmall':
			return `${what.name} sends ${what.height} lines and is shown at ${what.wanted}: it looks soft. Choose a larger size for it.`;
		case 'cameraSlow':
			return `${what.name} sends ${Math.round(what.fps)} pictures a second instead of ${what.wanted}: what moves stutters. Give it light, or a smaller size.`;
		case 'cameraSoft':
			return `${what.name} is enlarged so far in ${what.scene} that it looks soft. Make the framing wider.`;
		case 'noSound':
			return 'There is no sound yet.';
		case 'channel':
			return what.levelDb <= -120 ? `${what.name} was not listened to lately.` : `${what.name} is heard.`;
		case 'channelSilent':
			return `Nothing was heard of ${what.name} yet. Let somebody speak or play.`;
		case 'channelFault':
			return channelFaultWords(what.name, what.fault as never, 'left');
		case 'channelSoft':
			return `${what.name} is very soft, ${db(what.levelDb)}. Turn it up at the console.`;
		case 'channelLoud':
			return `${what.name} is at its limit. Turn it down at the console, or it will distort.`;
		case 'ownMicrophone':
			return `${what.name} is a microphone built into this machine, although there is ${what.console}. It hears the machine’s fan.`;
		case 'lips':
			return what.measured
				? `Lips and words of ${what.name} were brought together.`
				: `Nobody has measured yet whether words of ${what.name} come with the lips.`;
		case 'loudness':
			if (what.integrated === null) return 'The loudness of the mix was not measured yet.';
			return `The mix has ${signed(what.integrated, 1)} LUFS; ${signed(what.targetLufs)} is wanted.`;
		case 'noDestination':
			return 'It goes nowhere yet. Tick a destination.';
		case 'destination':
			return what.tested
				? `${what.name} takes the stream.`
				: `Nobody has asked ${what.name} yet whether it takes the stream.`;
		case 'destinationFault':
			return `${what.name}: ${sendFaultWords(what.fault)}`;
		case 'oldKey':
			return `The key of ${what.name} is that of the last broadcast. Many hosts give a new one each time; if this one stays the same, say so in its form.`;
		case 'details':
			return `${what.name} shows “${what.title}”.`;
		case 'detailsOld':
			return `${what.name} shows the title “${what.title}”, which is not this evening’s.`;
		case 'detailsDay':
			return `${what.name} announces another day, ${dayOf(what.plannedAt)}.`;
		case 'detailsNone':
			return `${what.name} was not told of this evening yet: viewers see an old title, or none.`;
		case 'publicStep':
			return `${what.name} may show the stream to nobody until it is made public: a button on the desk does that once it is live.`;
		case 'overCap':
			return deliveryWarning(what.warning);
		case 'line':
			return `The line carries ${rateOf(what.kbps)}, and ${rateOf(what.totalKbps)} are sent.`;
		case 'lineUnseen':
			return 'The line was not measured lately.';
		case 'lineUnsteady':
			return `The line wavers; ${rateOf(what.kbps)} can be counted on. Use a cable, and ask others to wait with downloads.`;
		case 'lineFull':
			return `${rateOf(what.totalKbps)} are more than half of the line, ${rateOf(what.kbps)}. Untick a destination, or choose a lower rate.`;
		case 'recording':
			return what.roomS === null
				? 'It is recorded; how much room the disk has is not known.'
				: `It is recorded; the disk has room for ${durationOf(what.roomS)}.`;
		case 'recordingOff':
			return 'Nothing is recorded.';
		case 'littleRoom':
			return `The disk has room for ${durationOf(what.roomS)}; the evening needs ${durationOf(what.wantedS)}. Delete old recordings.`;
		case 'machine':
			if (what.verdict === 'ample') return 'This machine makes the picture with room to spare.';
			if (what.verdict === 'tight') return 'This machine can just make the picture. Close other programs.';
			if (what.verdict === 'drops') return 'This machine cannot make the picture without gaps. Choose a smaller one.';
			return what.outdated
				? 'The event has become heavier since this machine was tested.'
				: 'This machine was not tested yet.';
		case 'load':
			if (what.load === 0) return 'Nobody makes the picture now.';
			return what.pressed
				? `Other programs take much of this machine. Close them.`
				: `Making the picture takes ${percent(what.load)} of its time.`;
		case 'database':
			return what.stored
				? 'Changes are kept.'
				: 'Changes cannot be written to the database. They are kept in memory until they can.';
		case 'clock':
			return `The clock of ${what.where} is ${ms(what.aheadMs)} ${what.aheadMs > 0 ? 'fast' : 'slow'}. Let it set its time by the network.`;
		case 'clocks':
			return 'All clocks agree.';
		case 'power':
			return what.isFed
				? `${what.where} has power.`
				: `${what.where} runs on its battery, ${percent(what.charge)}. Plug it in.`;
		case 'browser':
			return what.least === 0
				? `The browser of ${what.where} is not one that can do this page.`
				: what.version < what.least
					? `The browser of ${what.where} is too old (${what.name} ${what.version}). Update it.`
					: `The browser of ${what.where} is ${what.name} ${what.version}.`;
		case 'desk':
			return what.there ? 'The desk is open.' : 'The desk is not open.';
		case 'start':
			if (what.startsAt === '') return 'No date is set.';
			return what.today ? 'The date is today.' : `The date is ${dayOf(what.startsAt)}.`;
		case 'sheet':
			return what.cues === 1
				? 'The one line of the run sheet has all it needs.'
				: `All ${what.cues} lines of the run sheet have what they need.`;
		case 'sheetConflict':
			return what.cue === '' ? conflictWords(what.conflict) : `${what.cue}: ${conflictWords(what.conflict)}`;
		case 'carried':
			return what.what === 'person'
				? `${what.text.split('\n').filter(Boolean).join(', ')}: still right this time?`
				: `The card ${what.name} still says “${what.text.replaceAll('\n', ' ')}”. Still right this time?`;
		case 'fieldEmpty':
			return `${what.name} is named in a text, and says nothing yet.`;
		case 'clip':
			return `${what.name} is there and can be played.`;
		case 'clipGone':
			return `The file of ${what.name} is not in the media library any more.`;
		case 'clipDamaged':
			return `The file of ${what.name} is damaged. Upload it again.`;
		case 'songs':
			return what.count === 1 ? 'The words of 1 song are there.' : `The words of ${what.count} songs are there.`;
		case 'rehearsal':
			if (what.at === null) return 'Nobody has rehearsed yet.';
			return what.changedSince
				? `Something was changed since the rehearsal at ${timeOf(what.at)}.`
				: `Rehearsed at ${timeOf(what.at)}, and nothing was changed since.`;
		case 'guest':
			return what.here ? `${what.name} is here.` : `${what.name} is not here yet.`;
		case 'guestLink':
			return what.why === 'expired'
				? `The link of ${what.name} is over. Send a new one.`
				: `The link of ${what.name} opens nothing. Send a new one.`;
		case 'device':
			return what.here ? `${what.name} is here.` : `${what.name} is not here: it should show ${pages[what.page]}.`;
	}
}

/** What the button beside a line says. */
export function mendWords(mend: CheckMend, what: CheckWhat): string {
	switch (mend.does) {
		case 'command':
			return what.is === 'carried' ? 'It is right' : 'Record';
		case 'addSource':
			return what.is === 'noSound' ? 'Add the sound' : 'Add a camera';
		case 'measureLine':
			return 'Measure the line';
		case 'testMachine':
			return 'Test this machine';
		case 'rehearse':
			return 'Rehearse';
		case 'look':
			return 'Look at it';
		case 'pair':
			return 'Pair it again';
		case 'editFields':
			return 'Fill it in';
		case 'editChannel':
			return what.is === 'lips' ? 'Measure it' : what.is === 'channelSilent' ? 'Listen to it' : 'Change it';
		case 'editSource':
		case 'editCue':
		case 'editDestination':
			return 'Change it';
		case 'editDetails':
			return 'Tell the host';
		case 'testDestination':
			return 'Ask the host';
		case 'open':
			return {
				desk: 'Open the desk',
				prepare: 'Open Prepare',
				mix: 'Open the mix',
				media: 'Open the library',
				guests: 'Open the guests',
				people: 'Open people',
			}[mend.page];
	}
}

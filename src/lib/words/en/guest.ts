import type { PictureAdvice } from '../../../core/guests/picture-check.ts';
import type { VoiceAdvice } from '../../../core/guests/voice-check.ts';
import type { GuestFault } from '../../../core/show/troubles.ts';
import type { Value } from '../value.ts';

/** What guests read: people who are not technical, and nervous. */
export const guest = {
	pageTitle: (title: Value) => `${title} · You are a guest`,
	// The invitation.
	youAreInvited: 'You are invited',
	invitedTo: (organisation: Value) => `${organisation} invites you to`,
	byVideo: 'You take part by video, from where you are.',
	when: (when: Value) => `It begins on ${when}, in your own time.`,
	asked:
		'You will be asked for your camera and your microphone. Nobody sees or hears you before you press “Ask to be let in”, and viewers not before the crew puts you on air.',
	headphonesHelp: 'Headphones help everybody to hear you well.',
	getReady: 'Get ready',
	noCameraHere:
		'This page was opened inside another app, where camera and microphone cannot be used. Copy the address, and open it in your usual browser.',
	address: 'Address to copy',
	copy: 'Copy',
	copied: 'Copied',
	linkProblem: 'This link does not let you in',
	askForNew: 'Ask whoever sent it to you for a new one; they can make it in a moment.',
	// Getting ready.
	checkYourself: 'Check yourself',
	yourName: 'Your name',
	nameHint: 'Everybody will see this.',
	camera: 'Camera',
	microphone: 'Microphone',
	listenWith: 'Headphones or loudspeaker',
	systemOutput: 'As the system plays',
	speakNow: 'Say a few words: the bar must move.',
	level: 'How loud you are',
	lineMeasuring: 'Finding out what your line carries…',
	lineIs: {
		good: (rate: Value) => `Your line carries ${rate}: good.`,
		small: (rate: Value) =>
			`Your line carries ${rate}: your picture will be a little soft. Close other programs that use it.`,
		weak: (rate: Value) =>
			`Your line carries only ${rate}: you will be heard well, and seen small. Go nearer to the router, or use a cable.`,
		voiceOnly: (rate: Value) =>
			`Your line carries only ${rate}: switch your camera off when you are in, so that you are heard. Another place or a phone’s own network may be better.`,
	},
	askToBeLetIn: 'Ask to be let in',
	opening: 'Waiting for your camera and microphone. Press “Allow” if the browser asks.',
	noPicture: 'No picture',
	checkSound: 'Play a sound',
	soundMeasuring: 'A short tone plays…',
	soundQuiet: 'Your microphone does not hear your loudspeaker. Good.',
	soundHeard:
		'Your microphone hears your loudspeaker: everybody would hear themselves come back. Put headphones on, and try again.',
	soundHint: 'It tells whether your microphone hears your loudspeaker.',
	// In.
	waiting: 'Waiting to be let in',
	waitingHint: 'The crew knows that you are there. Viewers do not see or hear you.',
	greenRoom: 'Green room: the crew hears you, viewers do not',
	greenRoomHint: 'You hear the program softly. Whoever speaks here with you is not heard by viewers either.',
	ready: 'You have your place: viewers do not see or hear you yet',
	onAir: 'ON AIR: everybody sees and hears you',
	onAirSeen: 'ON AIR: seen, not heard',
	onAirHeard: 'ON AIR: heard, not seen',
	onAirMuted: 'ON AIR: seen. Your microphone is muted',
	inTime: (time: Value) => `On air in ${time}`,
	anyMoment: 'On air at any moment',
	noServer: 'The connection is lost. It comes back by itself; your place is kept.',
	noDesk: 'The desk is coming back. Stay here; your place is kept.',
	connecting: 'Connecting with the desk…',
	broken: 'Your line is interrupted. It comes back by itself; your place is kept.',
	mute: 'Mute',
	muted: 'Muted',
	muteHint: 'While you are muted, hold the space bar to speak.',
	cameraOn: 'Camera',
	cameraOff: 'Camera is off',
	share: 'Share screen',
	sharing: 'Sharing',
	hand: 'Raise hand',
	handUp: 'Hand is up',
	leave: 'Leave',
	leaveSure: 'Leave now?',
	stay: 'Stay',
	settings: 'Devices',
	done: 'Done',
	volume: 'How loud you hear the others',
	write: 'Write to the crew',
	send: 'Send',
	messages: 'Messages with the crew',
	more: 'Messages and more',
	noMessages: 'Nothing was written yet.',
	viewersWrite: 'What viewers write',
	readViewers: 'Show me what viewers write',
	viewersWroteNothing: 'No viewer has written yet.',
	you: 'You',
	crew: 'Crew',
	yourPicture: 'Your picture',
	program: 'The program',
	seeProgram: 'See the program',
	seeSelf: 'See only myself',
	seeChosen: 'See what the crew chose',
	chosenScene: 'What the crew chose for guests',
	guestsSee: 'Guests can also see',
	guestsSeeNothing: 'only the program',
	comesBack:
		'Your microphone hears your loudspeaker: the others hear themselves come back. Put headphones on, or play more softly.',
	mutedSpeaking: 'You are muted.',
	playSound: 'Press here to hear the others',
	// A recording by their own browser.
	own: {
		consent: 'Record me here in full quality while the event is on air, and send it to the crew afterwards',
		consentHint:
			'Your picture and your voice stay on this device until then. You can end this at any time; what was recorded before is sent.',
		is: (time: Value) => `You are recorded on this device: ${time}.`,
		willBe: 'You will be recorded on this device when the event is on air.',
		sending: (percent: Value) => `Your recording is being sent: ${percent} %. Keep this page open.`,
		waits: 'Your line is interrupted. The recording goes on being sent when it is back; keep this page open.',
		sent: 'Your recording was sent. Thank you.',
		notReached: 'The server cannot be reached. Your recording is kept on this device.',
		unsent: (why: Value) => `Your recording was not sent. ${why}`,
		save: 'Save it as a file',
		noRoom: 'You are not recorded any more: this device has no room. Viewers are not affected.',
		broken: 'You are not recorded any more: the browser cannot write it. Viewers are not affected.',
		progress: 'How much of your recording was sent',
	},
	// Afterwards.
	ended: {
		left: 'You have left',
		removed: 'The crew has ended your visit',
		elsewhere: 'You are here on another device now',
		over: 'The event is over',
		linkGone: 'This link does not let you in any more',
	},
	endedHint: {
		left: 'You can come again, as long as your link is good.',
		removed: 'Thank you for being here. If this was a mistake, ask whoever invited you for a new link.',
		elsewhere: 'Your link was opened a second time, and only one page can be you. To be here instead, come again.',
		over: 'Thank you for being here.',
		linkGone: 'Ask whoever sent it to you for a new one; they can make it in a moment.',
	},
	comeAgain: 'Come again',
	problem: {
		camera: {
			refused: 'The browser may not use your camera.',
			absent: 'No camera was found. Plug one in, or go on without.',
			inUse: 'Another program holds your camera. Close that program, then try again.',
			broken: 'Your camera cannot be opened. Unplug it and plug it in again.',
		},
		microphone: {
			refused: 'The browser may not use your microphone.',
			absent: 'No microphone was found. Plug one in: without it nobody hears you.',
			inUse: 'Another program holds your microphone. Close that program, then try again.',
			broken: 'Your microphone cannot be opened. Unplug it and plug it in again.',
		},
	},
	allow: {
		chromium: 'Press the sign at the left of the address above, let camera and microphone be used, then try again.',
		firefox: 'Press the crossed-out camera at the left of the address above, remove the block, then try again.',
		safari:
			'In the menu of the address line, open the settings for this page, allow camera and microphone, then try again.',
	},
	tryAgain: 'Try again',
	// A guest who is made up.
	standInIs: 'This guest is made up. Break something, and see what the desk says.',
	standInFault: 'What is wrong with this guest',
	standInFaults: {
		none: 'Nothing is wrong',
		weak: 'The line is weak',
		frozen: 'The picture stands still',
		echo: 'What they hear comes back',
		soft: 'Very soft',
		hiss: 'Loud hiss',
	},
	standInTwice: 'Open this page a second time',
	addStandIn: (name: Value) => `Guest: ${name}`,
	// A phone as a camera.
	phoneAsCamera: 'A phone as a camera',
	addPhone: 'Add a phone…',
	addPhoneHint: 'It shows a code. The phone opens it, asks nothing but for its camera, and is one of your cameras.',
	phoneNumber: (count: Value) => `Phone ${count}`,
	phoneCode: (name: Value) => `Code that makes a phone ${name}`,
	phoneScan: (name: Value) =>
		`Point the phone’s camera at the code, and open what it shows. ${name} stands among your sources; where it is shown, viewers see it.`,
	phoneIs: (name: Value, title: Value) => `${name}, a camera of ${title}`,
	phoneHint: 'Keep this page open and in front. If the line breaks, it comes back by itself.',
	phoneCovered: 'Nothing is seen: is something over the lens?',
	otherCamera: 'Other camera',
	withSound: 'With sound',
	withoutSound: 'Without sound',
	torch: 'Light',
	zoom: 'Nearer',
	recordsItself: 'recorded on their own device too',
	batteryIs: (percent: Value) => `battery ${percent} %`,
	// The desk's panel.
	guests: 'Guests',
	guestsWaiting: (count: Value) => `Guests, ${count} waiting`,
	nobody: 'Nobody is here. Send somebody a link, below.',
	noSeats: 'There is no seat yet. A seat is a source that stands in scenes, and shows whoever has it.',
	addSeat: 'Add a seat',
	addScreenSeat: 'Add a seat for shared screens',
	seatNumber: (count: Value) => `Seat ${count}`,
	screenSeat: 'Guest’s screen',
	waits: 'waits to be let in',
	inGreenRoom: 'in the green room',
	inSeat: (seat: Value) => `in ${seat}`,
	onAirIn: (seat: Value) => `ON AIR in ${seat}`,
	gone: 'line is broken; the place is kept',
	letIn: 'Let in',
	firstFree: 'To the first free seat',
	toGreenRoom: 'To the green room',
	turnAway: 'Turn away',
	remove: 'Remove',
	removeHint: 'Ends the visit; the link lets nobody in any more.',
	removeSure: 'Really remove?',
	seat: (name: Value) => `Seat of ${name}`,
	screenOf: (name: Value) => `Screen of ${name}`,
	notShown: 'not shown',
	seen: 'Seen',
	heard: 'Heard',
	talk: 'Hold to talk',
	talkAll: 'Hold to talk to all',
	talkHint: 'Your microphone, to guests only. Viewers never hear it.',
	nameShown: 'Name',
	nameShownHint: 'Shows the name to viewers, in the lower third.',
	nameIsShown: (name: Value) => `The name ${name} is shown.`,
	noLowerThird: 'There is no lower third yet. Make one under Names and overlays.',
	countIn: 'On air in',
	countInNone: 'not said',
	countInMinutes: (minutes: Value) => `${minutes} min`,
	forMusic: 'For music',
	forMusicHint: 'Their browser leaves their sound as it is: no taking out of echo and noise, no levelling.',
	handIs: 'raises a hand',
	isMuted: 'muted',
	isCameraOff: 'camera off',
	shares: 'shares a screen',
	writeTo: (name: Value) => `Write to ${name}`,
	loses: (name: Value, percent: Value) => `${name}’s line loses ${percent} % of its packets.`,
	slow: (name: Value, ms: Value) => `${name}’s line takes ${ms} ms there and back.`,
	goodLine: 'good line',
	lossyLine: (percent: Value) => `loses ${percent} %`,
	roundTrip: (ms: Value) => `${ms} ms`,
	links: 'Links',
	inviteGuest: 'Invite a guest',
	guestName: 'Name of the guest',
	guestNameIs: 'Ysolde Brann',
	makeLink: 'Make a link',
	linkFor: (name: Value) => `For ${name}: send it to nobody else. It is shown this once.`,
	showLink: 'Show it',
	hideLink: 'Hide it',
	shareLink: 'Send…',
	newLink: 'New link',
	takeBack: 'Take back',
	addGathering: 'Add a scene of all guests',
	addGatheringHint: 'It shows as many as are there, side by side; whoever comes or goes makes the others move',
	gathering: 'All guests',
	linkUnused: 'not opened yet',
	linkOpened: (when: Value, browser: Value) => `${when}: ${browser}`,
	framing: 'Their picture…',
	framingHint: 'Framings of the seat, and its colours',
	theirSound: 'Their sound…',
	theirSoundHint: 'How loud they are, their delay, and what is done to their voice',
	linkUsed: (times: Value) => (times === 1 ? 'opened once' : `opened ${times} times`),
	linkUntil: (when: Value) => `good until ${when}`,
	pictureOf: (name: Value) => `Picture of ${name}`,
};

const PICTURE: Record<PictureAdvice, string> = {
	covered: 'Nothing is seen: is something over the lens?',
	tooDark: 'It is too dark. Turn a light on in front of you.',
	againstLight: 'The light is behind you. Turn round, or draw the curtain.',
	tooBright: 'The light is too strong. Move away from the lamp.',
};
const VOICE: Record<VoiceAdvice, string> = {
	silent: 'Nothing is heard. Is the microphone muted, or another one the right one?',
	nobodySpeaks: 'Say a few words.',
	tooSoft: 'You are too soft. Go nearer to the microphone, or speak up.',
	tooLoud: 'You are too loud. Move away from the microphone a little.',
	noisy: 'There is much noise around you. Close a window, or go to a quieter room.',
	far: 'You are far from the microphone. Go nearer, or use headphones with one.',
};

export function pictureAdviceWords(advice: PictureAdvice): string {
	return PICTURE[advice];
}

export function voiceAdviceWords(advice: VoiceAdvice): string {
	return VOICE[advice];
}

/** What is wrong with a guest, and what to do. */
export function guestFaultWords(name: string, fault: GuestFault, lost: number, isLess: boolean): string {
	switch (fault) {
		case 'gone':
			return `${name}’s line is broken. It comes back by itself, to the same seat; take another scene meanwhile.`;
		case 'loses':
			return isLess
				? `${name}’s line loses ${Math.round(100 * lost)} % of its packets; the picture was made smaller.`
				: `${name}’s line loses ${Math.round(100 * lost)} % of its packets. Ask them to switch their camera off if they break up.`;
		case 'smaller':
			return `${name}’s line or machine takes no more: the picture is smaller than it should be. Ask them to close other programs.`;
		case 'frozen':
			return `${name}’s picture stands still, or is black. Ask them to switch their camera off and on, or take another scene.`;
		case 'echo':
			return `${name}’s microphone hears their loudspeaker: the program comes back. Ask them for headphones.`;
		case 'noSound':
			return `Nothing is heard of ${name}. Ask them, by a message, whether the right microphone is chosen.`;
		case 'tooLoud':
			return `${name} is too loud and distorts. Ask them to move away from the microphone.`;
	}
}

/** The sentences for refusals: what happened, to which thing, what to do. */
import type { AddressProblem } from '../../../core/delivery/address.ts';
import type { RefusalCode, RefusalMessage, Refusals, Thing } from '../../../core/refusal.ts';
import { roleList } from './roles.ts';

const THINGS: Record<Thing, string> = {
	source: 'source',
	framing: 'framing',
	scene: 'scene',
	background: 'background',
	draft: 'change',
	person: 'person',
	overlay: 'overlay',
	patch: 'patch',
	channel: 'channel',
	snapshot: 'snapshot',
	destination: 'destination',
	clip: 'clip',
	cue: 'line of the run sheet',
	due: 'plan',
	account: 'account',
	session: 'session',
	link: 'link',
	guest: 'guest',
	seat: 'seat',
	song: 'song',
	macro: 'macro',
	panel: 'panel',
	message: 'message',
	webhook: 'webhook',
	token: 'token',
	surface: 'control surface',
	organisation: 'organisation',
	host: 'host',
	node: 'node',
	field: 'field',
	template: 'template',
};
const MANY: Record<Thing, string> = {
	source: 'sources',
	framing: 'framings',
	scene: 'scenes',
	background: 'backgrounds',
	draft: 'changes',
	person: 'people',
	overlay: 'overlays',
	patch: 'patches',
	channel: 'channels',
	snapshot: 'snapshots',
	destination: 'destinations',
	clip: 'clips',
	cue: 'lines of the run sheet',
	due: 'plans',
	account: 'accounts',
	session: 'sessions',
	link: 'links',
	guest: 'guests',
	seat: 'seats',
	song: 'songs',
	macro: 'macros',
	panel: 'panels',
	message: 'messages',
	webhook: 'webhooks',
	token: 'tokens',
	surface: 'control surfaces',
	organisation: 'organisations',
	host: 'hosts',
	node: 'nodes',
	field: 'fields',
	template: 'templates',
};
const PASSWORDS: Record<Refusals['password']['problem'], (least: number, most: number) => string> = {
	short: (least) => `A password has ${least} letters at least. Three or four words are easy to remember.`,
	long: (_, most) => `A password has ${most} letters at most.`,
	easy: () => 'This password is easy to guess. Take some words that have nothing to do with each other.',
};
const LINKS: Record<Refusals['linkGone']['why'], string> = {
	unknown: 'This link is not complete, or was never made here. Ask for it again, and copy all of it.',
	used: 'This link has been used. Ask for another one.',
	expired: 'The time of this link is over. Ask for another one.',
	revoked: 'This link was taken back. Ask for another one.',
};
const PASSKEYS: Record<Refusals['passkey']['problem'], string> = {
	tooMany: 'You have as many passkeys as can be kept. Remove one first.',
	notTaken: 'The passkey did not fit. Try again.',
	known: 'This device has a passkey here already.',
	unknown: 'This passkey belongs to nobody here.',
	needsName: 'Browsers keep passkeys for names only. Open Bivvo by a name instead of an address of numbers.',
};
const NOT_NOW: Record<Refusals['whileOnAir']['what'], string> = {
	details: 'The event is on air. Tell the host before or after.',
	test: 'The event is on air. Test before or after.',
	line: 'The broadcast needs all of the line. Measure it before or after.',
	delete: 'The event is on air. End the broadcast first.',
};
const NOT_FOUND: Record<Refusals['notFound']['what'], string> = {
	destination: 'There is no such destination.',
	recording: 'There is no such recording, or its file is gone.',
	file: 'There is no such file.',
	source: 'There is no such camera at this event.',
};

/** Why a text is no address, and what to do. */
const ADDRESSES: Record<AddressProblem, string> = {
	empty: 'The server address is empty. Copy it from the host’s page.',
	scheme: 'The server address must begin with rtmp:// or rtmps://. Copy it again from the host’s page.',
	unreadable: 'The server address cannot be read. It should look like rtmp://host.example/live.',
	noPath: 'The server address has no path after the host, such as /live. Copy all of it from the host’s page.',
	notFound: 'There is no address that begins with rtmp:// or rtmps:// in this text.',
};

export function addressWords(problem: AddressProblem): string {
	return ADDRESSES[problem];
}

/** What a field of the show must be, by the code of its schema. */
const FIELDS: Partial<Record<string, string>> = {
	nameEmpty: 'A name cannot be empty.',
	nameLong: 'A name can have 120 characters at most.',
	idForm: 'An id has letters, digits, - and _ only.',
	passphraseShort: 'A passphrase has 10 characters at least.',
	startForm: 'The start is a date and a time.',
	fieldName: 'The name of a field has no curly brackets.',
	textLong: 'A text can have 600 characters at most.',
	colourForm: 'A colour is # and six hexadecimal digits.',
	notFinite: 'A number must be finite.',
	cropOutside: 'A crop lies within its picture.',
	layersMany: 'A scene has 24 layers at most.',
	cardLinesMany: 'A card has six lines at most.',
	slug: 'The address of the page has small letters, figures and dashes, three at least.',
	placesNone: 'Choose a place at the host.',
	accountForm: 'The address of the account begins with https:// and has no spaces.',
	descriptionLong: 'A description can have 2000 characters at most.',
	pictureForm: 'The picture is 1280 × 720 or 1920 × 1080 at 25, 30, 50 or 60 frames per second.',
	commandNameless: 'The command has no name.',
};

/** What is wrong with a field; what no schema of the show has found says it itself. */
export function fieldWords(problem: string): string {
	return FIELDS[problem] ?? problem;
}

const SENTENCES: { [C in RefusalCode]: (about: Refusals[C]) => string } = {
	gone: ({ what }) => `This ${THINGS[what]} is no longer there.`,
	exists: ({ what }) => `This ${THINGS[what]} is there already.`,
	tooMany: ({ what, most }) => `${most} ${MANY[what]} are the most. Remove one first.`,
	sourceMissing: ({ what }) => `A source of this ${THINGS[what]} is no longer there.`,
	locked: ({ name, to }) => `${name} is locked. Unlock it to ${to} it.`,
	onAir: ({ name }) => `${name} is on air. Take another scene first.`,
	pictureFixed: () => 'The picture size cannot change while on air. End the broadcast first.',
	otherKind: ({ name }) => `${name} cannot become another kind of source.`,
	nextEmpty: () => 'Nothing is in Next. Put a scene there first.',
	previousEmpty: () => 'Nothing was on air before.',
	nothingToCallBack: () => 'Nothing is under way that could be called back.',
	calledBackGone: () => 'What was on air before is no longer there.',
	leverHalfWay: () => 'The hand lever is half way. Bring it to either end first.',
	alreadyOnAir: () => 'The event is on air already.',
	notOnAir: () => 'The event is not on air.',
	sheetOver: () => 'Nothing comes after this line of the run sheet. Choose a line to go on with.',
	sheetAtStart: () => 'Nothing was done before this line of the run sheet.',
	hookAddress: () => 'A webhook cannot lead to this address.',
	order: () => 'This action wants something else. GET …/actions tells what each is about.',
	wordsOver: () => 'No more words come after this.',
	wordsAtStart: () => 'This is the first line.',
	sheetLocked: () => 'The run sheet is locked while on air. Unlock it to change it.',
	markerOffAir: () => 'A marker belongs to a recording. Go on air first.',
	invalid: ({ problem }) => `This change cannot be made: ${fieldWords(problem)}`,
	forbidden: ({ who }) =>
		who.length === 0 ? 'Nobody may do this here.' : `Only ${roleList(who)} may do this. Ask them, or the owner.`,
	signInFirst: () => 'Sign in first.',
	wrongLogin: () => 'This name, password or code is wrong.',
	needsCode: () => 'Now the code of your authenticator.',
	codeWrong: () => 'This code is wrong, or its time is over.',
	tooOften: ({ seconds }) => `Too many tries. Wait ${seconds} s.`,
	password: ({ problem, least, most }) => PASSWORDS[problem](least, most),
	loginTaken: ({ login }) => `Somebody signs in as ${login} already. Choose another name.`,
	lastOwner: () => 'Somebody must own this Bivvo. Make another person an owner first.',
	linkGone: ({ why }) => LINKS[why],
	passkey: ({ problem }) => PASSKEYS[problem],
	tooLarge: ({ bytes, most }) =>
		`This change is too large to be sent (${kilobytes(bytes)} kB; ${kilobytes(most)} kB is the most). Make it in smaller steps.`,
	newerVersion: () => 'A later version of Bivvo has stored this event. Open it with that version.',
	body: ({ problem, field }) =>
		FIELDS[problem] ??
		`${field === '' ? 'What was sent' : `What was sent as “${field}”`} is not understood. ${problem}.`,
	elsewhere: () => 'Another part of Bivvo takes this event over. Try again in a moment.',
	noEvent: () => 'There is no such event.',
	address: ({ problem }) => ADDRESSES[problem],
	hostAddress: ({ problem }) => `The host gave an address that cannot be used. ${ADDRESSES[problem]}`,
	noAccount: ({ name }) => `${name} has no account that could be told.`,
	placeGone: () => 'The account has no such place any more.',
	whileOnAir: ({ what }) => NOT_NOW[what],
	bundle: ({ why }) =>
		why === 'none'
			? 'This file was not exported by Bivvo.'
			: 'The file is torn, or somebody has changed it. Nothing was taken in. Export it again.',
	noOrganisation: () =>
		'The organisation could not be made: the user of the database may not make another database. The log says more.',
	diskFull: () => 'The disk of the server has no room for this file. Delete recordings or clips first.',
	passphrase: () => 'The passphrase is another one. Nothing was taken in.',
	noLineTest: () =>
		'No test endpoint is set. Start Bivvo with BIVVO_LINE_TEST, the address that your host gives for tests.',
	folderUnusable: ({ folder, why }) =>
		why === 'path'
			? `“${folder}” is no whole path of a folder. It begins with / and names a folder, such as /media/disk/recordings.`
			: `The server cannot write to ${folder}. Is the disk there, and may the server’s user write to it?`,
	slugTaken: ({ slug }) => `Another page has the address …/watch/${slug}. Choose another one.`,
	passwordMissing: () => 'A page that asks for a password needs one. Type it.',
	notFound: ({ what }) => NOT_FOUND[what],
	host: ({ problem }) => problem,
	fault: () => 'Something went wrong on the server. Nothing was lost; try again.',
};

function kilobytes(bytes: number): number {
	return Math.ceil(bytes / 1024);
}

/** What a person is told of a refusal. */
export function refusalWords({ code, about }: RefusalMessage): string {
	return (SENTENCES[code] as (about: unknown) => string)(about);
}

/**
 * Which role may do what: each command, message and route has its roles here. What has no entry does not compile, or is
 * refused.
 */
import { partsOf, type Command } from '../show/command.ts';
import type { PageMessage } from '../show/messages.ts';
import { GUEST, roleAnywhere, roleOf, type Actor, type AnyRole } from './roles.ts';

/** Roles that may do something. */
export type Rule = readonly AnyRole[];

const NOBODY: Rule = [];
const OWNERS: Rule = ['owner'];
const DIRECTORS: Rule = ['owner', 'director'];
const SOUND: Rule = ['owner', 'director', 'sound'];
const WORDS: Rule = ['owner', 'director', 'words'];
const CREW: Rule = ['owner', 'director', 'sound', 'words'];
const GUESTS: Rule = [GUEST];
const LOOKERS: Rule = ['owner', 'director', 'sound', 'words', 'viewer'];

/** A batch may be sent by who may send each of its parts. */
export type SingleType = Exclude<Command['type'], 'batch'>;

export const COMMAND_RULES: { readonly [T in SingleType]: Rule } = {
	renameEvent: DIRECTORS,
	setPicture: DIRECTORS,
	setStart: DIRECTORS,
	setLook: DIRECTORS,
	setOverAt: DIRECTORS,
	addField: DIRECTORS,
	changeField: WORDS,
	removeField: DIRECTORS,
	setHostTexts: DIRECTORS,
	confirmCarried: WORDS,
	setCarried: WORDS,
	addSource: DIRECTORS,
	removeSource: DIRECTORS,
	renameSource: DIRECTORS,
	changeSource: DIRECTORS,
	addFraming: DIRECTORS,
	changeFraming: DIRECTORS,
	removeFraming: DIRECTORS,
	addScene: DIRECTORS,
	changeScene: DIRECTORS,
	removeScene: DIRECTORS,
	moveScene: DIRECTORS,
	keepDraft: DIRECTORS,
	dropDraft: DIRECTORS,
	setBackground: DIRECTORS,
	addPerson: WORDS,
	changePerson: WORDS,
	removePerson: WORDS,
	movePerson: WORDS,
	addOverlay: DIRECTORS,
	changeOverlay: DIRECTORS,
	removeOverlay: DIRECTORS,
	moveOverlay: DIRECTORS,
	showOverlay: WORDS,
	hideOverlay: WORDS,
	addPatch: DIRECTORS,
	changePatch: DIRECTORS,
	removePatch: DIRECTORS,
	playClip: DIRECTORS,
	pauseClip: DIRECTORS,
	seekClip: DIRECTORS,
	rewindClip: DIRECTORS,
	setNext: DIRECTORS,
	take: DIRECTORS,
	takeBack: DIRECTORS,
	callBack: DIRECTORS,
	setLever: DIRECTORS,
	setBlack: DIRECTORS,
	setTransition: DIRECTORS,
	setDirect: DIRECTORS,
	fillBuses: DIRECTORS,
	addChannel: SOUND,
	changeChannel: SOUND,
	removeChannel: SOUND,
	setFader: SOUND,
	setMute: SOUND,
	pressChannel: SOUND,
	setGroupFader: SOUND,
	setGroupMute: SOUND,
	setDucking: SOUND,
	setMaster: SOUND,
	storeSnapshot: SOUND,
	removeSnapshot: SOUND,
	recallSnapshot: SOUND,
	// Whoever hears that something goes out that must not may end that.
	setHush: CREW,
	removeDestination: DIRECTORS,
	returnDestination: DIRECTORS,
	tickDestination: DIRECTORS,
	setDelivery: DIRECTORS,
	startBroadcast: DIRECTORS,
	endBroadcast: DIRECTORS,
	planEnd: DIRECTORS,
	addMarker: CREW,
	postToViewers: WORDS,
	hideMessage: WORDS,
	addCue: DIRECTORS,
	changeCue: DIRECTORS,
	removeCue: DIRECTORS,
	moveCue: DIRECTORS,
	replaceCues: DIRECTORS,
	unlockSheet: DIRECTORS,
	go: DIRECTORS,
	goBack: DIRECTORS,
	chooseCue: DIRECTORS,
	holdCue: DIRECTORS,
	resetSheet: DIRECTORS,
	followOn: DIRECTORS,
	placeGuest: DIRECTORS,
	placeScreen: DIRECTORS,
	changeGuest: DIRECTORS,
	countIn: DIRECTORS,
	setGuestScene: DIRECTORS,
	removeGuest: DIRECTORS,
	addWords: WORDS,
	changeWords: WORDS,
	removeWords: WORDS,
	moveWords: WORDS,
	setWordsLook: WORDS,
	nextLine: WORDS,
	previousLine: WORDS,
	showWords: WORDS,
	setHall: WORDS,
	clearWords: WORDS,
	addMacro: DIRECTORS,
	changeMacro: DIRECTORS,
	removeMacro: DIRECTORS,
	moveMacro: DIRECTORS,
	// What it does is asked for as well, when it is run (orders.ts).
	runMacro: CREW,
	stopMacro: CREW,
	macroOn: DIRECTORS,
	addPanel: DIRECTORS,
	changePanel: DIRECTORS,
	removePanel: DIRECTORS,
	movePanel: DIRECTORS,
	putSurface: SOUND,
	removeSurface: SOUND,
	sendCrew: LOOKERS,
	seeCrew: LOOKERS,
	setPrepared: CREW,
	// The server's own.
	addDestination: NOBODY,
	changeDestination: NOBODY,
	addLine: NOBODY,
	fallDue: NOBODY,
	guestArrived: NOBODY,
	guestLeft: NOBODY,
};

/** What a command itself needs is asked when it is submitted. */
export const MESSAGE_RULES: { readonly [T in PageMessage['type']]: Rule } = {
	// Each command has its own rule.
	command: LOOKERS,
	fell: DIRECTORS,
	wantEngine: DIRECTORS,
	report: DIRECTORS,
	sound: DIRECTORS,
	loudness: DIRECTORS,
	retry: DIRECTORS,
	makePublic: DIRECTORS,
	guestSignal: DIRECTORS,
	hear: LOOKERS,
	hearSignal: LOOKERS,
	guestSay: DIRECTORS,
	look: DIRECTORS,
	station: LOOKERS,
	measured: SOUND,
	wantCheck: DIRECTORS,
};

/**
 * Sockets of an event: that of its pages, which tells all of the show, that on which the program comes, and that of a guest,
 * which tells of nobody else.
 */
export const SOCKET_RULES = {
	live: LOOKERS,
	uplink: DIRECTORS,
	view: DIRECTORS,
	watch: LOOKERS,
	guest: GUESTS,
	camera: DIRECTORS,
} as const satisfies Record<string, Rule>;

export const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS'] as const;
export type Method = (typeof METHODS)[number];

/** `anybody` also without a session: what shows nothing of the organisation. */
type RouteRule = Rule | 'anybody';

/** By the route's folder and method; a test holds it against the folders. HEAD is allowed where GET is. */
export const ROUTE_RULES: Readonly<Record<string, Partial<Record<Method, RouteRule>>>> = {
	'/': { GET: LOOKERS },
	'/api/templates': { GET: DIRECTORS, POST: DIRECTORS },
	'/api/templates/[template]': { PUT: DIRECTORS, DELETE: DIRECTORS },
	'/api/events': { POST: DIRECTORS },
	'/api/organisations': { POST: OWNERS },
	'/api/nodes': { GET: OWNERS },
	'/api/nodes/[node]': { PUT: OWNERS },
	'/api/export': { POST: OWNERS },
	'/api/export/[bundle]': { GET: OWNERS },
	'/api/import': { POST: OWNERS },
	'/api/import/[bundle]': { POST: OWNERS, DELETE: OWNERS },
	'/api/events/[id]': { PATCH: DIRECTORS },
	'/api/events/[id]/uplink': { POST: DIRECTORS },
	'/api/events/[id]/template': { GET: DIRECTORS, PUT: DIRECTORS },
	'/health': { GET: 'anybody' },
	'/refused': { GET: 'anybody' },
	'/sign-in': { GET: 'anybody' },
	'/set-up': { GET: 'anybody' },
	'/join': { GET: 'anybody' },
	'/pair': { GET: 'anybody' },
	'/link': { GET: 'anybody' },
	'/me': { GET: LOOKERS },
	'/guide/[page]': { GET: 'anybody' },
	'/certificate': { GET: LOOKERS },
	'/people': { GET: OWNERS },
	'/audit': { GET: OWNERS },
	'/nodes': { GET: OWNERS },
	'/media': { GET: DIRECTORS },
	'/songs': { GET: WORDS },
	'/events/[id]': { GET: DIRECTORS },
	'/events/[id]/prepare': { GET: DIRECTORS },
	'/events/[id]/check': { GET: DIRECTORS },
	'/events/[id]/mix': { GET: SOUND },
	'/events/[id]/sheet': { GET: LOOKERS },
	'/events/[id]/words': { GET: WORDS },
	'/events/[id]/hall': { GET: LOOKERS },
	'/events/[id]/stage': { GET: LOOKERS },
	'/events/[id]/tally': { GET: LOOKERS },
	'/events/[id]/panel/[panel]': { GET: LOOKERS },
	'/events/[id]/panels': { GET: DIRECTORS },
	'/events/[id]/surface': { GET: DIRECTORS },
	'/events/[id]/guest/[guest]': { GET: GUESTS },
	'/api/events/[id]/guest/[guest]/line': { POST: GUESTS },
	'/api/events/[id]/guest/[guest]/recording/[...upload]': {
		POST: GUESTS,
		PATCH: GUESTS,
		HEAD: GUESTS,
		OPTIONS: GUESTS,
	},
	'/events/[id]/recordings': { GET: DIRECTORS },
	'/events/[id]/report': { GET: DIRECTORS },
	'/events/[id]/report/[broadcast]': { GET: DIRECTORS },
	'/events/[id]/rehearsal/[destination]': { GET: DIRECTORS },
	'/api/access/set-up': { POST: 'anybody' },
	'/api/access/sign-in': { POST: 'anybody' },
	'/api/access/sign-out': { POST: 'anybody' },
	'/api/access/join': { POST: 'anybody', PUT: 'anybody' },
	'/api/access/pair': { POST: 'anybody' },
	'/api/access/link': { POST: 'anybody' },
	'/api/access/link/look': { POST: 'anybody' },
	'/api/access/passkeys/ask': { POST: 'anybody' },
	'/api/access/passkeys/sign-in': { POST: 'anybody' },
	// Of one's own account.
	'/api/access/passkeys': { POST: LOOKERS },
	'/api/access/passkeys/propose': { POST: LOOKERS },
	'/api/access/passkeys/[passkey]': { DELETE: LOOKERS },
	'/api/access/password': { PUT: LOOKERS },
	'/api/access/second-factor': { POST: LOOKERS, PUT: LOOKERS, DELETE: LOOKERS },
	'/api/access/sessions/[session]': { DELETE: LOOKERS },
	'/api/access/settings': { PUT: OWNERS },
	'/api/access/invitations': { POST: OWNERS },
	'/api/access/invitations/[invitation]': { DELETE: OWNERS },
	'/api/access/people/[person]': { PATCH: OWNERS },
	'/api/access/pairings': { POST: DIRECTORS },
	'/api/access/pairings/[code]': { GET: DIRECTORS, DELETE: DIRECTORS },
	'/api/access/devices/[device]': { DELETE: OWNERS },
	'/api/events/[id]/links': { GET: DIRECTORS, POST: DIRECTORS },
	'/api/events/[id]/links/[link]': { POST: DIRECTORS, DELETE: DIRECTORS },
	'/api/accounts': { POST: DIRECTORS },
	'/api/destinations': { GET: DIRECTORS },
	'/api/hosts': { GET: DIRECTORS, POST: DIRECTORS },
	'/api/hosts/[host]': { GET: DIRECTORS, POST: DIRECTORS, DELETE: DIRECTORS },
	'/api/hosts/[host]/places': { GET: DIRECTORS },
	'/hosts/back': { GET: DIRECTORS },
	'/api/events/[id]/destinations/signed': { POST: DIRECTORS },
	'/api/events/[id]/destinations/watch': { PUT: DIRECTORS },
	'/watch/[slug]': { GET: 'anybody' },
	'/api/destinations/[destination]': { DELETE: DIRECTORS },
	'/api/events/[id]/destinations': { PUT: DIRECTORS, POST: DIRECTORS },
	'/api/events/[id]/destinations/connect': { POST: DIRECTORS },
	'/api/events/[id]/destinations/[destination]/details': { PUT: DIRECTORS },
	'/api/events/[id]/destinations/[destination]/reveal': { POST: OWNERS },
	'/api/events/[id]/destinations/[destination]/test': { POST: DIRECTORS },
	'/api/events/[id]/line': { POST: DIRECTORS },
	'/api/events/[id]/cameras/[camera]': { GET: DIRECTORS, POST: DIRECTORS },
	'/api/events/[id]/cameras/[camera]/stand-in': { POST: DIRECTORS, DELETE: DIRECTORS },
	'/api/events/[id]/files': { POST: DIRECTORS },
	'/api/events/[id]/files/[file]': { GET: DIRECTORS },
	'/api/events/[id]/recordings/[recording]': { GET: DIRECTORS, PATCH: DIRECTORS },
	'/api/events/[id]/recordings/[recording]/chapters': { GET: DIRECTORS },
	'/api/events/[id]/recordings/[recording]/exact': { POST: DIRECTORS },
	'/api/events/[id]/recordings/[recording]/excerpt': { POST: DIRECTORS },
	'/api/events/[id]/recordings/[recording]/log': { GET: DIRECTORS },
	'/api/events/[id]/recordings/[recording]/for-clips': { GET: DIRECTORS },
	'/api/events/[id]/recordings/[recording]/sound': { GET: DIRECTORS },
	'/api/events/[id]/rehearsal/[destination]': { GET: DIRECTORS },
	'/api/events/[id]/rehearsal/[destination]/[file]': { GET: DIRECTORS },
	'/api/access/tokens': { GET: OWNERS, POST: OWNERS },
	'/api/access/tokens/[token]': { DELETE: OWNERS },
	'/api/v1/openapi.json': { GET: LOOKERS },
	'/api/v1/events': { GET: LOOKERS },
	'/api/v1/events/[id]': { GET: LOOKERS },
	'/api/v1/events/[id]/changes': { GET: LOOKERS },
	'/api/v1/events/[id]/actions': { GET: LOOKERS },
	// What an action comes to has rules of its own.
	'/api/v1/events/[id]/actions/[action]': { POST: LOOKERS },
	'/api/v1/events/[id]/webhooks': { GET: DIRECTORS, POST: DIRECTORS },
	'/api/v1/events/[id]/webhooks/[webhook]': { DELETE: DIRECTORS },
	'/api/songs': { GET: WORDS, POST: WORDS },
	'/api/songs/all': { GET: WORDS },
	'/api/songs/[song]': { GET: WORDS, PUT: WORDS, DELETE: WORDS },
	'/api/media': { GET: DIRECTORS },
	'/api/media/[media]': { PATCH: DIRECTORS },
	'/api/media/[media]/[picture=mediaPicture]': { GET: DIRECTORS, PUT: DIRECTORS },
	'/api/media/[media]/file': { GET: DIRECTORS },
	'/api/media/upload/[...upload]': {
		POST: DIRECTORS,
		PATCH: DIRECTORS,
		HEAD: DIRECTORS,
		DELETE: DIRECTORS,
		OPTIONS: DIRECTORS,
	},
};

/** What changes the organisation itself: a role at single events does not count there. */
const OF_ORGANISATION: Readonly<Record<string, readonly Method[]>> = {
	'/api/events': ['POST'],
	'/api/templates': ['GET', 'POST'],
	'/api/templates/[template]': ['PUT', 'DELETE'],
	'/api/destinations/[destination]': ['DELETE'],
	'/api/hosts': ['POST'],
	'/api/hosts/[host]': ['POST', 'DELETE'],
	'/api/songs/[song]': ['DELETE'],
};

/**
 * The role that counts for a route.
 * @param eventId of a route of one event; null for every other
 */
export function roleFor(actor: Actor, route: string, method: string, eventId: string | null): AnyRole | null {
	if (eventId !== null) return roleOf(actor, eventId);
	return OF_ORGANISATION[route]?.includes(method as Method) ? actor.role : roleAnywhere(actor);
}

/** The first part of a command that a role may not do; null when it may do all of it. */
export function forbiddenPart(role: AnyRole | null, command: Command): SingleType | null {
	for (const { type } of partsOf(command))
		if (type !== 'batch' && !(role !== null && COMMAND_RULES[type].includes(role))) return type;
	return null;
}

export function mayMessage(role: AnyRole | null, type: PageMessage['type']): boolean {
	return role !== null && MESSAGE_RULES[type].includes(role);
}

/** Whether a role may use a route, by its folder; what the table does not have nobody may. */
export function mayUse(role: AnyRole | null, route: string, method: string): boolean {
	const rules = Object.hasOwn(ROUTE_RULES, route) ? ROUTE_RULES[route]! : {};
	const asked = method as Method;
	const rule = rules[asked] ?? (asked === 'HEAD' ? rules.GET : undefined);
	return rule === 'anybody' || (rule !== undefined && role !== null && rule.includes(role));
}

/** Who may do something that a role may not: what a refusal says. */
export function whoMay(rule: Rule): Rule {
	return rule.filter((role) => role !== 'owner' || rule.length === 1);
}

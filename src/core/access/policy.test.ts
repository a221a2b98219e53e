import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { commandSchema, serverCommands, singleCommandSchema, type Command } from '../show/command.ts';
import { pageMessageSchema } from '../show/messages.ts';
import {
	COMMAND_RULES,
	forbiddenPart,
	mayMessage,
	mayUse,
	MESSAGE_RULES,
	METHODS,
	roleFor,
	ROUTE_RULES,
	SOCKET_RULES,
} from './policy.ts';
import { AT_THE_MACHINE, GUEST, roleOf, ROLES, type Actor, type AnyRole } from './roles.ts';

const EVERYBODY: (AnyRole | null)[] = [...ROLES, GUEST, null];
const typesOf = (schema: { options: readonly { entries: { type: { literal: string } } }[] }) =>
	schema.options.map(({ entries }) => entries.type.literal);
const pageTypes = typesOf(singleCommandSchema as never);

/** What each role may do, said the other way round than in the table. */
const MIX =
	'addChannel changeChannel removeChannel setFader setMute pressChannel setGroupFader setGroupMute setDucking setMaster storeSnapshot removeSnapshot recallSnapshot';
const WORDS =
	'changeField confirmCarried setCarried addPerson changePerson removePerson movePerson showOverlay hideOverlay hideMessage postToViewers addWords changeWords removeWords moveWords setWordsLook nextLine previousLine showWords setHall clearWords';
const CREW = 'setHush addMarker runMacro stopMacro sendCrew seeCrew setPrepared';
const MAY: Record<AnyRole, readonly string[]> = {
	owner: pageTypes,
	director: pageTypes,
	sound: `${MIX} putSurface removeSurface ${CREW}`.split(' '),
	words: `${WORDS} ${CREW}`.split(' '),
	viewer: ['sendCrew', 'seeCrew'],
	guest: [],
};

describe('commands', () => {
	it('have their roles, each of them', () => {
		expect(Object.keys(COMMAND_RULES).sort()).toEqual([...pageTypes, ...Object.keys(serverCommands)].sort());
		expect(typesOf(commandSchema as never)).toHaveLength(Object.keys(COMMAND_RULES).length + 1);
	});

	it.each(EVERYBODY.map((role) => [role]))('may be done by %s exactly as said', (role) => {
		for (const type of Object.keys(COMMAND_RULES)) {
			const isAllowed = forbiddenPart(role, { type } as Command) === null;
			expect(isAllowed, type).toBe(role !== null && MAY[role].includes(type));
		}
	});

	it('are refused in a batch for the first part that is not allowed', () => {
		const batch = { type: 'batch', commands: [{ type: 'setHush', hushed: true }, { type: 'take' }] } as Command;
		expect(forbiddenPart('sound', batch)).toBe('take');
		expect(forbiddenPart('director', batch)).toBeNull();
		expect(forbiddenPart('viewer', batch)).toBe('setHush');
	});
});

describe('messages', () => {
	it('have their roles, each of them; a command’s own are asked for besides', () => {
		expect(Object.keys(MESSAGE_RULES).sort()).toEqual(typesOf(pageMessageSchema as never).sort());
		for (const role of EVERYBODY)
			for (const type of Object.keys(MESSAGE_RULES) as (keyof typeof MESSAGE_RULES)[]) {
				const isLooker = role === 'sound' || role === 'words' || role === 'viewer';
				const isAllowed =
					role === 'owner' ||
					role === 'director' ||
					(isLooker && ['command', 'hear', 'hearSignal', 'station'].includes(type)) ||
					(role === 'sound' && type === 'measured');
				expect(mayMessage(role, type), `${role} ${type}`).toBe(isAllowed);
			}
	});
});

it('sockets are for who may look, and the uplink for who may direct', () => {
	const who = (rule: readonly AnyRole[]) => EVERYBODY.filter((role) => role !== null && rule.includes(role));
	expect(who(SOCKET_RULES.live)).toEqual(['owner', 'director', 'sound', 'words', 'viewer']);
	expect(who(SOCKET_RULES.uplink)).toEqual(['owner', 'director']);
	expect(who(SOCKET_RULES.view)).toEqual(['owner', 'director']);
	expect(who(SOCKET_RULES.watch)).not.toContain('guest');
	expect(who(SOCKET_RULES.guest)).toEqual([GUEST]);
});

describe('routes', () => {
	const folder = path.resolve('src/routes');
	const files = readdirSync(folder, { recursive: true, encoding: 'utf8' });
	/** What the folders have: pages are got, servers export their methods. */
	const there = new Map<string, Set<string>>();
	for (const file of files.filter((name) => /\+(server|page\.server|page)\.(ts|svelte)$/.test(name))) {
		const route = `/${path.dirname(file)}`.replace('/.', '/');
		const code = readFileSync(path.join(folder, file), 'utf8');
		const methods = /\+server\.ts$/.test(file)
			? [...code.matchAll(/export const ([A-Z]+)\b/g)].map(([, method]) => method!)
			: ['GET', ...(code.includes('export const actions') ? ['POST'] : [])];
		there.set(route, new Set([...(there.get(route) ?? []), ...methods]));
	}

	it('have their roles, each method of each folder', () => {
		const said = Object.entries(ROUTE_RULES).map(([route, rules]) => [route, Object.keys(rules).sort()]);
		expect(Object.fromEntries(said)).toEqual(
			Object.fromEntries([...there].map(([route, methods]) => [route, [...methods].sort()])),
		);
	});

	/** Open to all who come; and to all who are in: their own account, what a device asks. */
	const DOORS =
		/^\/(health|refused|sign-in|set-up|join|pair|link|guide\/\[page\]|watch\/\[slug\])$|^\/api\/access\/(set-up|sign-in|sign-out|join|pair|link|link\/look|passkeys\/ask|passkeys\/sign-in)$/;
	const OWN =
		/^\/(me|certificate)$|^\/api\/access\/(password|second-factor|sessions\/\[session\]|passkeys(\/propose|\/\[passkey\])?)$/;
	const GUESTS_ONLY = /\/guest\/\[guest\]/;
	const OWNERS_ONLY =
		/^\/(people|audit|nodes)$|^\/api\/access\/(settings|invitations|people|devices|tokens)\b|\/reveal$|^\/api\/(export|import|organisations|nodes)\b/;

	it('are used by each role exactly as said', () => {
		const looking = [
			'GET /',
			...['sheet', 'hall', 'stage', 'tally', 'panel/[panel]'].map((page) => `GET /events/[id]/${page}`),
			...['openapi.json', 'events', 'events/[id]', 'events/[id]/changes', 'events/[id]/actions'].map(
				(path) => `GET /api/v1/${path}`,
			),
			'POST /api/v1/events/[id]/actions/[action]',
		];
		const singing = ['GET /songs', 'GET /events/[id]/words', 'GET /api/songs', 'POST /api/songs', 'GET /api/songs/all'];
		const song = ['GET', 'PUT', 'DELETE'].map((method) => `${method} /api/songs/[song]`);
		const others: Partial<Record<AnyRole, string[]>> = {
			sound: [...looking, 'GET /events/[id]/mix'],
			words: [...looking, ...singing, ...song],
			viewer: looking,
		};
		const isAllowed = (role: AnyRole | null, method: string, route: string) => {
			if (DOORS.test(route)) return true;
			if (GUESTS_ONLY.test(route)) return role === GUEST;
			if (role === 'owner') return true;
			if (role === null || role === GUEST) return false;
			if (OWN.test(route)) return true;
			if (role === 'director') return !OWNERS_ONLY.test(route);
			return others[role]?.includes(`${method} ${route}`) === true;
		};
		for (const role of EVERYBODY)
			for (const [route, methods] of there)
				for (const method of METHODS.filter((each) => each !== 'HEAD' || methods.has(each)))
					expect(mayUse(role, route, method), `${role}: ${method} ${route}`).toBe(
						methods.has(method) && isAllowed(role, method, route),
					);
	});

	it('that nobody has named are used by nobody', () => {
		for (const route of ['/secrets', '__proto__', 'constructor', '']) expect(mayUse('owner', route, 'GET')).toBe(false);
		expect(mayUse('owner', '/media', 'TRACE')).toBe(false);
		expect(mayUse('owner', '/media', 'HEAD')).toBe(true);
	});
});

describe('a role', () => {
	const actor: Actor = { kind: 'person', id: 'p', name: 'P', role: 'viewer', roleAt: { lantern: 'sound' } };

	it('at an event counts there, and that of the organisation elsewhere', () => {
		expect(roleOf(actor, 'lantern')).toBe('sound');
		expect(roleOf(actor, 'market')).toBe('viewer');
		expect(roleOf(actor, null)).toBe('viewer');
		expect(roleOf({ ...actor, role: null }, 'market')).toBeNull();
		expect(roleOf({ ...actor, role: null }, 'constructor')).toBeNull();
		expect(roleOf(AT_THE_MACHINE, 'market')).toBe('owner');
	});

	it('at an event opens what events share, and nothing of the organisation itself', () => {
		const there: Actor = { ...actor, role: null, roleAt: { lantern: 'owner', market: 'viewer' } };
		const may = (route: string, method: string, eventId: string | null = null) =>
			mayUse(roleFor(there, route, method, eventId), route, method);
		expect(may('/', 'GET')).toBe(true);
		expect(may('/media', 'GET')).toBe(true);
		expect(may('/events/[id]', 'GET', 'lantern')).toBe(true);
		expect(may('/events/[id]', 'GET', 'market')).toBe(false);
		expect(may('/events/[id]', 'GET', 'other')).toBe(false);
		for (const [route, method] of [
			['/api/events', 'POST'],
			['/api/templates', 'POST'],
			['/api/templates/[template]', 'PUT'],
			['/api/export', 'POST'],
			['/api/import', 'POST'],
			['/api/organisations', 'POST'],
			['/people', 'GET'],
			['/audit', 'GET'],
			['/api/access/invitations', 'POST'],
			['/api/access/settings', 'PUT'],
			['/api/destinations/[destination]', 'DELETE'],
			['/api/songs/[song]', 'DELETE'],
		] as const)
			expect(may(route, method), `${method} ${route}`).toBe(false);
		expect(mayUse(roleFor(AT_THE_MACHINE, '/people', 'GET', null), '/people', 'GET')).toBe(true);
	});
});

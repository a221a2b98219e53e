/** Sessions over days, by a clock that is moved; and what is in the database of them. */
import { EventEmitter } from 'node:events';
import { afterAll, afterEach, beforeAll, beforeEach, expect, inject, it, vi } from 'vitest';
import { eq } from 'drizzle-orm';
import { sessions } from '../../src/server/db/schema.ts';
import { Sessions } from '../../src/server/access/sessions.ts';
import { hashOf } from '../../src/server/access/tokens.ts';
import { News } from '../../src/server/nodes/news.ts';
import { openApp, testFolder } from '../support/app.ts';

const DAY_MS = 86_400_000;
const FROM = { address: '192.168.3.9', agent: 'A tablet' };
let folder: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let kept: Sessions;

beforeAll(async () => {
	folder = await testFolder();
	running = await openApp(inject('databaseUrl'), folder.folder);
});
afterAll(async () => {
	await running.close();
	await folder.remove();
});
beforeEach(async () => {
	vi.useFakeTimers({ toFake: ['Date'] });
	kept = await Sessions.open(running.app.db);
});
afterEach(() => void vi.useRealTimers());
const later = (ms: number) => vi.setSystemTime(Date.now() + ms);
const find = (secret: string) => kept.find(secret, FROM, true);

it('a secret is nowhere in the database, and opens its session also after a restart', async () => {
	const secret = await kept.begin('person', 'maren', FROM);
	const [row] = await running.app.db
		.select()
		.from(sessions)
		.where(eq(sessions.hash, hashOf(secret)));
	expect(JSON.stringify(row)).not.toContain(secret);
	kept = await Sessions.open(running.app.db);
	expect(find(secret)?.session).toMatchObject({ kind: 'person', subjectId: 'maren', address: FROM.address });
	expect(find(`${secret}x`)).toBeNull();
});

it('gets another secret each day; the one before is good until the new one is used, and a minute more', async () => {
	const first = await kept.begin('person', 'maren', FROM);
	expect(find(first)?.renewed).toBeNull();
	later(DAY_MS + 1);
	const second = find(first)!.renewed!;
	expect(second).toMatch(/^[\w-]{43}$/);
	// Its answer was lost: the browser goes on with what it has.
	later(3_600_000);
	expect(find(first)).toMatchObject({ renewed: null });
	expect(find(second)).not.toBeNull();
	later(59_000);
	expect(find(first)).not.toBeNull();
	later(2000);
	// Whoever shows it now has an old copy, and the session is ended for both.
	const ended: string[] = [];
	kept.onEnd((id) => ended.push(id));
	expect(find(first)).toBeNull();
	expect(find(second)).toBeNull();
	expect(ended).toHaveLength(1);
});

it('is over when nobody has used it for long, and lasts while somebody does', async () => {
	const used = await kept.begin('person', 'maren', FROM);
	const left = await kept.begin('person', 'maren', FROM);
	let secret = used;
	for (let day = 0; day < 40; day++) {
		later(DAY_MS);
		secret = find(secret)!.renewed ?? secret;
	}
	expect(find(left)).toBeNull();
	await kept.tidy();
	expect(kept.list('person', 'maren').every(({ expiresAt }) => expiresAt > Date.now())).toBe(true);
	expect(find(secret)).not.toBeNull();
});

it('all of a person but one end at once', async () => {
	const [here, there] = [await kept.begin('person', 'sam', FROM), await kept.begin('person', 'sam', FROM)];
	await kept.endAll('person', 'sam', find(here)!.session.id);
	expect(find(there)).toBeNull();
	expect(find(here)).not.toBeNull();
});

it('is known at another node before its news is there, and not any more once that has told that it is over', async () => {
	const bus = new EventEmitter();
	const news = new News(
		{
			publish: () => {},
			subscribe: (channel, listener) => {
				bus.on(channel, listener);
				return () => {};
			},
			onGap: () => {},
		},
		'',
	);
	const there = await Sessions.open(running.app.db, news);
	const secret = await kept.begin('person', 'maren', FROM);
	expect(there.find(secret, FROM, true)).toBeNull();
	await there.lookUp(secret);
	const { id } = there.find(secret, FROM, true)!.session;
	// Told first, and taken from the database after that.
	bus.emit('news  sessions', { id, gone: true });
	await there.lookUp(secret);
	expect(there.find(secret, FROM, true)).toBeNull();
	await kept.end(id);
});

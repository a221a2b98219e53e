import { describe, expect, it } from 'vitest';
import { Guard, type GuardOptions, type Knock } from './guard.ts';

const OWN = 'http://127.0.0.1:5310';
function guardOf(options: Partial<GuardOptions> = {}): Guard {
	return new Guard({ origins: [], proxies: [], names: ['vestry', 'vestry.local'], ...options });
}
function knock(part: Partial<Knock> = {}): Knock {
	const headers = { host: '127.0.0.1:5310', ...part.headers };
	const rawHeaders = Object.entries(headers).flatMap(([name, value]) => [name, String(value)]);
	const addresses = { remoteAddress: '127.0.0.1', localAddress: '127.0.0.1', localPort: 5310 };
	const plain = { method: 'GET', target: '/', ...addresses, isTls: false };
	return { ...plain, rawHeaders, ...part, headers };
}
const post = (target: string, headers: Knock['headers']) =>
	knock({ method: 'POST', target, headers: { 'content-type': 'application/json', 'content-length': '2', ...headers } });
const statusOf = (asked: Knock, guard = guardOf()) => {
	const answer = guard.check(asked);
	if ('status' in answer) expect(answer.message).toMatch(/^[A-Z].*\.$/);
	return 'status' in answer ? answer.status : 200;
};

describe('the guard', () => {
	it('takes addresses of pages, and nothing else, for a target', () => {
		for (const target of ['/', '/events/x?y=%20', '/a//b']) expect(statusOf(knock({ target })), target).toBe(200);
		for (const target of ['', '//', '//evil', '*', 'http://evil/', '/%ff', '/%', '/ü', '/\u0000', '/a b'])
			expect(statusOf(knock({ target })), target).toBe(400);
	});

	it('answers to its own names only, so that a name which leads here by a trick opens nothing', () => {
		const at = (host: string | undefined, localAddress = '127.0.0.1') =>
			statusOf(knock({ headers: { host }, localAddress, isTls: true }));
		for (const host of ['127.0.0.1:5310', 'localhost:5310', 'LOCALHOST:5310', 'vestry:5310', 'vestry.local:5310'])
			expect(at(host), host).toBe(200);
		expect(at('[::1]:5310', '::1')).toBe(200);
		expect(at('192.168.3.4:5310', '192.168.3.4')).toBe(200);
		expect(at('192.168.3.4:5310', '::ffff:192.168.3.4')).toBe(200);
		for (const host of [undefined, '', 'evil.example:5310', '127.0.0.1', '127.0.0.1:80', '192.168.3.4:5310', 'a b'])
			expect(at(host), host).toBe(421);
		// At an address of the network, this is another machine's.
		expect(at('localhost:5310', '192.168.3.4')).toBe(421);
		const twice = knock();
		expect(statusOf({ ...twice, rawHeaders: [...twice.rawHeaders, 'Host', 'evil.example'] })).toBe(400);
	});

	it('shows pages that would not be secure to nobody, for they could use no camera and no password safely', () => {
		const at = (host: string, isTls: boolean) =>
			statusOf(knock({ headers: { host }, localAddress: '192.168.3.4', isTls }));
		expect(at('192.168.3.4:5310', false)).toBe(403);
		expect(at('vestry:5310', false)).toBe(403);
		expect(at('192.168.3.4:5310', true)).toBe(200);
		expect(statusOf(knock({ headers: { host: 'localhost:5310' } }))).toBe(200);
	});

	it('answers to the origins that are set', () => {
		const guard = guardOf({ origins: ['https://bivvo.example.org'] });
		expect(guard.check(knock({ headers: { host: 'bivvo.example.org' } }))).toMatchObject({
			origin: 'https://bivvo.example.org',
		});
		for (const text of ['bivvo.example.org', 'ftp://x', 'https://x/y', 'http://bivvo.example.org', ''])
			expect(() => guardOf({ origins: [text] }), text).toThrow(/BIVVO_ORIGIN/);
	});

	it('turns away what another site has the browser do, but follows its links', () => {
		const from = (site: string, mode: string, dest: string, method = 'GET') =>
			statusOf(knock({ method, headers: { 'sec-fetch-site': site, 'sec-fetch-mode': mode, 'sec-fetch-dest': dest } }));
		for (const site of ['same-origin', 'none']) expect(from(site, 'cors', 'empty')).toBe(200);
		for (const site of ['cross-site', 'same-site']) {
			expect(from(site, 'navigate', 'document')).toBe(200);
			expect(from(site, 'navigate', 'document', 'POST')).toBe(403);
			expect(from(site, 'navigate', 'iframe')).toBe(403);
			expect(from(site, 'no-cors', 'image')).toBe(403);
			const framed = { 'sec-fetch-site': site, 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'iframe' };
			// What viewers watch may stand in any page; nothing is done from there.
			expect(statusOf(knock({ target: '/watch/lantern-night?embed', headers: framed }))).toBe(200);
			expect(statusOf(knock({ target: '/watch/lantern-night/x', headers: framed }))).toBe(403);
			expect(statusOf(knock({ method: 'POST', target: '/watch/lantern-night', headers: framed }))).toBe(403);
			expect(from(site, 'cors', 'empty')).toBe(403);
		}
	});

	it('takes what changes something from its own pages only', () => {
		expect(statusOf(post('/api/destinations', { origin: OWN }))).toBe(200);
		// A program that is no browser says nothing of where it comes from; it needs its session as all do.
		expect(statusOf(post('/api/destinations', {}))).toBe(200);
		for (const origin of ['http://evil.example', 'null', 'http://localhost:5310', 'http://127.0.0.1:5311'])
			expect(statusOf(post('/api/destinations', { origin })), origin).toBe(403);
		expect(statusOf(post('/api/destinations', { 'sec-fetch-site': 'same-site' }))).toBe(403);
	});

	it('takes JSON where JSON is wanted, and files where files are, of a bearable size', () => {
		const body = (target: string, type: string | undefined, bytes = 100) =>
			statusOf(post(target, { 'content-type': type, 'content-length': String(bytes) }));
		expect(body('/api/accounts', 'application/json; charset=utf-8')).toBe(200);
		for (const type of [undefined, '', 'text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data'])
			expect(body('/api/accounts', type), type).toBe(415);
		expect(body('/', 'application/x-www-form-urlencoded')).toBe(200);
		expect(body('/', 'application/json')).toBe(415);
		expect(body('/api/accounts', 'application/json', 2e6)).toBe(413);
		expect(
			statusOf(
				knock({
					...post('/api/accounts', {}),
					headers: { host: '127.0.0.1:5310', 'transfer-encoding': 'chunked', 'content-type': 'application/json' },
				}),
			),
		).toBe(413);
		expect(body('/api/events/x/files', 'image/svg+xml', 20e6)).toBe(200);
		expect(body('/api/events/x/files', 'video/webm')).toBe(200);
		expect(body('/api/events/x/files', 'text/html')).toBe(415);
		expect(body('/api/events/x/files', 'image/png', 40e6)).toBe(413);
		expect(body('/api/events/x/files', 'application/json')).toBe(415);
		expect(body('/api/media/upload/abc', 'application/offset+octet-stream', 9e9)).toBe(200);
		expect(body('/api/events/x/guest/y/recording/abc', 'application/offset+octet-stream', 9e9)).toBe(200);
		expect(body('/api/events/x/recordings/y/exact', 'video/mp4', 9e9)).toBe(200);
		expect(statusOf(knock({ headers: { 'content-length': '5' } }))).toBe(400);
		expect(statusOf(knock({ method: 'DELETE' }))).toBe(200);
	});

	it('lets pages of its own, and programs, have WebSockets', () => {
		const asked = (origin?: string) => guardOf().checkUpgrade(knock({ target: '/live/x', headers: { origin } }));
		expect(asked(OWN)).toMatchObject({ path: '/live/x' });
		expect(asked()).toMatchObject({ path: '/live/x' });
		expect(asked('http://evil.example')).toMatchObject({ status: 403 });
	});
});

describe('where a request comes from', () => {
	it('is told by the connection itself', () => {
		expect(guardOf().check(knock({ isTls: true }))).toMatchObject({ isSecure: true, origin: 'https://127.0.0.1:5310' });
		const standard = knock({ isTls: true, localPort: 443, headers: { host: 'vestry' } });
		expect(guardOf().check(standard)).toMatchObject({ origin: 'https://vestry' });
	});

	const behind = guardOf({ proxies: ['127.0.0.1', '10.0.0.0/8'] });
	const from = (headers: Knock['headers'], guard = behind, remoteAddress = '127.0.0.1') =>
		guard.check(knock({ headers, remoteAddress }));

	it('is believed of proxies that are trusted, as far as they reach', () => {
		expect(from({ 'x-forwarded-for': '198.51.100.7', 'x-forwarded-proto': 'https' })).toMatchObject({
			address: '198.51.100.7',
			isSecure: true,
			isForwarded: true,
		});
		// What stands in front of it, its sender has made up.
		expect(from({ 'x-forwarded-for': '127.0.0.1, 198.51.100.7, 10.1.2.3' })).toMatchObject({ address: '198.51.100.7' });
		expect(from({ 'x-forwarded-for': 'rubbish' })).toMatchObject({ address: '127.0.0.1', isSecure: false });
	});

	it('is not believed of others, though it is seen that something stands between', () => {
		const forged = { 'x-forwarded-for': '127.0.0.1', 'x-forwarded-proto': 'https' };
		expect(from(forged, behind, '203.0.113.9')).toMatchObject({ address: '203.0.113.9', isSecure: false });
		expect(from(forged, guardOf())).toMatchObject({ address: '127.0.0.1', isSecure: false, isForwarded: true });
		expect(from({}, guardOf())).toMatchObject({ isForwarded: false });
		expect(from({}, guardOf(), '::ffff:192.168.3.9')).toMatchObject({ address: '192.168.3.9' });
	});

	it('asks for addresses that are some', () => {
		for (const text of ['everybody', '10.0.0.0/99', ''])
			expect(() => guardOf({ proxies: [text] }), text).toThrow(/no address/);
	});
});

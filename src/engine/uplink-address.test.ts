import { expect, it } from 'vitest';
import { UplinkAddress } from './uplink-address.ts';

const USUAL = 'wss://hall.test/uplink/night?lease=a&session=b';
const STRAIGHT = 'wss://two.test/uplink/night?ticket=t';

it('leads straight to the node that has the event, with a new ticket each time', async () => {
	const asked: string[] = [];
	const address = new UplinkAddress(USUAL, (url) => Promise.resolve(`${STRAIGHT}${asked.push(url)}`));
	expect(await address.next()).toBe(`${STRAIGHT}1&lease=a&session=b`);
	address.opened();
	expect(await address.next()).toBe(`${STRAIGHT}2&lease=a&session=b`);
	expect(asked).toEqual(Array(2).fill('https://hall.test/api/events/night/uplink'));
});

it('comes as any request when that node is not reached from here', async () => {
	const address = new UplinkAddress(USUAL, () => Promise.resolve(STRAIGHT));
	await address.next();
	expect([await address.next(), await address.next()]).toEqual([USUAL, USUAL]);
});

it('comes as any request where a page of https may not connect to that node', async () => {
	const address = new UplinkAddress(USUAL, () => Promise.resolve(STRAIGHT.replace('wss', 'ws')));
	expect(await address.next()).toBe(USUAL);
});

it('asks again when the server could not be asked, and not again when there is no other address', async () => {
	const answers = [undefined, null];
	const address = new UplinkAddress(USUAL, () => Promise.resolve(answers.shift()));
	for (let i = 0; i < 3; i++) expect(await address.next()).toBe(USUAL);
	expect(answers).toEqual([]);
});

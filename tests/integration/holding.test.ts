import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Downlink } from '../../src/core/delivery/uplink.ts';
import { Broadcast, type BroadcastPlan } from '../../src/server/broadcast/broadcast.ts';
import { packed, unpacked, type Handover } from '../../src/server/broadcast/handovers.ts';
import { testFolder, until } from '../support/app.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { decodeAll, endWithDesk, makeMaterial, play, probePackets, type Material } from '../support/media.ts';
import { sound } from '../support/see.ts';
import { orderTo } from '../support/order.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let material: Material;
let host: TestHost;
beforeAll(async () => {
	temporary = await testFolder();
	material = await makeMaterial(temporary.folder);
	host = await openHost(temporary.folder);
});
afterAll(async () => {
	await host.close();
	await temporary.remove();
});

const order = (id: string, app: string, key: string) =>
	orderTo(`rtmp://127.0.0.1:${host.rtmpPort}/${app}`, key, { id, name: id });

function begin(part: Partial<BroadcastPlan> = {}): Broadcast {
	const orders = [order('ridge', 'ridge', 'ridge-lantern-1845'), order('members', 'members', 'members-lantern-1845')];
	return new Broadcast({
		id: 'evening',
		renditions: [{ kbps: 1500, orders }],
		recordingFile: path.join(temporary.folder, `${Math.random()}.mp4`),
		tracks: [],
		holdMs: 60_000,
		changed: () => {},
		heldTooLong: () => {},
		...part,
	});
}

/** What an engine sends first: what its packets mean, and a loop of two seconds to hold viewers with. */
function introduce(broadcast: Broadcast, session: string, down: (message: Downlink) => void = () => {}): void {
	broadcast.attach(session, down);
	broadcast.receive(material.video);
	broadcast.receive(material.audio);
	for (const { data, key } of material.packets.filter(({ kind }) => kind === 'video').slice(0, 60))
		broadcast.receive({ kind: 'hold', rendition: 0, key, data });
}

it('an engine that is gone, twice, is stood in for: no host is let go, no time steps or gaps, silence for its sound', async () => {
	const broadcast = begin();
	introduce(broadcast, 'first');
	await until('live', () => broadcast.publishers.every(({ status }) => status.phase === 'live'));
	const desk = host.desk('ridge');
	let playing = play(material, (packet) => broadcast.receive(packet), 1);
	await until('pictures', () => desk.state.pictures > 60);
	const connection = desk.current;

	playing.stop();
	await until('the holding card', () => broadcast.holdingSince !== null);
	const atHold = desk.state.pictures;
	await until('held pictures', () => desk.state.pictures > atHold + 75);
	expect(desk.current).toBe(connection);

	// It comes back with a clock of its own, and goes again without a word.
	introduce(broadcast, 'second');
	playing = play(material, (packet) => broadcast.receive({ ...packet, timeUs: packet.timeUs + 777_000_000 }), 1);
	await until('the program', () => broadcast.holdingSince === null);
	const atReturn = desk.state.pictures;
	await until('pictures', () => desk.state.pictures > atReturn + 45);
	playing.stop();
	await until('the holding card', () => broadcast.holdingSince !== null);
	const again = desk.state.pictures;
	await until('held pictures', () => desk.state.pictures > again + 30);
	expect(desk.current).toBe(connection);
	await endWithDesk(broadcast);
	await until('the end', () => desk.state.state === 'ended');
	expect(desk.state.backSteps).toBe(0);

	const kept = (await readdir(temporary.folder)).filter((file) => file.endsWith('.flv'));
	expect(kept).toHaveLength(2);
	for (const name of kept) {
		const file = path.join(temporary.folder, name);
		expect(await decodeAll(file)).toBe('');
		const packets = await probePackets(file);
		for (const kind of ['video', 'audio']) {
			const times = packets.filter((packet) => packet.kind === kind).map(({ time }) => time);
			const steps = times.slice(1).map((time, i) => time - times[i]!);
			expect(Math.min(...steps), `${kind} steps back`).toBeGreaterThan(0);
			// The machine may keep the player waiting; the holding card itself leaves no gap.
			expect(Math.max(...steps), `gap in ${kind}`).toBeLessThan(1);
		}
	}
	const { samples } = await sound(path.join(temporary.folder, kept[0]!));
	const silent = samples.reduce((count, sample) => count + (Math.abs(sample) < 1e-4 ? 1 : 0), 0) / 48_000;
	expect(silent).toBeGreaterThan(3);
	expect(samples.length / 48_000 - silent).toBeGreaterThan(3);
});

it('a host that comes while the card is shown need not wait for its loop to end', async () => {
	const broadcast = begin();
	introduce(broadcast, 'gone');
	await until('live', () => broadcast.publishers.every(({ status }) => status.phase === 'live'));
	for (const packet of material.packets.slice(0, 50)) broadcast.receive(packet);
	await until('the holding card', () => broadcast.holdingSince !== null);
	const [ridge, members] = [host.desk('ridge'), host.desk('members')];
	const other = broadcast.publishers[1]!;
	/** Waits for a key frame. @returns how many pictures the host had then */
	const keyFrame = async () => {
		const { lastKeyFrameAt } = ridge.state;
		await until('a key frame', () => ridge.state.lastKeyFrameAt !== lastKeyFrameAt);
		return ridge.state.pictures;
	};
	// On a busy machine it may come at the end of the loop by chance.
	for (let tries = 1; ; tries++) {
		const from = await keyFrame();
		members.current!.destroy();
		await until('the loss', () => other.status.phase === 'lost');
		other.retry();
		const [to] = await Promise.all([keyFrame(), until('live', () => other.status.phase === 'live')]);
		if (to - from < 50) break;
		expect(tries, `a key frame after ${to - from} pictures of 60`).toBeLessThan(6);
	}
	await endWithDesk(broadcast);
});

it('a host that comes back while the program runs need not wait for a key frame that comes of itself', async () => {
	const broadcast = begin();
	const asked: Downlink[] = [];
	introduce(broadcast, 'runs', (message) => asked.push(message));
	await until('live', () => broadcast.publishers.every(({ status }) => status.phase === 'live'));
	const playing = play(material, (packet) => broadcast.receive(packet), 1);
	const [ridge, members] = [host.desk('ridge'), host.desk('members')];
	const had = members.state.pictures;
	await until('the program', () => members.state.pictures > had + 10);
	// Those who were there before it need nothing.
	expect(asked).toEqual([]);
	const other = broadcast.publishers[1]!;
	const { current } = ridge;
	members.current!.destroy();
	await until('the loss', () => other.status.phase === 'lost');
	other.retry();
	await until('the question', () => asked.length > 0);
	expect([asked, other.status.phase, ridge.current]).toEqual([[{ needKey: true }], 'live', current]);
	// One that comes a moment later has missed that one.
	const later = broadcast.publishers[0]!;
	current!.destroy();
	await until('the loss', () => later.status.phase === 'lost');
	later.retry();
	await until('another question', () => asked.length > 1);
	expect(later.status.phase).toBe('live');
	playing.stop();
	await endWithDesk(broadcast);
});

it('a desk that was only slow is asked for a key frame, and viewers are not held longer than was chosen', async () => {
	const asked: Downlink[] = [];
	let ends = 0;
	const broadcast = begin({ renditions: [{ kbps: 1500, orders: [] }], holdMs: 1500, heldTooLong: () => ends++ });
	introduce(broadcast, 'slow', (message) => asked.push(message));
	for (const packet of material.packets.slice(0, 50)) broadcast.receive(packet);
	await until('the holding card', () => broadcast.holdingSince !== null);
	const late = material.packets.find(({ kind, key, timeUs }) => kind === 'video' && !key && timeUs > 1e6)!;
	broadcast.receive(late);
	broadcast.receive(late);
	expect(asked).toEqual([{ needKey: true }]);
	expect(broadcast.holdingSince).not.toBeNull();
	await until('the end of patience', () => ends > 0);
	await endWithDesk(broadcast);
});

it('the sound of a desk whose pictures are still to come does not put off the holding card', async () => {
	const broadcast = begin({ renditions: [{ kbps: 1500, orders: [] }] });
	introduce(broadcast, 'gone');
	for (const packet of material.packets.slice(0, 50)) broadcast.receive(packet);
	introduce(broadcast, 'back');
	const sounds = material.packets.filter(({ kind }) => kind === 'audio');
	let [sent, heldAfter] = [0, 0];
	const timer = setInterval(() => {
		broadcast.receive(sounds[sent++]!);
		if (broadcast.holdingSince !== null) heldAfter ||= sent;
	}, 21);
	await until('the holding card', () => heldAfter > 0);
	clearInterval(timer);
	const key = material.packets.find(({ kind, timeUs }) => kind === 'video' && timeUs === 0)!;
	broadcast.receive(key);
	expect(broadcast.holdingSince).toBeNull();
	await endWithDesk(broadcast);
});

it('sound that came before the key frame it belongs behind is not lost: pictures take longer to be encoded', async () => {
	const recordingFile = path.join(temporary.folder, 'late-picture.mp4');
	const broadcast = begin({ renditions: [{ kbps: 1500, orders: [] }], recordingFile });
	introduce(broadcast, 'busy');
	const some = material.packets.filter(({ timeUs }) => timeUs < 4e6);
	const early = some.filter(({ kind, timeUs }) => kind === 'audio' && timeUs < 2e6);
	for (const packet of [...early, ...some.filter((packet) => !early.includes(packet))]) broadcast.receive(packet);
	await endWithDesk(broadcast);
	const times = (await probePackets(recordingFile)).filter(({ kind }) => kind === 'audio').map(({ time }) => time);
	expect(times[0]).toBeLessThan(0.05);
	expect(Math.max(...times.slice(1).map((time, i) => time - times[i]!))).toBeLessThan(0.03);
});

it('without a loop to hold with, it waits for the engine as it is', async () => {
	const broadcast = begin({ renditions: [{ kbps: 1500, orders: [] }] });
	broadcast.attach('bare', () => {});
	for (const packet of [material.video, material.audio, ...material.packets.slice(0, 50)]) broadcast.receive(packet);
	await new Promise((resolve) => setTimeout(resolve, 1200));
	expect(broadcast.holdingSince).toBeNull();
	await endWithDesk(broadcast);
});

it('another node goes on with the holding card on the same line of time, before its desk has come', async () => {
	const before = (await readdir(temporary.folder)).length;
	let left: Handover | null = null;
	const first = begin({ introduced: (handover) => (left = handover) });
	introduce(first, 'desk');
	await until('live', () => first.publishers.every(({ status }) => status.phase === 'live'));
	const desk = host.desk('ridge');
	const started = desk.state.pictures;
	const playing = play(material, (packet) => first.receive(packet), 1);
	const handover = await until('what is left to others', () => left);
	await until('pictures', () => desk.state.pictures > started + 90);
	const torn = desk.current;
	// As if the node had been ended in the middle: the host is told nothing.
	await first.cut();
	playing.stop();
	await until('the loss', () => desk.current !== torn);
	expect(desk.state.state).not.toBe('ended');

	const kept = { ...handover, introduced: unpacked(packed(handover.introduced)) };
	const second = begin({ handover: kept });
	expect(second.holdingSince).not.toBeNull();
	const held = desk.state.pictures;
	await until('held pictures', () => desk.state.pictures > held + 45);
	introduce(second, 'desk on another node');
	const again = play(material, (packet) => second.receive({ ...packet, timeUs: packet.timeUs + 55e6 }), 1);
	await until('the program', () => second.holdingSince === null);
	const returned = desk.state.pictures;
	await until('pictures', () => desk.state.pictures > returned + 45);
	again.stop();
	await endWithDesk(second);

	const files = (await readdir(temporary.folder)).toSorted();
	const received = files.filter((file) => file.startsWith('ridge') && file.endsWith('.flv')).slice(-2);
	expect(files.length).toBeGreaterThan(before);
	const [one, other] = await Promise.all(received.map((file) => probePackets(path.join(temporary.folder, file))));
	// The line goes on from where the first was, by the clock.
	expect(other![0]!.time).toBeGreaterThan(one!.at(-1)!.time);
	expect(other![0]!.time - one!.at(-1)!.time).toBeLessThan(10);
});

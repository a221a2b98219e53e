/** Real packets to send: the lectern camera's pictures and a tone, encoded by others than us. */
import { execFile, spawn } from 'node:child_process';
import { promisify } from 'node:util';
import { ALL_FORMATS, EncodedPacketSink, FilePathSource, Input } from 'mediabunny';
import type { AudioConfig, MediaPacket, VideoConfig } from '../../src/core/delivery/uplink.ts';
import type { Broadcast } from '../../src/server/broadcast/broadcast.ts';

export const run = promisify(execFile);

export interface Material {
	video: VideoConfig;
	audio: AudioConfig;
	/** Interleaved by time. */
	packets: MediaPacket[];
}

/** Twenty seconds of H.264 with a key frame every two seconds, and of AAC, in `folder`. @param kbps of the picture */
export async function makeMaterial(folder: string, seconds = 20, kbps = 1500): Promise<Material> {
	const file = `${folder}/material.mp4`;
	const video = `-stream_loop 6 -i standins/venue/media/lectern.mp4 -c:v libx264 -preset ultrafast -g 60 -bf 0 -b:v ${kbps}k -s 640x360`;
	const audio = '-f lavfi -i sine=440:r=48000 -ac 2 -c:a aac -b:a 128k';
	const [input, ...coding] = [video.split(' ').slice(0, 4), ...video.split(' ').slice(4)];
	const tone = audio.split(' ');
	await run('ffmpeg', [
		'-loglevel',
		'error',
		'-y',
		...(input as string[]),
		...tone.slice(0, 4),
		'-t',
		String(seconds),
		...(coding as string[]),
		...tone.slice(4),
		file,
	]);
	const media = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
	const [v, a] = [(await media.getPrimaryVideoTrack())!, (await media.getPrimaryAudioTrack())!];
	const packets: MediaPacket[] = [];
	for (const [kind, track] of [
		['video', v],
		['audio', a],
	] as const)
		for await (const packet of new EncodedPacketSink(track).packets())
			if (packet.timestamp >= 0)
				packets.push({
					kind,
					rendition: 0,
					timeUs: Math.round(packet.timestamp * 1e6),
					key: packet.type === 'key',
					data: packet.data,
				});
	packets.sort((x, y) => x.timeUs - y.timeUs);
	const describe = async (track: typeof v | typeof a) =>
		new Uint8Array((await track.getDecoderConfig())!.description as ArrayBuffer);
	const [picture, sound] = [await describe(v), await describe(a)];
	media.dispose();
	return {
		video: {
			kind: 'videoConfig',
			rendition: 0,
			width: 640,
			height: 360,
			fps: 30,
			bitrateKbps: kbps,
			description: picture,
		},
		audio: {
			kind: 'audioConfig',
			rendition: 0,
			sampleRate: 48_000,
			channels: 2,
			bitrateKbps: 128,
			description: sound,
		},
		packets,
	};
}

/** Plays material at `speed` times its pace; returns a function that stops it. */
export function play(
	{ packets }: Material,
	send: (packet: MediaPacket) => void,
	speed = 4,
): { done: Promise<void>; stop: () => void } {
	const startedAt = performance.now();
	let next = 0;
	let finish!: () => void;
	const done = new Promise<void>((resolve) => (finish = resolve));
	const timer = setInterval(() => {
		const nowUs = (performance.now() - startedAt) * 1000 * speed;
		while (next < packets.length && packets[next]!.timeUs <= nowUs) send(packets[next++]!);
		if (next === packets.length) stop();
	}, 5);
	const stop = () => {
		clearInterval(timer);
		finish();
	};
	return { done, stop };
}

/** Ends a broadcast as a desk does that has sent its last packet. */
export function endWithDesk(broadcast: Broadcast): Promise<void> {
	const ended = broadcast.end();
	broadcast.receive({ kind: 'end' });
	return ended;
}

/** Runs FFmpeg in the background; tells its exit code and what it complained about. */
export function ffmpeg(...args: string[]): { ended: Promise<{ code: number; complaints: string }>; kill: () => void } {
	const child = spawn('ffmpeg', ['-hide_banner', '-loglevel', 'warning', '-y', ...args], {
		stdio: ['ignore', 'ignore', 'pipe'],
	});
	let complaints = '';
	child.stderr.on('data', (text) => (complaints += text));
	const ended = new Promise<{ code: number; complaints: string }>((resolve) =>
		child.once('exit', (code) => resolve({ code: code ?? -1, complaints })),
	);
	return { ended, kill: () => child.kill('SIGKILL') };
}

/** What FFmpeg's probe says of each packet: kind, time in seconds, key. */
export async function probePackets(file: string): Promise<{ kind: 'video' | 'audio'; time: number; key: boolean }[]> {
	const fields = 'packet=codec_type,dts_time,flags';
	const { stdout } = await run('ffprobe', ['-v', 'error', '-show_entries', fields, '-of', 'csv=p=0', file], {
		maxBuffer: 64e6,
	});
	return (
		stdout
			.split('\n')
			// Between them it may tell what belongs to a packet besides.
			.filter((line) => /^(video|audio),/.test(line))
			.map((line) => {
				const [kind, time, flags] = line.split(',');
				return { kind: kind as 'video' | 'audio', time: Number(time), key: flags!.startsWith('K') };
			})
	);
}

/** Decodes a file whole; returns FFmpeg's complaints, none if it is sound. */
export async function decodeAll(file: string): Promise<string> {
	// Pictures keep their own times: at a guessed rate two of an uneven stream would fall on one time, which FFmpeg minds.
	const asTheyCome = ['-fps_mode', 'passthrough', '-enc_time_base:v', '-1'];
	const { stderr } = await run('ffmpeg', ['-v', 'error', '-i', file, ...asTheyCome, '-f', 'null', '-']);
	return stderr;
}

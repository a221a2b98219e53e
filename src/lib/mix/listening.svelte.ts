/** Listens to the engine of this page: levels for the eye, faults in words, and both for whoever mixes elsewhere. */
import type { Heard, SoundReport } from '../../core/show/messages.ts';
import type { ShowState } from '../../core/show/state.ts';
import { isOnAir } from '../../core/show/state.ts';
import { PeakMeter } from '../../core/sound/meter.ts';
import { mixPlan } from '../../core/sound/mix-plan.ts';
import { levelsAt, MasterReading, Reading, READINGS } from '../../core/sound/readings.ts';
import { SoundHealth } from '../../core/sound/sound-health.ts';
import type { Engine } from '../../engine/engine.ts';
import { MAX_CHANNELS, MIX_READINGS } from '../../engine/shared.ts';
import { MIX, type Levels } from '../show/levels.ts';

/** By what is given up on a busy machine: levels that move cost as much to draw as a small picture. */
const READ_EVERY_MS = [100, 100, 200, 200];
/** A timer that comes so much too early still is on time. */
const EARLY_MS = 25;
/** Monitors that come so much too late, or not at all, are not waited for. */
const LATE_MS = 50;
/** Long enough to judge: two of the windows in which hum is looked for. */
const JUDGE_EVERY_MS = 400;
/** Others are told so often; what this page says in words and figures is not read more often than the second of these. */
const TELL_EVERY_MS = 250;
const SHOW_EVERY_MS = 500;
/** Behind another tab nobody looks; alarms are still made from it. */
const HIDDEN = { readMs: 250, showMs: 1000 };
const KEEP_EVERY_MS = 5000;
const LEAST_DB = -120;

/** Meters and health of one channel or of the mix, from one reading to the next. */
class Listener {
	readonly meters = [new PeakMeter(), new PeakMeter()] as const;
	readonly health = new SoundHealth();
	clips = 0;

	get level(): { levelDb: [number, number]; holdDb: [number, number] } {
		const [left, right] = this.meters;
		return {
			levelDb: [Math.max(LEAST_DB, left.levelDb), Math.max(LEAST_DB, right.levelDb)],
			holdDb: [Math.max(LEAST_DB, left.holdDb), Math.max(LEAST_DB, right.holdDb)],
		};
	}
}

/** Receivers of its reports. */
interface Told {
	/** A few times a second. */
	report(sound: SoundReport): void;
	/** Now and then, on air: how loud it has been so far, packed. */
	loudness(broadcastId: string, history: number[]): void;
}

export class Listening {
	/** Null until the engine has run for a moment. */
	report = $state.raw<SoundReport | null>(null);
	#engine: Engine;
	#show: () => ShowState | null;
	#findings: () => Pick<SoundReport, 'apart' | 'echo'>;
	#tell: Told;
	// Not reactive on purpose: only the reports made from it are shown.
	// eslint-disable-next-line svelte/prefer-svelte-reactivity
	#listeners = new Map<string, Listener>();
	#levels: Levels;
	#now = new Float32Array(MIX_READINGS);
	/** Grown since the last report, and since the last judgement. */
	#since = new Float32Array(MIX_READINGS);
	#sums = new Float32Array(MIX_READINGS);
	#readAt = performance.now();
	#judgedAt = performance.now();
	#toldAt = 0;
	#shownAt = 0;
	#keptAt = performance.now();
	#timer: ReturnType<typeof setInterval>;

	/**
	 * @param levels those who show them as they move
	 * @param findings what is found out about it now and then
	 */
	constructor(
		engine: Engine,
		show: () => ShowState | null,
		levels: Levels,
		findings: () => Pick<SoundReport, 'apart' | 'echo'>,
		tell: Told,
	) {
		this.#levels = levels;
		this.#findings = findings;
		this.#engine = engine;
		this.#show = show;
		this.#tell = tell;
		this.#timer = setInterval(() => {
			if (this.#unreadMs > (isHidden() ? HIDDEN.readMs : READ_EVERY_MS[engine.relief]! + LATE_MS)) this.#read();
		}, READ_EVERY_MS[0]);
	}

	/** Levels move with the monitors: the browser puts the page together once for both. */
	refresh(): void {
		if (!isHidden() && this.#unreadMs > READ_EVERY_MS[this.#engine.relief]! - EARLY_MS) this.#read();
	}

	get #unreadMs(): number {
		return performance.now() - this.#readAt;
	}

	close(): void {
		clearInterval(this.#timer);
	}

	#read(): void {
		const show = this.#show();
		if (!show) return;
		this.#engine.drainReadings(this.#now);
		addUp(this.#now, this.#since);
		addUp(this.#now, this.#sums);
		const now = performance.now();
		const elapsedS = (now - this.#readAt) / 1000;
		this.#readAt = now;
		for (const { id } of show.setup.channels) this.#move(id, this.#placeOf(id), elapsedS);
		this.#move(MIX, READINGS * MAX_CHANNELS, elapsedS);
		if (!isHidden()) this.#levels.draw((id) => this.#listeners.get(id)?.level ?? null);
		if (now - this.#judgedAt >= JUDGE_EVERY_MS) {
			this.#judge(show, (now - this.#judgedAt) / 1000);
			this.#judgedAt = now;
			this.#sums.fill(0);
		}
		if (now - this.#toldAt < TELL_EVERY_MS - EARLY_MS) return;
		this.#toldAt = now;
		this.#report(show, now);
	}

	/** Where the readings of a channel begin; behind the last where it has none. */
	#placeOf(channelId: string): number {
		const input = this.#engine.inputOf(channelId);
		return input === null ? MIX_READINGS : READINGS * input;
	}

	#move(id: string, at: number, elapsedS: number): void {
		const listener = this.#listener(id);
		listener.meters[0].read(this.#now[at + Reading.peakLeft] ?? 0, elapsedS);
		listener.meters[1].read(this.#now[at + Reading.peakRight] ?? 0, elapsedS);
		listener.clips += this.#now[at + Reading.clipped] ?? 0;
	}

	#report(show: ShowState, now: number): void {
		const levelsOf = (id: string) => levelsAt(this.#since, this.#placeOf(id));
		const channels = show.setup.channels.map(({ id }): Heard => {
			const levels = levelsOf(id);
			const listener = this.#listener(id);
			return {
				id,
				...listener.level,
				rmsDb: decibels(Math.max(...levels.rms)),
				gateDb: levels.gateDb,
				compressorDb: levels.compressorDb,
				automaticDb: levels.automaticDb,
				clips: listener.clips,
				faults: listener.health.faults,
				side: listener.health.side,
			};
		});
		const at = READINGS * MAX_CHANNELS;
		const listener = this.#listener(MIX);
		const master = (place: number) => Math.max(LEAST_DB, this.#now[at + place]!);
		const mix = {
			...listener.level,
			momentary: master(MasterReading.momentary),
			shortTerm: master(MasterReading.shortTerm),
			integrated: master(MasterReading.integrated),
			range: this.#now[at + MasterReading.range]!,
			truePeakDb: master(MasterReading.truePeak),
			limiterDb: this.#now[at + MasterReading.limiter]!,
			faults: listener.health.faults,
			side: listener.health.side,
		};
		this.#since.fill(0);
		const report = { channels, mix, ...this.#findings() };
		this.#tell.report(report);
		if (now - this.#shownAt > (isHidden() ? HIDDEN.showMs : SHOW_EVERY_MS) - EARLY_MS) {
			this.#shownAt = now;
			this.report = report;
		}
		// What was before the broadcast does not count.
		if (!isOnAir(show)) this.#keptAt = now;
		if (now - this.#keptAt < KEEP_EVERY_MS) return;
		this.#keptAt = now;
		this.#tell.loudness(show.live.broadcast!.id, this.#engine.loudnessHistory);
	}

	#judge(show: ShowState, elapsedS: number): void {
		const plan = mixPlan(show, (id) => this.#engine.inputOf(id), MAX_CHANNELS, false);
		for (const { id } of show.setup.channels) {
			const input = this.#engine.inputOf(id);
			if (input === null) continue;
			const heard = (plan.channels[input]?.gain ?? 0) > 0;
			this.#listener(id).health.observe(levelsAt(this.#sums, READINGS * input), elapsedS, heard);
		}
		const levels = levelsAt(this.#sums, READINGS * MAX_CHANNELS);
		this.#listener(MIX).health.observe({ ...levels, rmsIn: 1 }, elapsedS, isOnAir(show) && !show.live.hushed);
	}

	#listener(id: string): Listener {
		const known = this.#listeners.get(id) ?? new Listener();
		this.#listeners.set(id, known);
		return known;
	}
}

function isHidden(): boolean {
	return document.visibilityState === 'hidden';
}

function decibels(linear: number): number {
	return Math.max(LEAST_DB, 20 * Math.log10(linear));
}

/** Adds what has grown since the last reading to what is judged later; what is as it is now takes its place. */
function addUp(now: Float32Array, sums: Float32Array): void {
	for (let at = 0; at + READINGS <= now.length; at += READINGS) {
		for (let place = Reading.hum + 1; place < READINGS; place++) sums[at + place] = now[at + place]!;
		for (let place = 0; place <= Reading.hum; place++) {
			const isPeak = place === Reading.peakLeft || place === Reading.peakRight || place === Reading.peakIn;
			const value = now[at + place]!;
			sums[at + place] = isPeak ? Math.max(sums[at + place]!, value) : sums[at + place]! + value;
		}
	}
}

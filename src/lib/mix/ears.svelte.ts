/** The headphones of the person at this desk: a setting of this machine, not of the show. */
import { dequal } from 'dequal';
import * as v from 'valibot';
import type { Engine } from '../../engine/engine.ts';
import { listHeadphones, type HeadphoneDevice } from '../../engine/headphones.ts';
import type { Hearing } from '../../engine/mix-router.ts';
import { problemWords } from '../words/problem.ts';

const STORED_AS = 'bivvo-headphones';

const storedSchema = v.object({ deviceId: v.string(), volume: v.pipe(v.number(), v.minValue(0), v.maxValue(1)) });

/** What was chosen here last; what cannot be read is forgotten. */
function stored(): v.InferOutput<typeof storedSchema> {
	try {
		return v.parse(storedSchema, JSON.parse(localStorage.getItem(STORED_AS) ?? ''));
	} catch {
		return { deviceId: '', volume: 0.5 };
	}
}

export class Ears {
	hearing = $state.raw<Hearing>({ to: 'nothing' });
	deviceId = $state('');
	/** 0 to 1. */
	volume = $state(0.5);
	devices = $state.raw<HeadphoneDevice[]>([]);
	/** Channels whose microphones hear what is played here. */
	heardBy = $state.raw<readonly string[]>([]);
	/** True while it is found out. */
	checking = $state(false);
	#engine: () => Engine | null;
	#channelIds: () => string[];
	#failed: (reason: string) => void;

	/** @param failed called with a sentence when the headphones cannot be used */
	constructor(engine: () => Engine | null, channelIds: () => string[], failed: (reason: string) => void) {
		this.#engine = engine;
		this.#channelIds = channelIds;
		this.#failed = failed;
		const { deviceId, volume } = stored();
		this.deviceId = deviceId;
		this.volume = volume;
	}

	/** Call from a press: browsers play nothing before one. */
	async hear(hearing: Hearing): Promise<void> {
		const heardBefore = this.hearing.to !== 'nothing';
		const engine = this.#engine();
		const { headphones } = engine ?? {};
		if (!engine || !headphones) return;
		engine.hear(hearing);
		this.hearing = hearing;
		if (hearing.to === 'nothing') {
			this.heardBy = [];
			return;
		}
		try {
			headphones.setVolume(this.volume);
			await headphones.playOn(this.deviceId);
			this.devices = await listHeadphones();
			if (!heardBefore) await this.checkEcho();
		} catch (error) {
			this.#failed(problemWords(error));
		}
	}

	/** Plays a short tone and checks whether a microphone hears it. */
	async checkEcho(): Promise<void> {
		const engine = this.#engine();
		if (!engine || this.checking || this.hearing.to === 'nothing') return;
		this.checking = true;
		try {
			const { measureEcho } = await import('../../engine/lip-sync.ts');
			this.heardBy = await measureEcho(engine, this.#channelIds());
		} catch (error) {
			this.#failed(problemWords(error));
		} finally {
			this.checking = false;
		}
	}

	/** What was heard is gone with its engine. */
	forget(): void {
		this.hearing = { to: 'nothing' };
		this.heardBy = [];
	}

	/** True while just this is heard. */
	hears(hearing: Hearing): boolean {
		return dequal(this.hearing, hearing);
	}

	setVolume(volume: number): void {
		this.volume = volume;
		this.#engine()?.headphones?.setVolume(volume);
		this.#store();
	}

	async playOn(deviceId: string): Promise<void> {
		this.deviceId = deviceId;
		this.#store();
		await this.hear(this.hearing);
		await this.checkEcho();
	}

	#store(): void {
		localStorage.setItem(STORED_AS, JSON.stringify({ deviceId: this.deviceId, volume: this.volume }));
	}
}

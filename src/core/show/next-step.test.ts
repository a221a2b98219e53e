import { expect, it } from 'vitest';
import { plainChannel } from './mix/mix.ts';
import { nextStep } from './next-step.ts';
import { reduceAll } from './reduce.ts';
import { plainCue } from './runsheet/cue.ts';
import { withLive, withSetup } from './slice.ts';
import { plainSource } from './sources/source.ts';
import { emptyShow, type Setup } from './state.ts';

it('an empty event leads from camera to sound to destination, program and rehearsal, and after its broadcast to what is left of it', () => {
	let show = emptyShow('e', 'Mending Day', '', { width: 1280, height: 720, fps: 30 });
	const steps = [nextStep(show)];
	const parts: Partial<Setup>[] = [
		{ sources: [plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' })] },
		{ channels: [plainChannel('mic', 'lectern', 'Lectern mic')] },
		{
			destinations: [
				{
					...{ id: 'ridge', name: 'Ridge Channel', address: 'rtmp://h.example/ridge', userName: '', hasKey: true },
					...{
						keyLasts: false,
						ticked: true,
						maxHeight: null,
						maxKbps: null,
						maxFps: null,
						accountUrl: null,
						signed: null,
						watch: null,
						hostBroadcast: null,
						details: null,
					},
				},
			],
		},
	];
	for (const part of parts) steps.push(nextStep((show = withSetup(show, part))));
	expect(steps).toEqual(['camera', 'sound', 'destination', 'take']);
	show = withLive(show, { program: 'lectern' });
	expect(nextStep(show)).toBe('rehearse');
	// Whoever has written a run sheet needs no lead.
	expect(nextStep(withSetup(show, { cues: [plainCue('greeting', 'Greeting')] }))).toBeNull();
	show = reduceAll(show, [{ type: 'startBroadcast', broadcastId: 'b' }], 1000);
	expect(nextStep(show)).toBeNull();
	expect(nextStep(reduceAll(show, [{ type: 'endBroadcast' }], 2000))).toBe('after');
});

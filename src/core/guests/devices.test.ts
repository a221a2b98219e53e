import { expect, it } from 'vitest';
import { bestDevice } from './devices.ts';

const named = (...labels: string[]) => labels.map((label, i) => ({ deviceId: String(i), label }));
const best = (devices: ReturnType<typeof named>, chosen: { deviceId: string; label: string } | null = null) =>
	bestDevice(devices, chosen, true)?.label;

it('is what was chosen before, also under another id', () => {
	const devices = named('Built-in Microphone', 'USB Microphone');
	expect(best(devices, { deviceId: '1', label: 'USB Microphone' })).toBe('USB Microphone');
	expect(best(devices, { deviceId: 'another', label: 'USB Microphone' })).toBe('USB Microphone');
	expect(best(devices, { deviceId: 'gone', label: 'Gone' })).toBe('Built-in Microphone');
});

it('is else what sits at the head, never what is no microphone of a person', () => {
	expect(best(named('Monitor of Built-in Audio', 'Built-in Microphone', 'Wool Headset'))).toBe('Wool Headset');
	expect(best(named('Virtual Cable', 'Built-in Microphone'))).toBe('Built-in Microphone');
	expect(bestDevice(named('IR Camera', 'Front Camera'), null)?.label).toBe('Front Camera');
	expect(best(named('Virtual Cable'))).toBe('Virtual Cable');
	expect(bestDevice([], null)).toBeNull();
});

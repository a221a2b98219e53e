import { expect, it } from 'vitest';
import { deviceNames } from './device-names.ts';

it('takes numbers off names of devices, and tells two of one make apart', () => {
	const names = deviceNames([
		{ deviceId: 'a', label: 'HD camera (046d:082d)' },
		{ deviceId: 'b', label: 'Capture card' },
		{ deviceId: 'c', label: 'HD camera (046d:082d)' },
	]);
	expect([...names]).toEqual([
		['a', 'HD camera 1'],
		['b', 'Capture card'],
		['c', 'HD camera 2'],
	]);
});

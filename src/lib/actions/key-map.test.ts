import { describe, expect, it } from 'vitest';
import { ACTIONS } from './actions.ts';
import {
	keepKeys,
	keepOwnKeys,
	keptKeys,
	keptOwnKeys,
	keyOf,
	keysOf,
	keyWords,
	withKey,
	withoutKey,
	type OwnKey,
} from './key-map.ts';

const press = (part: Partial<KeyboardEvent>) =>
	keyOf({
		code: '',
		key: '',
		shiftKey: false,
		ctrlKey: false,
		altKey: false,
		metaKey: false,
		...part,
	} as KeyboardEvent);

describe('the keys of actions', () => {
	it('are each for one action only', () => {
		const all = [...ACTIONS.keys()].flatMap((id) => keysOf(id, {}));
		expect(new Set(all).size).toBe(all.length);
		expect(all).toContain('Digit1');
	});

	it('can be chosen, and are taken from the action that had them', () => {
		const { chosen, lost } = withKey({}, 'hush', 'KeyB');
		expect(lost).toBe('black');
		expect([keysOf('hush', chosen), keysOf('black', chosen)]).toEqual([['KeyB'], []]);
		const free = withKey(chosen, 'black', 'F5');
		expect(free.lost).toBeNull();
		expect(keysOf('black', free.chosen)).toEqual(['F5']);
		// One of two keys is lost, the other stays.
		expect(keysOf('scene-1', withKey({}, 'hush', 'Digit1').chosen)).toEqual(['Numpad1']);
	});

	it('are kept, and what cannot be read is as if nothing was', () => {
		const kept = new Map<string, string>();
		const storage = {
			getItem: (name: string) => kept.get(name) ?? null,
			setItem: (name: string, value: string) => void kept.set(name, value),
		};
		expect(keptKeys(storage)).toEqual({});
		keepKeys(storage, { hush: ['KeyB'] });
		expect(keptKeys(storage)).toEqual({ hush: ['KeyB'] });
		for (const rubbish of ['{', '{"hush":7}', '[]']) {
			kept.set([...kept.keys()][0]!, rubbish);
			expect(keptKeys(storage)).toEqual({});
		}
	});

	it('can be given to any action, are taken from the registry then, and are kept; what is no order is left out', () => {
		expect(withoutKey({}, 'KeyB')).toEqual({ chosen: { black: [] }, lost: 'black' });
		expect(withoutKey({}, 'F7')).toEqual({ chosen: {}, lost: null });
		const kept = new Map<string, string>();
		const storage = {
			getItem: (name: string) => kept.get(name) ?? null,
			setItem: (name: string, value: string) => void kept.set(name, value),
		};
		const own: OwnKey[] = [{ key: 'F7', order: { action: 'macro', of: 'everything-off' } }];
		keepOwnKeys(storage, own);
		expect(keptOwnKeys(storage)).toEqual(own);
		kept.set([...kept.keys()][0]!, '[{"key":"F7","order":{"action":"fly"}}]');
		expect(keptOwnKeys(storage)).toEqual([]);
	});

	it('are written as the registry has them, and read as people do', () => {
		expect(press({ code: 'Digit3', key: '#', shiftKey: true })).toBe('Shift+Digit3');
		expect(press({ code: 'ShiftLeft', key: 'Shift', shiftKey: true })).toBeNull();
		expect(['Shift+Digit1', 'KeyH', 'Numpad4', 'Enter'].map(keyWords)).toEqual([
			'Shift + 1',
			'H',
			'Number pad 4',
			'Enter',
		]);
	});
});

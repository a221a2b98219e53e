import { expect, it, vi } from 'vitest';
import { encodeView } from '../../core/watch/packet.ts';
import { Watching } from './watching.ts';

const packet = (key: boolean) => encodeView({ key, canBeLeftOut: false, at: 1, order: 0, data: Uint8Array.of(1) });
const watcher = (waiting = 0) => ({ send: vi.fn(), waiting });

it('is made while somebody watches, who begins with a picture that stands alone', () => {
	const changed = vi.fn();
	const needKey = vi.fn();
	const watching = new Watching(changed);
	const detach = watching.attach(needKey);
	const [first, second] = [watcher(), watcher()];
	watching.add(first);
	watching.add(first);
	expect([watching.isWatched, changed.mock.calls.length, needKey.mock.calls.length]).toEqual([true, 1, 1]);
	expect(watching.distribute(packet(false))).toBe(true);
	expect(first.send).not.toHaveBeenCalled();
	watching.distribute(packet(true));
	watching.add(second);
	watching.distribute(packet(false));
	expect([first.send.mock.calls.length, second.send.mock.calls.length]).toEqual([2, 0]);
	expect(needKey).toHaveBeenCalledTimes(2);
	watching.remove(first);
	watching.remove(second);
	watching.remove(second);
	expect([watching.isWatched, changed.mock.calls.length]).toEqual([false, 2]);
	detach();
	watching.add(first);
	expect(needKey).toHaveBeenCalledTimes(2);
	// Who comes to make it finds somebody waiting.
	watching.attach(needKey);
	expect(needKey).toHaveBeenCalledTimes(3);
	expect(watching.distribute(Uint8Array.of(1, 2, 3))).toBe(false);
});

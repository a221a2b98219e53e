import { expect, it } from 'vitest';
import { holdingCard, judgeLine, plainDelivery, planDelivery } from './delivery.ts';
import { reduce, reduceAll } from '../reduce.ts';
import { withSetup } from '../slice.ts';
import { plainCard } from '../sources/kinds/card.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow } from '../state.ts';

const show = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });

it('a line counts by the middle of its runs, or by the lowest when they disagree', () => {
	expect(judgeLine({ runsKbps: [12_000, 11_000, 11_500], at: 0 })).toEqual({ kbps: 11_500, steady: true });
	expect(judgeLine({ runsKbps: [12_000, 4000, 11_500], at: 0 })).toEqual({ kbps: 4000, steady: false });
	expect(judgeLine({ runsKbps: [0], at: 0 })).toEqual({ kbps: 0, steady: true });
});

it('the newest measurement decides, the person may overrule it, and twenty are remembered', () => {
	const measured = (kbps: number, at: number) => ({ type: 'addLine' as const, line: { runsKbps: [kbps], at } });
	const after = reduceAll(show, [measured(50_000, 1), measured(3000, 2)], 0);
	const ridge = {
		id: 'ridge',
		name: 'Ridge Channel',
		address: 'rtmp://ridge.example/live',
		userName: '',
		hasKey: true,
		ticked: true,
		keyLasts: false,
		maxHeight: null,
		maxKbps: null,
		maxFps: null,
		accountUrl: null,
		signed: null,
		watch: null,
		hostBroadcast: null,
		details: null,
	};
	const sent = withSetup(after, { destinations: [ridge, { ...ridge, id: 'valley', ticked: false }] });
	expect(planDelivery(sent)).toMatchObject({ allowedKbps: 1500, renditions: [{ destinationIds: ['ridge'] }] });
	const delivery = { ...plainDelivery(), chosenKbps: 2000 };
	const chosen = reduceAll(sent, [{ type: 'setDelivery', delivery }], 0);
	expect(chosen.live.lines).toHaveLength(2);
	expect(planDelivery(chosen).renditions[0]!.kbps).toBe(2000);
	const many = reduceAll(
		show,
		Array.from({ length: 25 }, (_, i) => measured(1000, i)),
		0,
	);
	expect(many.live.lines.map(({ at }) => at)).toEqual(Array.from({ length: 20 }, (_, i) => i + 5));
	expect(reduce(show, measured(1000, 1), 0)).toHaveProperty('state');
});

it('viewers are held with the card that was chosen, or with one of Bivvo’s own', () => {
	const card = plainSource('soon', 'Soon', {
		kind: 'card',
		card: plainCard(),
	});
	const camera = plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' });
	const held = (holdingId: string | null) =>
		holdingCard({ sources: [card, camera], delivery: { ...plainDelivery(), holdingId } }).name;
	expect([held('soon'), held('lectern'), held('gone'), held(null)]).toEqual([
		'Soon',
		'Back shortly',
		'Back shortly',
		'Back shortly',
	]);
});

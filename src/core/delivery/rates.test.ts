import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deliveryPlan, goodKbps, MOST_RENDITIONS, SOUND_KBPS, steppedKbps, type DeliveryWish } from './rates.ts';

const picture = { width: 1280, height: 720, fps: 30 };
const none = { maxHeight: null, maxKbps: null, maxFps: null };
const ridge = { id: 'ridge', name: 'Ridge Channel', maxHeight: 1080, maxKbps: 6000, maxFps: null };
const valley = { id: 'valley', name: 'Valley Relay', maxHeight: 720, maxKbps: 1000, maxFps: null };
const wish = (part: Partial<DeliveryWish> = {}): DeliveryWish => ({
	picture,
	destinations: [ridge],
	lineKbps: null,
	chosenKbps: null,
	...part,
});

describe('upload arithmetic', () => {
	it('sends the picture as it is, at a good rate, where nothing forbids it', () => {
		const { renditions, totalKbps, warnings } = deliveryPlan(wish());
		expect(renditions).toEqual([{ ...picture, kbps: 2500, destinationIds: ['ridge'] }]);
		expect(totalKbps).toBe(2628);
		expect(warnings).toEqual([]);
		expect(goodKbps({ width: 1920, height: 1080, fps: 60 })).toBe(8400);
	});

	it('has a picture to record when it is sent nowhere', () => {
		expect(deliveryPlan(wish({ destinations: [] })).renditions).toEqual([
			{ ...picture, kbps: 2500, destinationIds: [] },
		]);
	});

	it('gives a host with a low cap a smaller picture of its own, below the cap with its sound', () => {
		const { renditions, reasons, totalKbps } = deliveryPlan(wish({ destinations: [valley, ridge] }));
		expect(renditions.map(({ height, destinationIds }) => [height, destinationIds])).toEqual([
			[720, ['ridge']],
			[540, ['valley']],
		]);
		expect(renditions[1]!.kbps + SOUND_KBPS).toBeLessThan(1000);
		const small = { width: 960, height: 540, fps: 30 };
		expect(reasons).toContainEqual(
			expect.objectContaining({ is: 'gets', name: 'Valley Relay', picture: small, maxHeight: 720, maxKbps: 1000 }),
		);
		expect(reasons).toContainEqual({ is: 'total', kbps: renditions.map(({ kbps }) => kbps), totalKbps });
	});

	it('halves the frames for a host that takes fewer', () => {
		const few = { ...none, id: 'few', name: 'Few', maxFps: 30 };
		const { renditions } = deliveryPlan(wish({ picture: { ...picture, fps: 50 }, destinations: [few] }));
		expect(renditions[0]).toMatchObject({ height: 720, fps: 25 });
	});

	it('uses half of the line, and leaves to the others what a cap does not take', () => {
		const slow = deliveryPlan(wish({ lineKbps: 3000 }));
		expect(slow.allowedKbps).toBe(1500);
		expect(slow.renditions[0]).toMatchObject({ height: 720, kbps: 1350 });
		const both = deliveryPlan(wish({ destinations: [ridge, valley], lineKbps: 5000 }));
		expect(both.renditions[0]!.kbps).toBeGreaterThan(5000 / 4 - SOUND_KBPS);
		expect(both.totalKbps).toBeLessThanOrEqual(2500);
		expect(both.warnings).toEqual([]);
		const hopeless = deliveryPlan(wish({ lineKbps: 300 }));
		expect(hopeless.renditions[0]!.height).toBe(270);
		expect(hopeless.warnings[0]).toMatchObject({ is: 'overLine' });
	});

	it('lets the person overrule the line, but not what a host takes', () => {
		const chosen = deliveryPlan(wish({ destinations: [ridge, valley], lineKbps: 2000, chosenKbps: 2000 }));
		expect(chosen.renditions.map(({ kbps }) => kbps)).toEqual([2000, expect.any(Number)]);
		expect(chosen.renditions[1]!.kbps).toBeLessThan(900);
		expect(chosen.warnings).toContainEqual(expect.objectContaining({ is: 'overLine' }));
		expect(chosen.reasons).toContainEqual({ is: 'chosen', kbps: 2000 });
	});

	it('never needs more than three encodings, serves each destination once, and keeps below every cap it can', () => {
		const destination = fc.record({
			maxHeight: fc.option(fc.constantFrom(240, 360, 480, 720, 1080)),
			maxKbps: fc.option(fc.integer({ min: 500, max: 9000 })),
			maxFps: fc.option(fc.constantFrom(25, 30, 60)),
		});
		fc.assert(
			fc.property(
				fc.array(destination, { maxLength: 8 }),
				fc.option(fc.integer({ min: 100, max: 100_000 })),
				fc.constantFrom(25, 30, 50, 60),
				(list, lineKbps, fps) => {
					const destinations = list.map((caps, i) => ({ ...caps, id: `${i}`, name: `Host ${i}` }));
					const { renditions } = deliveryPlan({
						picture: { ...picture, fps },
						destinations,
						lineKbps,
						chosenKbps: null,
					});
					expect(renditions.length).toBeLessThanOrEqual(MOST_RENDITIONS);
					expect(renditions.flatMap(({ destinationIds }) => destinationIds).toSorted()).toEqual(
						destinations.map(({ id }) => id).toSorted(),
					);
					for (const { width, height, kbps, destinationIds } of renditions) {
						expect([width % 2, height % 2]).toEqual([0, 0]);
						for (const id of destinationIds) {
							const { maxHeight, maxKbps } = destinations[Number(id)]!;
							if (maxHeight !== null) expect(height).toBeLessThanOrEqual(Math.max(270, maxHeight));
							if (maxKbps !== null) expect(kbps + SOUND_KBPS).toBeLessThanOrEqual(maxKbps);
						}
					}
				},
			),
		);
	});

	it('thinks of the viewers’ own lines', () => {
		const destinations = [{ id: 'a', name: 'Host', maxHeight: null, maxKbps: null, maxFps: null }];
		const warned = (chosenKbps: number) =>
			deliveryPlan({
				picture: { width: 1920, height: 1080, fps: 60 },
				destinations,
				lineKbps: 100_000,
				chosenKbps,
			}).warnings.filter(({ is }) => is === 'overViewers');
		expect(warned(4800)).toEqual([]);
		expect(warned(6000)).toHaveLength(1);
	});

	it('steps down by a third and up by a fifth, and never beyond what was planned', () => {
		let kbps = 2500;
		for (let i = 0; i < 20; i++) kbps = steppedKbps(kbps, 2500, 'down');
		expect(kbps).toBe(625);
		expect(steppedKbps(2500, 2500, 'down')).toBe(1750);
		for (let i = 0; i < 20; i++) kbps = steppedKbps(kbps, 2500, 'up');
		expect(kbps).toBe(2500);
	});
});

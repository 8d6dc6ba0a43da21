import fc from "fast-check";
import { expect, test } from "vitest";
import { type Walked, walkedOn } from "./useWalk";

const START: Walked = { mm: 100, at: 0, since: 0 };

test("an inch is one tick, however often somebody looks", () => {
	const pace = { speed: 5, tick: 25.4 };
	for (const step of [50, 333, 1000]) {
		let [now, ticks] = [START, 0];
		// 20 inches take 101.6 s.
		for (let at = step; at <= 101_700; at += step) {
			const next = walkedOn(now, at, pace);
			[now, ticks] = [next.walked, ticks + next.ticks];
		}
		expect(ticks).toBeGreaterThanOrEqual(19);
		expect(ticks).toBeLessThanOrEqual(20);
	}
});

test("a pace that a reading changes moves nothing that was walked before", () => {
	const slow = walkedOn(START, 10_000, { speed: 4, tick: 25 }).walked;
	expect(slow.mm).toBeCloseTo(140, 9);
	// Twice as fast from now on: at once it is where it was.
	expect(walkedOn(slow, 10_000, { speed: 8, tick: 25 }).walked.mm).toBeCloseTo(140, 9);
	expect(walkedOn(slow, 12_000, { speed: 8, tick: 25 }).walked.mm).toBeCloseTo(156, 9);
});

test("a clock that is set back walks nowhere", () => {
	expect(walkedOn({ ...START, at: 5000 }, 1000, { speed: 4, tick: 25 })).toEqual({
		walked: { mm: 100, at: 1000, since: 0 },
		ticks: 0,
	});
});

test("the way is the sum of its parts, whatever the paces on it", () => {
	const part = fc.record({
		seconds: fc.integer({ min: 0, max: 60 }),
		speed: fc.double({ min: 1, max: 80, noNaN: true }),
	});
	fc.assert(
		fc.property(fc.array(part, { maxLength: 20 }), (parts) => {
			let [now, way] = [START, 0];
			for (const { seconds, speed } of parts) {
				const next = walkedOn(now, now.at + seconds * 1000, { speed, tick: 25 });
				expect(next.ticks).toBeGreaterThanOrEqual(0);
				now = next.walked;
				way += seconds * speed;
			}
			expect(now.mm - START.mm).toBeCloseTo(way, 6);
		}),
	);
});

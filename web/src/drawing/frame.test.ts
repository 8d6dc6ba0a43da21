import fc from "fast-check";
import { expect, test } from "vitest";
import { type Drawing, fit, mm, onDatum, px, ROOM } from "./frame";

const body = (x: number, y: number, w: number, h: number) => ({ bounds: [x, y, w, h] }) as unknown as Drawing;
const sizes = fc.record({
	x: fc.integer({ min: -20000, max: 0 }),
	w: fc.integer({ min: 300, max: 16200 }),
	h: fc.integer({ min: 300, max: 4000 }),
	width: fc.integer({ min: 320, max: 2560 }),
	height: fc.integer({ min: 260, max: 1400 }),
});

test("a body is shown whole, as large as it can be, with room round it", () => {
	fc.assert(
		fc.property(sizes, ({ x, w, h, width, height }) => {
			const { frame } = fit(body(x, 0, w, h), width, height);
			const [left, top] = px(frame, [x, 0]);
			const [right, foot] = px(frame, [x + w, h]);
			expect(left).toBeGreaterThanOrEqual(ROOM.left - 0.01);
			expect(top).toBeCloseTo(ROOM.top, 6);
			expect(right).toBeLessThanOrEqual(width - ROOM.right + 0.01);
			expect(foot).toBeLessThanOrEqual(height - ROOM.bottom + 0.01);
			// It touches its room on one of the two ways.
			const spare = [
				width - ROOM.left - ROOM.right - (right - left),
				height - ROOM.top - ROOM.bottom - (foot - top),
			];
			expect(Math.min(...spare)).toBeLessThan(0.01);
		}),
	);
});

test("a point goes to the screen and comes back", () => {
	fc.assert(
		fc.property(sizes, fc.integer({ min: -9000, max: 9000 }), ({ x, w, h, width, height }, at) => {
			const { frame } = fit(body(x, 0, w, h), width, height);
			const [back, down] = mm(frame, px(frame, [at, at / 3]));
			expect(back).toBeCloseTo(at, 5);
			expect(down).toBeCloseTo(at / 3, 5);
		}),
	);
});

test("a datum is walked from its zero, to the left where it runs to the left", () => {
	expect(
		onDatum(
			[
				[0, 0],
				[-4000, 0],
			],
			1000,
		),
	).toEqual([-1000, 0]);
	const [x, y] = onDatum(
		[
			[0, 0],
			[300, 400],
		],
		250,
	);
	expect([x, y]).toEqual([150, 200]);
});

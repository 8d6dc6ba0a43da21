import fc from "fast-check";
import { expect, test } from "vitest";
import { type Box, settle, type Wanted } from "./tags";

const room: Box = { x: 0, y: 0, w: 1200, h: 340 };
const overlaps = (a: Box, b: Box) =>
	Math.min(a.x + a.w, b.x + b.w) - Math.max(a.x, b.x) > 0.01 &&
	Math.min(a.y + a.h, b.y + b.h) - Math.max(a.y, b.y) > 0.01;
const tag = (x: number, y: number): Wanted => ({ at: [x, y], middle: [x, y - 30], w: 92, h: 34 });

test("on a crowded side no tag covers another, or what any of them points at", () => {
	fc.assert(
		fc.property(
			fc.array(fc.tuple(fc.integer({ min: 40, max: 1160 }), fc.integer({ min: 20, max: 320 })), {
				minLength: 1,
				maxLength: 18,
			}),
			(at) => {
				const wanted = at.map(([x, y]) => tag(x, y));
				const boxes = settle(wanted, [], room);
				expect(boxes.length).toBe(wanted.length);
				for (const [n, box] of boxes.entries()) {
					expect(boxes.slice(n + 1).some((other) => overlaps(box, other))).toBe(false);
					for (const {
						at: [x, y],
					} of wanted) {
						expect(overlaps(box, { x: x - 4, y: y - 4, w: 8, h: 8 })).toBe(false);
					}
					expect(
						box.x >= room.x && box.y >= room.y && box.x + box.w <= room.w && box.y + box.h <= room.h,
					).toBe(true);
				}
			},
		),
	);
});

test("a tag that has room stays where it would best be", () => {
	expect(settle([tag(300, 200)], [], room)[0]).toEqual({ x: 254, y: 153, w: 92, h: 34 });
});

test("what is taken stays free where that can be", () => {
	const letters: Box = { x: 200, y: 150, w: 300, h: 60 };
	const [box] = settle([{ at: [300, 140], middle: [300, 170], w: 92, h: 34 }], [letters], room);
	expect(box && overlaps(box, letters)).toBe(false);
});

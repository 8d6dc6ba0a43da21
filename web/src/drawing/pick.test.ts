import fc from "fast-check";
import { expect, test } from "vitest";
import type { Drawing } from "./frame";
import { boxesOf, pick } from "./pick";

type Area = { feature: string; bounds: number[] };
const drawing = (areas: Area[], columns: unknown[] = []) =>
	({ lines: [], areas, columns }) as unknown as Drawing;

test("of what lies under the finger the smallest is meant, else the nearest within reach", () => {
	const door = { feature: "door", bounds: [0, 0, 1000, 2000] };
	const handle = { feature: "handle", bounds: [800, 900, 120, 60] };
	const side = drawing([door, handle]);
	expect(pick(side, [850, 930], 20)).toBe("handle");
	expect(pick(side, [300, 300], 20)).toBe("door");
	// Beside both: the door is nearer.
	expect(pick(side, [1015, 100], 20)).toBe("door");
	expect(pick(side, [1100, 100], 20)).toBeUndefined();
});

test("a column of rivets is one thing, as wide as its heads", () => {
	const column = {
		feature: "rivets",
		heads: [
			[100, 50],
			[100, 150],
			[100, 250],
		],
		head_mm: 10,
	};
	const side = drawing([], [column]);
	expect(boxesOf(side)).toEqual([{ feature: "rivets", box: [95, 45, 10, 210] }]);
	expect(pick(side, [104, 200], 0)).toBe("rivets");
});

test("what is picked lies within reach, and nothing nearer was passed over", () => {
	const area = fc.record({
		x: fc.nat(900),
		y: fc.nat(900),
		w: fc.integer({ min: 1, max: 200 }),
		h: fc.integer({ min: 1, max: 200 }),
	});
	fc.assert(
		fc.property(
			fc.array(area, { maxLength: 8 }),
			fc.nat(1000),
			fc.nat(1000),
			fc.nat(80),
			(areas, x, y, reach) => {
				const side = drawing(areas.map((a, n) => ({ feature: `${n}`, bounds: [a.x, a.y, a.w, a.h] })));
				const away = (a: (typeof areas)[number]) => {
					const [dx, dy] = [
						Math.max(a.x, Math.min(x, a.x + a.w)) - x,
						Math.max(a.y, Math.min(y, a.y + a.h)) - y,
					];
					return Math.sqrt(dx * dx + dy * dy);
				};
				const found = pick(side, [x, y], reach);
				const distances = areas.map(away);
				if (found === undefined) expect(distances.every((d) => d > reach)).toBe(true);
				else expect(distances[Number(found)]).toBeCloseTo(Math.min(...distances), 9);
			},
		),
	);
});

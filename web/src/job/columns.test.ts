import fc from "fast-check";
import { expect, test } from "vitest";
import { columns } from "./columns";

const of = (r: { value: number | null }) => r.value;

test("each column holds the lowest and the highest of its time", () => {
	const readings = [
		{ ms: -5, value: 99 },
		{ ms: 0, value: 10 },
		{ ms: 4, value: 12 },
		{ ms: 9, value: null },
		{ ms: 15, value: 8 },
		{ ms: 20, value: 7 },
		{ ms: 21, value: -99 },
	];
	expect(columns(readings, of, 0, 20, 2)).toEqual([
		{ low: 10, high: 12 },
		{ low: 7, high: 8 },
	]);
	expect(columns([], of, 0, 20, 2)).toEqual([null, null]);
	expect(columns(readings, of, 0, 20, 0)).toEqual([]);
});

test("nothing that was read within the time is lost", () => {
	fc.assert(
		fc.property(
			fc.array(fc.tuple(fc.integer({ min: 0, max: 1000 }), fc.integer({ min: -40, max: 60 }))),
			fc.integer({ min: 1, max: 300 }),
			(pairs, width) => {
				const readings = pairs.map(([ms, value]) => ({ ms, value })).sort((a, b) => a.ms - b.ms);
				const inside = readings.filter((r) => r.ms >= 100 && r.ms <= 900).map((r) => r.value);
				const found = columns(readings, of, 100, 900, width).flatMap((c) => (c ? [c.low, c.high] : []));
				if (inside.length === 0) expect(found).toEqual([]);
				else {
					expect(Math.min(...found)).toBe(Math.min(...inside));
					expect(Math.max(...found)).toBe(Math.max(...inside));
				}
			},
		),
	);
});

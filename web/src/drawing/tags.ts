import type { Point } from "./frame";

export type Box = { x: number; y: number; w: number; h: number };

/** A tag that wants a place: what it points at, how large it is, and where its middle would best be, px. */
export type Wanted = { at: Point; middle: Point; w: number; h: number };

const overlap = (a: Box, b: Box) =>
	Math.max(0, Math.min(a.x + a.w, b.x + b.w) - Math.max(a.x, b.x)) *
	Math.max(0, Math.min(a.y + a.h, b.y + b.h) - Math.max(a.y, b.y));

/** Directions in which a place is looked for, the ones that read best first. */
const WAYS: readonly Point[] = [
	[0, -1],
	[0, 1],
	[1, 0],
	[-1, 0],
	[1, -1],
	[-1, -1],
	[1, 1],
	[-1, 1],
];
const STEP = 7;
const RINGS = 40;
/** Room that is kept round what a tag points at, px. */
const POINT = 5;

/**
 * Puts tags where they cover neither each other nor what they point at, nor anything in `taken`; each as near to where it would best be as
 * that allows, and all within `room`. Where there is no such place the one that covers least is taken.
 */
export function settle(wanted: readonly Wanted[], taken: readonly Box[], room: Box): Box[] {
	// What stands on its own line points at nothing else.
	const points = wanted
		.filter(({ at, middle }) => at[0] !== middle[0] || at[1] !== middle[1])
		.map(({ at: [x, y] }): Box => ({ x: x - POINT, y: y - POINT, w: 2 * POINT, h: 2 * POINT }));
	const placed: Box[] = [];
	for (const { middle, w, h } of wanted) {
		const within = (x: number, y: number): Box => ({
			x: Math.min(Math.max(x - w / 2, room.x), Math.max(room.x, room.x + room.w - w)),
			y: Math.min(Math.max(y - h / 2, room.y), Math.max(room.y, room.y + room.h - h)),
			w,
			h,
		});
		const covers = (box: Box) =>
			[...placed, ...points, ...taken].reduce((sum, b) => sum + overlap(box, b), 0);
		let best = within(middle[0], middle[1]);
		let least = covers(best);
		search: for (let ring = 1; ring <= RINGS && least > 0; ring++) {
			for (const [dx, dy] of WAYS) {
				const box = within(middle[0] + dx * ring * STEP, middle[1] + dy * ring * STEP);
				const much = covers(box);
				if (much < least) {
					best = box;
					least = much;
					if (least === 0) break search;
				}
			}
		}
		placed.push(best);
	}
	return placed;
}

/** The nearest point of a box: where a leader line leaves it. */
export const leaves = (box: Box, [x, y]: Point): Point => [
	Math.min(Math.max(x, box.x), box.x + box.w),
	Math.min(Math.max(y, box.y), box.y + box.h),
];

import type { Drawing, Point } from "./frame";

type Box = { feature: string; box: number[] };

/** Every drawn part with its feature and box, mm. */
export function boxesOf(drawing: Drawing): Box[] {
	return [
		...drawing.lines.map((l) => ({ feature: l.feature, box: l.bounds })),
		...drawing.areas.map((a) => ({ feature: a.feature, box: a.bounds })),
		...drawing.columns.map((c) => {
			const [xs, ys] = [c.heads.map((h) => h[0] ?? 0), c.heads.map((h) => h[1] ?? 0)];
			const r = c.head_mm / 2;
			const [x, y] = [Math.min(...xs) - r, Math.min(...ys) - r];
			return { feature: c.feature, box: [x, y, Math.max(...xs) + r - x, Math.max(...ys) + r - y] };
		}),
	];
}

const away = ([x = 0, y = 0, w = 0, h = 0]: number[], [px, py]: Point) =>
	Math.hypot(Math.max(x - px, 0, px - x - w), Math.max(y - py, 0, py - y - h));

/** The feature that a fingertip means: the nearest within reach, of several under it the smallest. */
export function pick(drawing: Drawing, at: Point, reach: number): string | undefined {
	const near = boxesOf(drawing)
		.map((b) => ({ ...b, away: away(b.box, at), size: (b.box[2] ?? 0) * (b.box[3] ?? 0) }))
		.filter((b) => b.away <= reach);
	near.sort((a, b) => (a.away > 0 || b.away > 0 ? a.away - b.away : 0) || a.size - b.size);
	return near[0]?.feature;
}

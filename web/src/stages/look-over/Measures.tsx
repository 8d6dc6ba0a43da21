import type { Schemas } from "../../api/client";
import { type Frame, type Point, px } from "../../drawing/frame";
import { MeasureLine } from "../../drawing/Tape";
import type { Box } from "../../drawing/tags";
import { Figures, type PictureFigure } from "../../readings/Figures";

/** A measure with what it is called and how it is kept. */
export type Measure = {
	dimension: Schemas["Dimension"];
	label: string;
	text: string;
	/** Came with a starting shape; nobody has measured it. */
	unmeasured?: boolean;
	onCommit: (text: string) => Promise<unknown>;
};

/** What is no larger than this is hidden whole by a tag that lies on it, px. */
const SMALL = 60;

/** What is measured, where a tag could hide it, px. */
function small(boxes: readonly number[][], frame: Frame): Box[] {
	return boxes
		.map(([x = 0, y = 0, w = 0, h = 0]) => {
			const [[x0, y0], [x1, y1]] = [px(frame, [x, y]), px(frame, [x + w, y + h])];
			return { x: x0, y: y0, w: x1 - x0, h: y1 - y0 };
		})
		.filter(({ w, h }) => w <= SMALL && h <= SMALL);
}

/** Room between an edge and the line of its measure, px. */
const OFF = 22;

/** Where a measure's line runs: beside an edge that it measures, inside the body; across anything else where it is taken. */
function lineOf(frame: Frame, { dimension }: Measure, bounds: number[]): [Point, Point] {
	const [from, to] = [px(frame, dimension.from), px(frame, dimension.to)];
	const [x = 0, y = 0, w = 0, h = 0] = bounds;
	const middle = px(frame, [x + w / 2, y + h / 2]);
	const [dx, dy] = [Math.abs(to[0] - from[0]), Math.abs(to[1] - from[1])];
	const foot = px(frame, [x, y + h])[1];
	if (dy < 1 && dx > 0 && Math.abs(from[1] - foot) < 2)
		return [
			[from[0], foot + OFF],
			[to[0], foot + OFF],
		];
	const [left, right] = [px(frame, [x, y])[0], px(frame, [x + w, y])[0]];
	const upright = dx < 1 && (Math.abs(from[0] - left) < 2 || Math.abs(from[0] - right) < 2);
	const inwards = upright ? Math.sign(middle[0] - from[0]) * OFF : 0;
	return [
		[from[0] + inwards, from[1]],
		[to[0] + inwards, to[1]],
	];
}

/** The lines of measures in the picture. */
export function MeasureLines({
	measures,
	frame,
	bounds,
}: {
	measures: readonly Measure[];
	frame: Frame;
	bounds: number[];
}) {
	return measures.map((m) => {
		const [from, to] = lineOf(frame, m, bounds);
		return <MeasureLine key={m.dimension.at} from={from} to={to} />;
	});
}

/** Measures, typed where the tape is held. */
export function Measures({
	measures,
	frame,
	bounds,
	of,
	width,
	height,
}: {
	measures: readonly Measure[];
	frame: Frame;
	bounds: number[];
	/** Boxes of what is measured, mm: they stay in sight. */
	of: readonly number[][];
	width: number;
	height: number;
}) {
	const figures = measures.map((m): PictureFigure => {
		const [from, to] = lineOf(frame, m, bounds);
		const middle: Point = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
		return {
			key: m.dimension.at,
			label: m.unmeasured ? `${m.label}, not measured yet` : m.label,
			text: m.text,
			doubtful: m.unmeasured,
			at: middle,
			middle,
			onCommit: m.onCommit,
			look: "measure",
		};
	});
	return <Figures figures={figures} taken={small(of, frame)} width={width} height={height} />;
}

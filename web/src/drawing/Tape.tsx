import type { Schemas } from "../api/client";
import { type Drawing, type Frame, onDatum, type Point, px } from "./frame";

type Unit = Schemas["Unit"];

/** Marks of the tape for a unit: mm apart, small marks in one large, and how a large mark is labelled. */
const MARKS = {
	inch: { large: 304.8, small: 4, steps: [1, 2, 5, 10], room: 46, label: (n: number) => `${n}'` },
	metre: { large: 500, small: 5, steps: [1, 2, 4, 10], room: 68, label: (n: number) => `${n / 2} m` },
};

/** A tape hung along the datum, its zero at the vehicle's front whichever way it faces. */
export function Tape({ drawing, frame, unit }: { drawing: Drawing; frame: Frame; unit: Unit }) {
	const marks = unit === "millimetre" ? MARKS.metre : MARKS.inch;
	const [zero, end] = [px(frame, drawing.datum[0]), px(frame, drawing.datum[1])] as const;
	const lengthPx = Math.hypot(end[0] - zero[0], end[1] - zero[1]);
	const lengthMm = lengthPx / frame.scale;
	const angle = (Math.atan2(end[1] - zero[1], end[0] - zero[0]) * 180) / Math.PI;
	const toLeft = end[0] < zero[0];
	const perLarge = marks.large * frame.scale;
	const step = marks.steps.find((s) => s * perLarge >= marks.room) ?? 20;
	const count = Math.floor(lengthMm / marks.large);
	const smalls = perLarge / marks.small >= 5 ? marks.small : 1;
	// Drawn along its own axis from the zero; turned into place with the datum, words kept upright.
	const turn = toLeft ? angle - 180 : angle;
	const along = (mm: number) => (toLeft ? -mm : mm) * frame.scale;
	const ticks = Array.from({ length: count * smalls + smalls }, (_, n) => (n * marks.large) / smalls).filter(
		(mm) => mm <= lengthMm + 0.01,
	);
	return (
		<g transform={`translate(${zero[0]} ${zero[1]}) rotate(${turn})`} aria-hidden>
			<rect
				x={toLeft ? -lengthPx : 0}
				y={-44}
				width={lengthPx}
				height={30}
				fill="var(--color-tape-ground)"
				stroke="var(--color-tape-edge)"
				strokeWidth={1}
			/>
			{ticks.map((mm, n) => {
				const large = n % smalls === 0;
				return (
					<line
						key={mm}
						x1={along(mm)}
						x2={along(mm)}
						y1={-14}
						y2={large ? -25 : -20}
						stroke="var(--color-tape-mark)"
						strokeWidth={large ? 1.6 : 1}
					/>
				);
			})}
			{Array.from({ length: count + 1 }, (_, n) => n)
				.filter((n) => n % step === 0 && n * perLarge < lengthPx - 26)
				.map((n) => (
					<text
						key={n}
						x={along(n * marks.large) + (toLeft ? -4 : 4)}
						y={-28}
						fontSize={16}
						fontWeight={600}
						textAnchor={toLeft ? "end" : "start"}
						fill="var(--color-tape-mark)"
					>
						{marks.label(n)}
					</text>
				))}
			<line x1={0} x2={along(lengthMm)} y1={0} y2={0} stroke="var(--color-measure)" strokeWidth={4} />
		</g>
	);
}

/** The word FRONT at the front edge, reading upwards. */
export function FrontMark({ drawing, frame }: { drawing: Drawing; frame: Frame }) {
	const [bx, by, bw, bh] = drawing.bounds as [number, number, number, number];
	const word = {
		fontSize: 16,
		fontWeight: 700,
		letterSpacing: 3,
		fill: "var(--color-ink)",
		textAnchor: "middle",
	} as const;
	if (drawing.front === "not_in_it") return null;
	if (drawing.front === "top" || drawing.front === "foot") {
		const [x, y] = px(frame, [bx + bw / 2, drawing.front === "top" ? by : by + bh]);
		return (
			<text x={x} y={y + (drawing.front === "top" ? 20 : 50)} {...word}>
				FRONT
			</text>
		);
	}
	const left = drawing.front === "left";
	const [x, y] = px(frame, [left ? bx : bx + bw, by + bh / 2]);
	const beside = left ? x - 14 : x + 26;
	return (
		<text x={beside} y={y} transform={`rotate(-90 ${beside} ${y})`} {...word}>
			FRONT
		</text>
	);
}

/** Where the middle of a slip's tag best stands: on its line, well above what it points at. */
export function slipAt(datum: number[][], frame: Frame, flat: Schemas["Flat"]): { at: Point; middle: Point } {
	const top = px(frame, onDatum(datum, flat.back_mm));
	const foot = px(frame, flat.at);
	return { at: foot, middle: [(top[0] + foot[0]) / 2, top[1] + Math.max((foot[1] - top[1]) * 0.42, 21)] };
}

/** The line of a slip from the datum to the flat that it is held at. */
export function DropLine({
	datum,
	frame,
	flat,
	dim,
}: {
	datum: number[][];
	frame: Frame;
	flat: Schemas["Flat"];
	dim?: boolean;
}) {
	const top = px(frame, onDatum(datum, flat.back_mm));
	const foot = px(frame, flat.at);
	const line = { x1: top[0], y1: top[1], x2: foot[0], y2: foot[1] };
	return (
		<g opacity={dim ? 0.45 : 1} pointerEvents="none">
			<line {...line} stroke="var(--color-paper)" strokeWidth={5} />
			<line {...line} stroke="var(--color-measure)" strokeWidth={2.5} />
			<line
				x1={foot[0] - 14}
				y1={foot[1]}
				x2={foot[0] + 14}
				y2={foot[1]}
				stroke="var(--color-measure)"
				strokeWidth={4}
			/>
		</g>
	);
}

/** How far below the body its chain runs, px. */
const CHAIN = 24;

const chainY = (drawing: Drawing, frame: Frame) => {
	const [, by = 0, , bh = 0] = drawing.bounds;
	return (by + bh - frame.y) * frame.scale + CHAIN;
};

/** Where each gap of a chain stands: its middle on the chain's line. */
export function chainGaps(
	drawing: Drawing,
	datum: number[][],
	frame: Frame,
	marks: readonly Schemas["ChainMark"][],
): { number: number; text: string; from: string; to: string; at: Point }[] {
	const y = chainY(drawing, frame);
	const x = (mm: number) => px(frame, onDatum(datum, mm))[0];
	return marks.slice(1).map((mark, n) => {
		const before = marks[n];
		const middle = (x(before?.running.mm ?? 0) + x(mark.running.mm)) / 2;
		return { number: n + 1, text: mark.gap.text, from: before?.name ?? "", to: mark.name, at: [middle, y] };
	});
}

/** The line of the chain under the body, a tick at each mark. Its gaps close on paper: they are differences of the printed running distances. */
export function Chain({
	drawing,
	datum,
	frame,
	marks,
	dim,
}: {
	drawing: Drawing;
	datum: number[][];
	frame: Frame;
	marks: Schemas["ChainMark"][];
	dim?: boolean;
}) {
	const y = chainY(drawing, frame);
	const xs = marks.map((m) => px(frame, onDatum(datum, m.running.mm))[0]);
	if (xs.length === 0) return null;
	return (
		<path
			opacity={dim ? 0.45 : 1}
			d={`M${Math.min(...xs)} ${y}H${Math.max(...xs)}${xs.map((x) => `M${x} ${y - 7}V${y + 7}`).join("")}`}
			stroke="var(--color-ink)"
			strokeWidth={1.5}
			fill="none"
			pointerEvents="none"
		/>
	);
}

/** The line of a measure between the two places where the tape is held. */
export function MeasureLine({ from, to }: { from: Point; to: Point }) {
	const length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
	const [ux, uy] = [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
	const tick = ([x, y]: Point) => `M${x - uy * 6} ${y + ux * 6}L${x + uy * 6} ${y - ux * 6}`;
	const d = `M${from[0]} ${from[1]}L${to[0]} ${to[1]}${tick(from)}${tick(to)}`;
	return (
		<g fill="none" pointerEvents="none">
			<path d={d} stroke="var(--color-paper)" strokeWidth={5} />
			<path d={d} stroke="var(--color-measure)" strokeWidth={2} />
		</g>
	);
}

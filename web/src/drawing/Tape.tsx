import type { Schemas } from "../api/client";
import { type Drawing, type Frame, onDatum, type Point, px, readingWidth } from "./frame";

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
				fill="#f7edd4"
				stroke="#b89a5e"
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
						stroke="#3d3524"
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
						fill="#3d3524"
					>
						{marks.label(n)}
					</text>
				))}
			<line x1={0} x2={along(lengthMm)} y1={0} y2={0} stroke="#2353a4" strokeWidth={4} />
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
		fill: "#1b2628",
		textAnchor: "middle",
	} as const;
	if (drawing.front === "not_in_it") return null;
	if (drawing.front === "top" || drawing.front === "foot") {
		const [x, y] = px(frame, [bx + bw / 2, drawing.front === "top" ? by : by + bh]);
		return (
			<text x={x} y={y + (drawing.front === "top" ? 20 : 24)} {...word}>
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

/** A reading on blue with its drop line from the datum. */
export function DropLine({
	datum,
	frame,
	flat,
	dim,
	size = 22,
	apartFrom,
}: {
	datum: number[][];
	frame: Frame;
	flat: Schemas["Flat"];
	dim?: boolean;
	size?: number;
	/** The other flat: where both are near each other, their tags stand outwards. */
	apartFrom?: Schemas["Flat"];
}) {
	const top = px(frame, onDatum(datum, flat.back_mm));
	const foot = px(frame, flat.at);
	const text = flat.wanted.text;
	const width = readingWidth(text, size) + 18;
	const height = size + 16;
	const other = apartFrom && px(frame, apartFrom.at)[0];
	const near = other !== undefined && Math.abs(other - foot[0]) < width;
	const middle: Point = [
		(top[0] + foot[0]) / 2 + (near ? (Math.sign(foot[0] - other) || -1) * (width / 2 + 3) : 0),
		top[1] + Math.max((foot[1] - top[1]) * 0.42, height / 2 + 3),
	];
	return (
		<g opacity={dim ? 0.45 : 1} pointerEvents="none">
			<line x1={top[0]} y1={top[1]} x2={foot[0]} y2={foot[1]} stroke="#fdfcf7" strokeWidth={5} />
			<line x1={top[0]} y1={top[1]} x2={foot[0]} y2={foot[1]} stroke="#2353a4" strokeWidth={2.5} />
			<line x1={foot[0] - 14} y1={foot[1]} x2={foot[0] + 14} y2={foot[1]} stroke="#2353a4" strokeWidth={4} />
			<rect
				x={middle[0] - width / 2}
				y={middle[1] - height / 2}
				width={width}
				height={height}
				rx={4}
				fill="#2353a4"
				stroke="#fdfcf7"
				strokeWidth={1.5}
			/>
			<text
				x={middle[0]}
				y={middle[1] + size * 0.36}
				textAnchor="middle"
				fontFamily="B612 Mono"
				fontWeight={700}
				fontSize={size}
				fill="#fff"
			>
				{text}
			</text>
		</g>
	);
}

/** The chain of distances under the body. Its gaps close on paper: they are differences of the printed running distances. */
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
	const [, by, , bh] = drawing.bounds as [number, number, number, number];
	const y = (by + bh - frame.y) * frame.scale + 26;
	const at = (mm: number) => px(frame, onDatum(datum, mm))[0];
	return (
		<g opacity={dim ? 0.45 : 1} pointerEvents="none">
			{marks.map((mark, n) => {
				const before = marks[n - 1];
				const x = at(mark.running.mm);
				if (!before)
					return <line key={n} x1={x} x2={x} y1={y - 7} y2={y + 7} stroke="#1b2628" strokeWidth={1.6} />;
				const from = at(before.running.mm);
				const middle = (from + x) / 2;
				const room = Math.abs(x - from);
				const width = readingWidth(mark.gap.text, 16) + 12;
				return (
					<g key={n}>
						<line x1={from} x2={x} y1={y} y2={y} stroke="#1b2628" strokeWidth={1.4} />
						<line x1={x} x2={x} y1={y - 7} y2={y + 7} stroke="#1b2628" strokeWidth={1.6} />
						{room > width && (
							<>
								<rect x={middle - width / 2} y={y - 11} width={width} height={22} fill="#e9e6da" />
								<text
									x={middle}
									y={y + 6}
									textAnchor="middle"
									fontFamily="B612 Mono"
									fontSize={16}
									fill="#1b2628"
								>
									{mark.gap.text}
								</text>
							</>
						)}
					</g>
				);
			})}
		</g>
	);
}

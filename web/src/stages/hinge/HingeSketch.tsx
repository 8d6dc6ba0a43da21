import type { Schemas } from "../../api/client";

type Kind = Schemas["HingeKind"];
type Bar = readonly [x: number, y: number, w: number, h: number];

/** The film in its sketch: left, top, width, height. */
const FILM = [10, 9, 68, 30] as const;
/** Tape, as it lies on film and body. */
const TAPE: Partial<Record<Kind, readonly Bar[]>> = {
	top: [[10, 5, 68, 8]],
	side: [[6, 9, 8, 30]],
	centre: [[40, 4, 8, 40]],
	corner_tabs: [
		[12, 3, 7, 12],
		[69, 3, 7, 12],
	],
};
const MAGNETS = [
	[16, 12],
	[44, 12],
	[72, 12],
] as const;

/** What a hinge looks like: film, and what holds it. */
export function HingeSketch({ kind }: { kind: Kind }) {
	const [x, y, w, h] = FILM;
	return (
		<svg
			width={88}
			height={48}
			viewBox="0 0 88 48"
			className="shrink-0"
			aria-hidden
			data-testid="hinge-sketch"
		>
			<rect
				x={x}
				y={y}
				width={w}
				height={h}
				fill="var(--color-sheet)"
				stroke="var(--color-ink)"
				strokeWidth={1.5}
				strokeDasharray={kind === "float" ? "4 3" : undefined}
			/>
			{TAPE[kind]?.map(([bx, by, bw, bh]) => (
				<rect
					key={`${bx} ${by}`}
					x={bx}
					y={by}
					width={bw}
					height={bh}
					fill="var(--color-tape)"
					stroke="var(--color-ink)"
					strokeWidth={1}
				/>
			))}
			{kind === "magnets" &&
				MAGNETS.map(([cx, cy]) => <circle key={cx} cx={cx} cy={cy} r={4.5} fill="var(--color-ink)" />)}
			{kind === "liner_window" && (
				<rect x={38} y={y} width={12} height={h} fill="var(--color-measure)" opacity={0.75} />
			)}
			{kind === "pressed" && (
				<path d={`M${x} ${y + 5} H${x + w}`} stroke="var(--color-measure)" strokeWidth={6} opacity={0.75} />
			)}
			{kind === "float" &&
				[
					[x, -6],
					[x + w, 6],
				].map(([at = 0, out = 0]) => (
					<path
						key={at}
						d={`M${at} 24 h${out} m${-out / 2} -4 l${out / 2} 4 l${-out / 2} 4`}
						fill="none"
						stroke="var(--color-ink)"
						strokeWidth={2}
					/>
				))}
		</svg>
	);
}

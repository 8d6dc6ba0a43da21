import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { type Frame, fit, useWidth } from "./frame";
import { type Handling, Scene } from "./Scene";
import { FrontMark, Tape } from "./Tape";

/** A side to scale with a tape along its datum, filling the width up to a height. */
export function SidePicture({
	side,
	pieces,
	maxHeight,
	handling,
	children,
	figures,
	label,
	ghost,
	photo,
	belowMm = 0,
}: {
	side: Schemas["SideView"];
	pieces: Schemas["PieceView"][];
	maxHeight: number;
	/** Room that is shown below the body, mm: down to the ground, where that is wanted. */
	belowMm?: number;
	handling?: (frame: Frame) => Handling;
	children?: (frame: Frame) => ReactNode;
	/** Figures that stand over the drawing, to be typed where they stand. */
	figures?: (frame: Frame, size: { width: number; height: number }) => ReactNode;
	label: string;
	ghost?: boolean;
	/** With the side's photo under it, where it has one. */
	photo?: boolean;
}) {
	const [ref, width] = useWidth();
	const [x, y, w, h] = side.drawing.bounds as [number, number, number, number];
	const shown = { ...side.drawing, bounds: [x, y, w, h + belowMm] };
	const { frame, height } = fit(shown, Math.max(width, 300), maxHeight);
	return (
		<div ref={ref} className="relative w-full">
			{width > 0 && (
				<svg
					width={width}
					height={height}
					role="group"
					aria-label={label}
					data-testid="side-picture"
					className="block"
				>
					<Scene
						drawing={side.drawing}
						pieces={pieces}
						frame={frame}
						handling={handling?.(frame)}
						ghost={ghost}
						under={photo ? side.underlay : null}
					/>
					<LiesThere pieces={pieces} frame={frame} />
					<Tape drawing={side.drawing} frame={frame} unit={side.unit} />
					<FrontMark drawing={side.drawing} frame={frame} />
					{children?.(frame)}
				</svg>
			)}
			{width > 0 && figures?.(frame, { width, height })}
		</div>
	);
}

/** A magnified window on a side: what a fingertip would cover in the whole picture. */
export function Magnified({
	side,
	pieces,
	at,
	width,
	height,
	scale = 0.42,
	children,
	label,
}: {
	side: Schemas["SideView"];
	pieces: Schemas["PieceView"][];
	at: readonly [number, number];
	width: number;
	height: number;
	/** Pixels per mm. */
	scale?: number;
	children?: (frame: Frame) => ReactNode;
	label: string;
}) {
	const frame: Frame = { scale, x: at[0] - width / 2 / scale, y: at[1] - height / 2 / scale };
	return (
		<svg
			width={width}
			height={height}
			viewBox={`0 0 ${width} ${height}`}
			role="img"
			aria-label={label}
			className="block shrink-0 rounded border border-soft bg-outside"
		>
			<Scene drawing={side.drawing} pieces={pieces} frame={frame} />
			{children?.(frame)}
		</svg>
	);
}

/** Where pieces lie that the plan has elsewhere by now: dashed, with a word. */
function LiesThere({ pieces, frame }: { pieces: Schemas["PieceView"][]; frame: Frame }) {
	return pieces
		.filter((p) => p.laid && p.moved)
		.map((p) => {
			const corners = (p.moved?.corners_then ?? []).map(([x = 0, y = 0]) => [
				(x - frame.x) * frame.scale,
				(y - frame.y) * frame.scale,
			]);
			const [x = 0, y = 0] = corners[0] ?? [];
			return (
				<g key={p.id} data-testid="lies-there">
					<polygon
						points={corners.map((c) => c.join()).join(" ")}
						fill="none"
						stroke="var(--color-trouble)"
						strokeWidth={2}
						strokeDasharray="8 5"
					/>
					<text x={x + 4} y={y - 5} fill="var(--color-trouble)" fontSize={16} fontWeight={700}>
						{p.called} lies here
					</text>
				</g>
			);
		});
}

import { useEffect, useRef } from "react";
import type { Schemas } from "../../../api/client";
import { type Frame, px } from "../../../drawing/frame";
import { Scene } from "../../../drawing/Scene";
import { MarkRuns } from "./MarkRuns";
import type { Found, Strip } from "./types";

/** A rivet's head of 3/8 in is 4 px across, px per mm. */
const SCALE = 4 / 9.525;
/** What is seen above and below the strips, mm. */
const AROUND = 150;
const EDGE = 24;
/** Lines of figures under the strips, px. */
const FIGURES = 26;

/**
 * The line of strips unrolled along the tape, so large that rivets and strips' ends are seen: it scrolls under the finger, and goes where
 * a strip is taken hold of elsewhere.
 */
export function Unrolled({
	side,
	found,
	follow,
	...moving
}: {
	side: Schemas["SideView"];
	found: Found;
	/** The strip that somebody has hold of, by its number. */
	follow: number | null;
	step: number;
	onHold?: (number: number) => void;
	onMove?: (strips: Strip[]) => void;
	onRest?: () => void;
}) {
	const pane = useRef<HTMLDivElement>(null);
	const line = found.strips.filter((s) => !s.strip.upright && s.strip.element === "line");
	const corners = line.flatMap((s) => s.runs.flatMap((r) => r.corners));
	const ys = corners.map((c) => c[1] ?? 0);
	const [x = 0, , w = 0] = side.drawing.bounds as [number, number, number, number];
	const top = Math.min(...ys) - AROUND;
	const frame: Frame = { scale: SCALE, x: x - EDGE / SCALE, y: top };
	const spans = line.map((s) => {
		const xs = s.runs.flatMap((r) => r.corners).map((c) => px(frame, c)[0]);
		return { number: s.number, from: Math.min(...xs), to: Math.max(...xs) };
	});
	const held = spans.find((s) => s.number === follow);
	const middle = held ? (held.from + held.to) / 2 : null;
	useEffect(() => {
		const element = pane.current;
		if (!element || middle === null) return;
		const seen = middle > element.scrollLeft + 60 && middle < element.scrollLeft + element.clientWidth - 60;
		if (!seen) element.scrollTo({ left: middle - element.clientWidth / 2 });
	}, [middle]);
	if (line.length === 0) return null;
	const foot = Math.max(...ys) + AROUND;
	const drawn = (foot - top) * SCALE;
	const width = w * SCALE + 2 * EDGE;
	return (
		<section
			ref={pane}
			aria-label="Magnified along the tape"
			// biome-ignore lint/a11y/noNoninteractiveTabindex: a pane that scrolls is reached by keys
			tabIndex={0}
			data-testid="unrolled"
			className="mb-3 overflow-x-auto overscroll-x-contain rounded border border-soft bg-paper"
		>
			<svg
				width={width}
				height={drawn + FIGURES}
				role="img"
				aria-label="Strips along the tape"
				className="block"
			>
				<Scene drawing={side.drawing} pieces={[]} frame={frame} />
				<rect y={drawn} width={width} height={FIGURES} fill="var(--color-paper)" />
				<MarkRuns found={found} frame={frame} {...moving} named="magnified-strip" />
				{line.map((s, n) => {
					const span = spans[n];
					if (!span) return null;
					return (
						<g
							key={s.number}
							fontSize={15}
							fontFamily="B612 Mono"
							fontWeight={700}
							fill="var(--color-measure)"
						>
							{[span.from, span.to].map((at, end) => (
								<line
									key={at}
									x1={at}
									x2={at}
									y1={drawn - AROUND * SCALE + 6}
									y2={drawn + (end === 0 ? 6 : 4)}
									stroke="var(--color-measure)"
								/>
							))}
							<text x={span.from + 3} y={drawn + 18}>
								{s.start.text}
							</text>
							{span.to - span.from > 150 && (
								<text x={span.to - 3} y={drawn + 18} textAnchor="end">
									{s.end.text}
								</text>
							)}
						</g>
					);
				})}
			</svg>
		</section>
	);
}

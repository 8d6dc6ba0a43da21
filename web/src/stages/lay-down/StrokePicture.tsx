import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { Closeup } from "../../drawing/Closeup";
import { type Frame, type Point, px } from "../../drawing/frame";

type Stroke = Schemas["StrokeShown"];
type Air = Schemas["AirShutIn"];

const line = (frame: Frame, path: readonly (readonly number[])[]) =>
	path.map((p) => px(frame, p).join(",")).join(" ");

/** A section with the strokes that were made, the one at hand, and air that has no way out. */
export function StrokePicture({
	side,
	piece,
	part,
	at,
	maxHeight,
}: {
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	part: Schemas["SectionStrokes"];
	/** Strokes before this one are made; it is the one at hand. */
	at: number;
	maxHeight: number;
}) {
	const current = part.strokes[at];
	const many = part.strokes.length > 40;
	return (
		<Closeup
			side={side}
			pieces={[piece]}
			points={part.corners}
			maxHeight={maxHeight}
			film={0.55}
			label={`${part.called}: stroke ${Math.min(at + 1, part.strokes.length)} of ${part.strokes.length}`}
		>
			{(frame) => (
				<g pointerEvents="none">
					<polygon
						points={line(frame, part.corners)}
						fill="none"
						stroke="var(--color-ink)"
						strokeWidth={2}
						strokeDasharray="8 5"
					/>
					{part.strokes
						.slice(0, at)
						.map((s) =>
							s.shape.length > 0 ? (
								<polygon
									key={s.number}
									points={line(frame, s.shape)}
									fill="var(--color-spruce)"
									fillOpacity={0.3}
								/>
							) : (
								<polyline
									key={s.number}
									points={line(frame, s.path)}
									fill="none"
									stroke="var(--color-spruce)"
									strokeWidth={3}
								/>
							),
						)}
					{(many ? part.strokes.slice(at, at + 12) : part.strokes)
						.filter((s) => s !== current)
						.map((s) => (
							<Arrow key={s.number} frame={frame} stroke={s} look={s.number > at + 1 ? "later" : "done"} />
						))}
					{current && <Arrow frame={frame} stroke={current} look="now" />}
					{part.shut_in.map((air) => (
						<ShutIn key={air.corners.join()} frame={frame} air={air} />
					))}
				</g>
			)}
		</Closeup>
	);
}

/** Where a stroke begins, with its number, and which way it goes. */
function Arrow({ frame, stroke, look }: { frame: Frame; stroke: Stroke; look: "done" | "now" | "later" }) {
	const points = stroke.path.map((p) => px(frame, p));
	const first = points[0];
	const last = points.at(-1);
	const before = points.at(-2);
	if (!first || !last || !before) return null;
	const length = Math.hypot(last[0] - before[0], last[1] - before[1]) || 1;
	const [ux, uy] = [(last[0] - before[0]) / length, (last[1] - before[1]) / length];
	const size = look === "now" ? 18 : 10;
	const wing = (side: number) =>
		`${last[0] - ux * size - uy * side * size * 0.6},${last[1] - uy * size + ux * side * size * 0.6}`;
	// The number stands a little along the stroke: two that begin at one place are both read.
	const second = points[1] ?? last;
	const start = Math.hypot(second[0] - first[0], second[1] - first[1]) || 1;
	const inward = Math.min(look === "now" ? 20 : 14, start / 2) / start;
	const mark: Point = [
		first[0] + (second[0] - first[0]) * inward,
		first[1] + (second[1] - first[1]) * inward,
	];
	// Where bands are narrow on the screen, numbers would lie over each other: the arrows tell the order then.
	const numbered = look === "now" || (look === "later" && stroke.width_mm * frame.scale > 36);
	const colour = look === "now" ? "var(--color-measure)" : "var(--color-ink)";
	const path = points.map((p) => p.join(",")).join(" ");
	return (
		<g opacity={look === "done" ? 0.35 : 1}>
			{look === "now" && (
				<polygon
					points={line(frame, stroke.shape)}
					fill="var(--color-measure)"
					fillOpacity={0.25}
					stroke="var(--color-measure)"
					strokeOpacity={0.6}
					strokeWidth={2}
				/>
			)}
			<polyline points={path} fill="none" stroke="var(--color-paper)" strokeWidth={look === "now" ? 11 : 5} />
			<polyline
				points={path}
				fill="none"
				stroke={colour}
				strokeWidth={look === "now" ? 6 : 2}
				strokeDasharray={stroke.kind === "crease" ? "2 6" : undefined}
				strokeLinecap="round"
			/>
			{look !== "done" && (
				<path
					d={`M${wing(1)}L${last[0]},${last[1]}L${wing(-1)}`}
					fill="none"
					stroke={colour}
					strokeWidth={look === "now" ? 6 : 2.5}
					strokeLinecap="round"
					strokeLinejoin="round"
				/>
			)}
			{numbered && (
				<>
					<circle
						cx={mark[0]}
						cy={mark[1]}
						r={look === "now" ? 19 : 12}
						fill={colour}
						stroke="var(--color-paper)"
						strokeWidth={2}
					/>
					<text
						x={mark[0]}
						y={mark[1] + (look === "now" ? 7 : 5)}
						textAnchor="middle"
						fontSize={look === "now" ? 19 : 13}
						fontWeight={700}
						fill="var(--color-on-dark)"
					>
						{stroke.number}
					</text>
				</>
			)}
		</g>
	);
}

/** Air without a way out: hatched, with the place where it is pricked. */
export function ShutIn({ frame, air, children }: { frame: Frame; air: Air; children?: ReactNode }) {
	const [x, y] = px(frame, air.prick);
	return (
		<g>
			<polygon
				points={line(frame, air.corners)}
				fill="var(--color-trouble)"
				fillOpacity={0.22}
				stroke="var(--color-paper)"
				strokeWidth={5}
			/>
			<polygon
				points={line(frame, air.corners)}
				fill="none"
				stroke="var(--color-trouble)"
				strokeWidth={3}
				strokeDasharray="4 4"
			/>
			<path
				d={`M${x - 9} ${y - 9}L${x + 9} ${y + 9}M${x + 9} ${y - 9}L${x - 9} ${y + 9}`}
				stroke="var(--color-paper)"
				strokeWidth={8}
			/>
			<path
				d={`M${x - 9} ${y - 9}L${x + 9} ${y + 9}M${x + 9} ${y - 9}L${x - 9} ${y + 9}`}
				stroke="var(--color-trouble)"
				strokeWidth={4}
			/>
			{children}
		</g>
	);
}

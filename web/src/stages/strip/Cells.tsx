import type { Schemas } from "../../api/client";
import { type Frame, mm, type Point, px } from "../../drawing/frame";
import { NumberDisc } from "../../drawing/NumberDisc";

type Old = Schemas["OldView"];
type Entry = Schemas["StripEntry"];

/** Whether a part is done, what waits for a signal included. */
export function standing(old: Old, cell: number, waiting: readonly Entry[]) {
	const c = old.cells[cell];
	let [film, clean] = [c?.film_off ?? false, c?.clean ?? false];
	for (const e of waiting) {
		if (!("old" in e) || e.old !== old.id || !("cells" in e) || !e.cells.includes(cell)) continue;
		const done = e.what === "done";
		if (e.phase === "adhesive") clean = done;
		film = done || e.phase === "adhesive" ? true : done;
		if (!done && e.phase === "film") clean = false;
	}
	return { film, clean };
}

/** The phase that is worked on, and the first part that is not done. */
export function partsOpen(old: Old, waiting: readonly Entry[]) {
	const all = old.cells.map((_, n) => standing(old, n, waiting));
	const film = all.findIndex((c) => !c.film);
	if (film >= 0) return { phase: "film" as const, next: film };
	const clean = all.findIndex((c) => !c.clean);
	return clean >= 0 ? { phase: "adhesive" as const, next: clean } : null;
}

/** An old graphic over the picture, part by part: on, film off, clean. Told by hatching and signs, not by colour alone. */
export function Cells({
	old,
	chosen,
	frame,
	waiting,
	onTap,
}: {
	old: Old;
	chosen: boolean;
	frame: Frame;
	waiting: readonly Entry[];
	onTap?: (cell: number) => void;
}) {
	const open = partsOpen(old, waiting);
	const first = px(frame, old.cells[0]?.outline[0]);
	const hatch = `old-${old.id}`;
	const name = old.counted === "letters" ? "letter" : "part";
	return (
		<g data-testid={`old-${old.graphic.name}`}>
			<defs>
				<pattern id={hatch} width={8} height={8} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
					<rect width={8} height={8} fill="var(--color-ghost)" />
					<line x1={0} y1={0} x2={0} y2={8} stroke="var(--color-tape-deep)" strokeWidth={3} />
				</pattern>
			</defs>
			{old.cells.map((c, n) => {
				const corners = c.outline.map((p) => px(frame, p));
				const { film, clean } = standing(old, n, waiting);
				const xs = corners.map((p) => p[0]);
				const ys = corners.map((p) => p[1]);
				const [x, y] = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
				const size = Math.min(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
				const is = clean ? "clean" : film ? "film off" : "on";
				return (
					// biome-ignore lint/a11y/noStaticElementInteractions: the button in the bar does the same from the keyboard
					<g
						key={n}
						onClick={onTap && (() => onTap(n))}
						style={onTap && { cursor: "pointer" }}
						aria-label={`${old.graphic.name}, ${name} ${n + 1}: ${is}`}
					>
						<polygon
							points={corners.map((p) => p.join()).join(" ")}
							fill={clean ? "var(--color-good-soft)" : film ? "var(--color-tape-pale)" : `url(#${hatch})`}
							fillOpacity={0.92}
							stroke={chosen ? "var(--color-ink)" : "var(--color-soft)"}
							strokeWidth={chosen ? 1.5 : 0.75}
						/>
						{clean && size > 12 && (
							<text
								x={x}
								y={y + 6}
								textAnchor="middle"
								fontSize={18}
								fontWeight={700}
								fill="var(--color-good)"
							>
								✓
							</text>
						)}
						{film && !clean && size > 12 && (
							<text
								x={x}
								y={y + 6}
								textAnchor="middle"
								fontSize={18}
								fontWeight={700}
								fill="var(--color-tape-dark)"
							>
								~
							</text>
						)}
						{chosen && open?.next === n && (
							<polygon
								points={corners.map((p) => p.join()).join(" ")}
								fill="none"
								stroke="var(--color-measure)"
								strokeWidth={4}
							/>
						)}
					</g>
				);
			})}
			<text
				x={first[0]}
				y={first[1] - 6}
				fontSize={16}
				fontWeight={700}
				fill="var(--color-ink)"
				stroke="var(--color-paper)"
				strokeWidth={4}
				paintOrder="stroke"
			>
				{old.off ? "✓ " : ""}
				{old.graphic.name}
			</text>
		</g>
	);
}

/** Harm in the picture, and the place that was touched. */
export function HarmMarks({
	harm,
	frame,
	place,
}: {
	harm: Schemas["HarmView"][];
	frame: Frame;
	place: Point | null;
}) {
	return (
		<g pointerEvents="none">
			{harm.map((h, n) => {
				const [x, y] = px(frame, h.at);
				return <NumberDisc key={h.id} x={x} y={y} number={n + 1} radius={14} />;
			})}
			{place && (
				<circle
					cx={px(frame, place)[0]}
					cy={px(frame, place)[1]}
					r={12}
					fill="none"
					stroke="var(--color-trouble)"
					strokeWidth={4}
				/>
			)}
		</g>
	);
}

/** The whole picture takes a touch: where harm is. */
export const TouchPlace = ({ frame, onPlace }: { frame: Frame; onPlace: (at: Point) => void }) => (
	// biome-ignore lint/a11y/noStaticElementInteractions: the place is typed as well, in the form below
	<rect
		data-testid="touch-place"
		x={0}
		y={0}
		width="100%"
		height="100%"
		fill="transparent"
		style={{ cursor: "crosshair" }}
		onClick={(e) => {
			const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
			if (box) onPlace(mm(frame, [e.clientX - box.left, e.clientY - box.top]));
		}}
	/>
);

/** Corners that were touched: one, or the box between two. */
export function Corners({ corners, frame }: { corners: readonly Point[]; frame: Frame }) {
	const at = corners.map((c) => px(frame, c));
	const [a, b] = at;
	return (
		<g pointerEvents="none" fill="none" stroke="var(--color-measure)" strokeWidth={3}>
			{a && b && (
				<rect
					x={Math.min(a[0], b[0])}
					y={Math.min(a[1], b[1])}
					width={Math.abs(a[0] - b[0])}
					height={Math.abs(a[1] - b[1])}
					strokeDasharray="8 5"
				/>
			)}
			{at.map(([x, y]) => (
				<path key={`${x} ${y}`} d={`M${x - 9} ${y}h18M${x} ${y - 9}v18`} />
			))}
		</g>
	);
}

import { type KeyboardEvent, memo, type PointerEvent, useId } from "react";
import type { Schemas } from "../api/client";
import type { Drawing, Frame } from "./frame";

type Piece = Schemas["PieceView"];
type Column = Schemas["ColumnLanding"];

const LENS = {
	amber: "var(--color-lens-amber)",
	red: "var(--color-lens-red)",
	white: "var(--color-lens-white)",
} as const;

/** What can be done with a piece in the picture. */
export type Handling = {
	selected?: string;
	onSelect?: (id: string) => void;
	onPointerDown?: (id: string, event: PointerEvent<SVGGElement>) => void;
	onKeyDown?: (id: string, event: KeyboardEvent<SVGGElement>) => void;
	/** Pieces drawn aside from where the server last put them, mm. */
	shift?: { ids: readonly string[]; right: number; down: number };
};

/** Heads as one path: hundreds of rivets are one element. */
const ring = ([x, y]: number[], r: number) =>
	`M${(x ?? 0) - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;

/** A side with everything on it, drawn in mm. */
export function Scene({
	drawing,
	pieces,
	frame,
	handling = {},
	ghost,
	under,
}: {
	drawing: Drawing;
	pieces: Piece[];
	frame: Frame;
	handling?: Handling;
	/** Pale film, so that what lies over it is read. */
	ghost?: boolean;
	/** A photo of the side under it, squared up: the body is drawn without its paper then. */
	under?: Schemas["UnderlayView"] | null;
}) {
	const least = 1.1 / frame.scale;
	const [x, y, width, height] = under?.bounds ?? [];
	return (
		<g transform={`scale(${frame.scale}) translate(${-frame.x} ${-frame.y})`}>
			{under && <image href={under.href} x={x} y={y} width={width} height={height} />}
			<Body drawing={drawing} least={least} bare={under != null} />
			{pieces.map((piece) => (
				<PieceFilm key={piece.id} piece={piece} handling={handling} ghost={ghost} least={least} />
			))}
			{!ghost && <Through drawing={drawing} pieces={pieces} least={least} />}
		</g>
	);
}

/** Over a print: the body's outline, its gaps, arches and hardware, which the print would hide. */
function Through({ drawing, pieces, least }: { drawing: Drawing; pieces: Piece[]; least: number }) {
	const clip = useId();
	const prints = pieces.filter((p) => p.spec.art.is === "panel");
	if (prints.length === 0) return null;
	const px = least / 1.1;
	const lines = [
		drawing.outline,
		...drawing.lines.map((l) => l.path),
		...drawing.areas.map((a) => a.path),
	].join("");
	const bare = { fill: "none", pointerEvents: "none" as const, clipPath: `url(#${clip})` };
	return (
		<>
			<clipPath id={clip}>
				<path d={prints.flatMap((p) => p.layers.map((l) => l.film)).join("")} />
			</clipPath>
			<path d={lines} stroke="var(--color-paper)" strokeWidth={3.5 * px} strokeOpacity={0.75} {...bare} />
			<path d={lines} stroke="var(--color-ink)" strokeWidth={1.4 * px} {...bare} />
		</>
	);
}

/** How a kind of area is drawn. What film never lies on is darker; zones are dashed. */
function lookOf(area: Schemas["AreaDrawing"]): { fill: string; dash?: string; stroke?: string } {
	if (area.colour) return { fill: LENS[area.colour] };
	if (area.class === "zone") {
		return {
			fill: area.kind === "textured_zone" ? "var(--color-textured)" : "none",
			dash: "9 5",
			stroke: "var(--color-soft)",
		};
	}
	switch (area.kind) {
		case "old_film":
			return { fill: "var(--color-ghost)", dash: "2 4", stroke: "var(--color-soft)" };
		case "wheel_arch":
			return { fill: "var(--color-arch)" };
		case "glass":
			return { fill: "var(--color-glass)" };
		case "rubber":
		case "moulding":
			return { fill: "var(--color-rubber)" };
		case "hinge":
		case "latch":
		case "handle":
		case "bracket":
			return { fill: "var(--color-fitting)" };
		default:
			return { fill: "var(--color-part)" };
	}
}

const LINE_DASH: Partial<Record<Schemas["FeatureKind"], string>> = {
	body_line: "14 5",
	waterline: "3 5",
	crease: "10 4 2 4",
};

/** The body and what is on it. Drawn anew only when it or the scale changes. */
export const Body = memo(function Body({
	drawing,
	least,
	bare,
}: {
	drawing: Drawing;
	least: number;
	bare?: boolean;
}) {
	// Line widths are px at this scale, drawn in mm: a line that kept its width by itself would be laid out anew in every frame.
	const px = least / 1.1;
	const scaled = (dash: string | undefined) =>
		dash
			?.split(" ")
			.map((d) => Number(d) * px)
			.join(" ");
	// Lines and areas that look alike are one element each: hundreds of features stay light.
	const lines = grouped(drawing.lines, (l) => LINE_DASH[l.kind] ?? "");
	// Large ones first, so that what lies on a door is seen on it.
	const size = (a: Schemas["AreaDrawing"]) => (a.bounds[2] ?? 0) * (a.bounds[3] ?? 0);
	const areas = grouped(
		[...drawing.areas].sort((a, b) => size(b) - size(a)),
		(a) => JSON.stringify(lookOf(a)),
	);
	return (
		<>
			<path
				d={drawing.outline}
				fill={bare ? "none" : "var(--color-paper)"}
				stroke={bare ? "var(--color-measure)" : "var(--color-ink)"}
				strokeWidth={(bare ? 3 : 2) * px}
			/>
			{lines.map(([dash, d], n) => (
				<path
					key={n}
					d={d}
					fill="none"
					stroke="var(--color-seam)"
					strokeWidth={1.2 * px}
					strokeDasharray={scaled(dash || undefined)}
				/>
			))}
			{areas.map(([key, d], n) => {
				const look = JSON.parse(key) as ReturnType<typeof lookOf>;
				return (
					<path
						key={n}
						d={d}
						fill={bare ? "none" : look.fill}
						stroke={look.stroke ?? "var(--color-ink)"}
						strokeWidth={1.4 * px}
						strokeDasharray={scaled(look.dash)}
					/>
				);
			})}
			<path
				d={drawing.columns
					.map((c) => c.heads.map((head) => ring(head, Math.max(c.head_mm / 2, least))).join(""))
					.join("")}
				fill={bare ? "none" : "var(--color-paper)"}
				stroke="var(--color-soft)"
				strokeWidth={px}
			/>
		</>
	);
});

function grouped<T extends { path: string }>(items: T[], keyOf: (item: T) => string): [string, string][] {
	const groups: [string, string][] = [];
	for (const item of items) {
		const last = groups.at(-1);
		if (last?.[0] === keyOf(item)) last[1] += item.path;
		else groups.push([keyOf(item), item.path]);
	}
	return groups;
}

/** One feature alone, ringed and haloed, as it stands or as it is moved. */
export const FeatureMark = memo(function FeatureMark({
	drawing,
	feature,
	least,
}: {
	drawing: Drawing;
	feature: string;
	least: number;
}) {
	const paths = [
		...drawing.lines.filter((l) => l.feature === feature).map((l) => l.path),
		...drawing.areas.filter((a) => a.feature === feature).map((a) => a.path),
		...drawing.columns
			.filter((c) => c.feature === feature)
			.map((c) => c.heads.map((h) => ring(h, Math.max(c.head_mm / 2, least) * 1.3)).join("")),
	].join("");
	const px = least / 1.1;
	const ringed = { fill: "none", pointerEvents: "none" as const };
	return (
		<>
			<path d={paths} stroke="var(--color-paper)" strokeWidth={7 * px} {...ringed} />
			<path d={paths} stroke="var(--color-measure)" strokeWidth={3.5 * px} {...ringed} />
		</>
	);
});

function PieceFilm({
	piece,
	handling,
	ghost,
	least,
}: {
	piece: Piece;
	handling: Handling;
	ghost?: boolean;
	least: number;
}) {
	const { selected, onSelect, onPointerDown, onKeyDown, shift } = handling;
	const moved = shift?.ids.includes(piece.id) === true && (shift.right !== 0 || shift.down !== 0);
	const chosen = selected === piece.id;
	const [x, y, w, h] = piece.bounds as [number, number, number, number];
	const lettered = piece.spec.art.is === "lettering";
	return (
		<g
			transform={moved ? `translate(${shift.right} ${shift.down})` : undefined}
			{...(onSelect && {
				tabIndex: 0,
				role: "button",
				"aria-pressed": chosen,
				"aria-label": `${piece.called}, ${lettered ? "first letter" : "left end"} ${piece.readings.first_letter.text} back, ${lettered ? "cap line" : "upper edge"} ${piece.readings.cap_line.text} down. Arrow keys move it.`,
				"data-testid": `piece-${piece.called}`,
				style: { cursor: "grab", touchAction: "none" },
				onPointerDown: (event) => {
					onSelect(piece.id);
					onPointerDown?.(piece.id, event);
				},
				onFocus: () => onSelect(piece.id),
				onKeyDown: (event) => onKeyDown?.(piece.id, event),
			})}
		>
			{onSelect && <rect x={x} y={y} width={w} height={h} fill="transparent" />}
			{chosen && onSelect && (
				<polygon
					points={piece.hinge.carrier.map((p) => p.join(",")).join(" ")}
					fill="none"
					stroke="var(--color-measure)"
					strokeWidth={1.5}
					strokeDasharray="7 5"
					vectorEffect="non-scaling-stroke"
				/>
			)}
			{piece.layers.map((layer) => (
				<path
					key={layer.kind}
					d={layer.film}
					fill={layer.colour}
					fillRule="evenodd"
					opacity={ghost ? 0.3 : 1}
					stroke="var(--color-ink)"
					strokeOpacity={0.35}
					strokeWidth={0.5}
					vectorEffect="non-scaling-stroke"
				/>
			))}
			{piece.picture?.clipped && (
				<clipPath id={`film-${piece.id}`}>
					<path d={piece.layers.map((l) => l.film).join("")} />
				</clipPath>
			)}
			{piece.picture && (
				<g clipPath={piece.picture.clipped ? `url(#film-${piece.id})` : undefined}>
					<image
						href={piece.picture.href}
						width={piece.picture.width_mm}
						height={piece.picture.height_mm}
						preserveAspectRatio="none"
						opacity={ghost ? 0.3 : 1}
						transform={`matrix(${piece.picture.matrix.join()})`}
						pointerEvents="none"
					/>
				</g>
			)}
			{(piece.readings.flats.at === "marks" || (chosen && onSelect && piece.layers.length > 1)) && (
				<Marks at={piece.marks} least={least} />
			)}
			{!moved && !ghost && <Heads columns={piece.landing.columns} least={least} />}
		</g>
	);
}

/** Registration marks, cut with the film. */
export const Marks = ({ at, least }: { at: number[][]; least: number }) => {
	const r = Math.max(4, least * 3);
	return at.map(([x = 0, y = 0]) => (
		<path
			key={x}
			d={`M${x} ${y - r}l${r} ${r}l${-r} ${r}l${-r} ${-r}z`}
			fill="var(--color-measure)"
			pointerEvents="none"
		/>
	));
};

/** Covered heads as pale dots on the film; heads with a cut edge on them as crossed rings with a halo. */
function Heads({ columns, least }: { columns: Column[]; least: number }) {
	const of = (state: string) =>
		columns.flatMap((c) =>
			c.heads.filter((h) => h.state === state).map((h) => ({ at: h.at, r: Math.max(c.head_mm / 2, least) })),
		);
	const edge = of("edge_on_it").map(({ at, r }) => ({ at, r: Math.max(r * 1.3, least * 3.2) }));
	const cross = ({ at: [x = 0, y = 0], r }: { at: number[]; r: number }) =>
		`M${x - r} ${y - r}L${x + r} ${y + r}M${x - r} ${y + r}L${x + r} ${y - r}`;
	return (
		<g pointerEvents="none">
			<path
				d={of("covered")
					.map((h) => ring(h.at, h.r))
					.join("")}
				fill="var(--color-paper)"
				opacity={0.9}
			/>
			<path d={edge.map((h) => ring(h.at, h.r * 1.25)).join("")} fill="var(--color-paper)" />
			<path
				d={edge.map((h) => ring(h.at, h.r) + cross(h)).join("")}
				fill="none"
				stroke="var(--color-trouble)"
				strokeWidth={2}
				vectorEffect="non-scaling-stroke"
			/>
		</g>
	);
}

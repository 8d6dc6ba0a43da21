import type { KeyboardEvent, PointerEvent } from "react";
import type { Schemas } from "../api/client";
import type { Drawing, Frame } from "./frame";

type Piece = Schemas["PieceView"];
type Column = Schemas["ColumnLanding"];

const LENS = { amber: "#b06a00", red: "#a11c14", white: "#f4f4ee" } as const;

/** What can be done with a piece in the picture. */
export type Handling = {
	selected?: string;
	onSelect?: (id: string) => void;
	onPointerDown?: (id: string, event: PointerEvent<SVGGElement>) => void;
	onKeyDown?: (id: string, event: KeyboardEvent<SVGGElement>) => void;
	/** Pieces drawn aside from where the server last put them, mm. */
	shift?: { id: string; right: number; down: number };
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
}: {
	drawing: Drawing;
	pieces: Piece[];
	frame: Frame;
	handling?: Handling;
	/** Pale film, so that what lies over it is read. */
	ghost?: boolean;
}) {
	const thin = { vectorEffect: "non-scaling-stroke" as const };
	const least = 1.1 / frame.scale;
	return (
		<g transform={`scale(${frame.scale}) translate(${-frame.x} ${-frame.y})`}>
			<path d={drawing.outline} fill="#fdfcf7" stroke="#1b2628" strokeWidth={2} {...thin} />
			{drawing.seams.map((seam) => (
				<line
					key={seam.number}
					x1={seam.line[0]?.[0]}
					y1={seam.line[0]?.[1]}
					x2={seam.line[1]?.[0]}
					y2={seam.line[1]?.[1]}
					stroke="#6d7877"
					strokeWidth={1.2}
					{...thin}
				/>
			))}
			{drawing.hardware.map((h) => (
				<path
					key={h.path}
					d={h.path}
					fill={h.colour ? LENS[h.colour] : h.kind === "wheel_arch" ? "#dcd8c8" : "#f1eee2"}
					stroke="#1b2628"
					strokeWidth={1.4}
					{...thin}
				>
					<title>{h.name}</title>
				</path>
			))}
			<path
				d={drawing.columns
					.map((c) => c.heads.map((head) => ring(head, Math.max(c.head_mm / 2, least))).join(""))
					.join("")}
				fill="#fdfcf7"
				stroke="#4a5557"
				strokeWidth={1}
				{...thin}
			/>
			{pieces.map((piece) => (
				<PieceFilm key={piece.id} piece={piece} handling={handling} ghost={ghost} least={least} />
			))}
		</g>
	);
}

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
	const moved = shift?.id === piece.id && (shift.right !== 0 || shift.down !== 0);
	const chosen = selected === piece.id;
	const [x, y, w, h] = piece.bounds as [number, number, number, number];
	const { lettering } = piece.spec;
	return (
		<g
			transform={moved ? `translate(${shift.right} ${shift.down})` : undefined}
			{...(onSelect && {
				tabIndex: 0,
				role: "button",
				"aria-pressed": chosen,
				"aria-label": `${lettering.text}, first letter ${piece.readings.first_letter.text} back, cap line ${piece.readings.cap_line.text} down. Arrow keys move it.`,
				"data-testid": `piece-${lettering.text}`,
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
					stroke="#2353a4"
					strokeWidth={1.5}
					strokeDasharray="7 5"
					vectorEffect="non-scaling-stroke"
				/>
			)}
			<path d={piece.film} fill={lettering.colour} fillRule="evenodd" opacity={ghost ? 0.3 : 1} />
			{!moved && <Heads columns={piece.landing.columns} least={least} />}
		</g>
	);
}

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
				fill="#fdfcf7"
				opacity={0.9}
			/>
			<path d={edge.map((h) => ring(h.at, h.r * 1.25)).join("")} fill="#fdfcf7" />
			<path
				d={edge.map((h) => ring(h.at, h.r) + cross(h)).join("")}
				fill="none"
				stroke="#8f1a14"
				strokeWidth={2}
				vectorEffect="non-scaling-stroke"
			/>
		</g>
	);
}

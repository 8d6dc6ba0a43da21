import type { Schemas } from "../../api/client";
import { type Frame, onDatum, type Point, px, readingWidth, useWidth } from "../../drawing/frame";
import { Scene } from "../../drawing/Scene";

type Round = Schemas["RoundView"];
const ROOM = { x: 54, top: 30, bottom: 16 };

/** The piece as it hangs: datum, carrier, tape and tabs; wanted and read figures at both flats; which tape to move. */
export function HingePicture({
	side,
	piece,
	round,
	maxHeight,
}: {
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	round: Round | undefined;
	maxHeight: number;
}) {
	const [ref, width] = useWidth();
	const { hinge, readings } = piece;
	const { flats } = readings;
	const rail = [onDatum(piece.datum, flats.front.back_mm), onDatum(piece.datum, flats.rear.back_mm)];
	const points = [...hinge.carrier, ...hinge.tape, ...hinge.tabs.flat(), ...rail];
	const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
	const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
	const scale = Math.min(
		Math.max(width - 2 * ROOM.x, 200) / (x1 - x0),
		(maxHeight - ROOM.top - ROOM.bottom) / (y1 - y0),
	);
	const height = (y1 - y0) * scale + ROOM.top + ROOM.bottom;
	const spare = (width - (x1 - x0) * scale) / 2;
	const frame: Frame = { scale, x: x0 - spare / scale, y: y0 - ROOM.top / scale };
	const polygon = (corners: number[][]) => corners.map((p) => px(frame, p).join(",")).join(" ");
	const moves = round?.advice?.do === "move" ? round.advice.moves : [];
	const ends = ["front", "rear"] as const;
	return (
		<div ref={ref} className="w-full overflow-hidden rounded border border-soft">
			{width > 0 && (
				<svg
					width={width}
					height={height}
					role="img"
					aria-label={`${piece.called} hanging by its top hinge`}
					className="block bg-paper"
				>
					<Scene drawing={side.drawing} pieces={[]} frame={frame} />
					<polygon points={polygon(hinge.carrier)} fill="var(--color-sheet)" fillOpacity={0.45} />
					<polygon
						points={polygon(hinge.tape)}
						fill="var(--color-tape)"
						fillOpacity={0.8}
						stroke="var(--color-tape-deep)"
						strokeWidth={1}
					/>
					{hinge.tabs.map((tab, n) => (
						<polygon
							key={n}
							points={polygon(tab)}
							fill="var(--color-tape-tab)"
							stroke="var(--color-tape-dark)"
							strokeWidth={1.5}
						/>
					))}
					<g transform={`scale(${scale}) translate(${-frame.x} ${-frame.y})`}>
						{piece.layers.map((layer) => (
							<path key={layer.kind} d={layer.film} fill={layer.colour} fillRule="evenodd" />
						))}
					</g>
					<polygon
						points={polygon(hinge.carrier)}
						fill="none"
						stroke="var(--color-ink)"
						strokeWidth={1.5}
						strokeDasharray="8 5"
					/>
					{ends.map((end) => (
						<FlatReading
							key={end}
							datum={piece.datum}
							frame={frame}
							flat={flats[end]}
							read={round?.[end]}
							width={width}
						/>
					))}
					{moves.map((move) => {
						const hold = hinge.holds[move.tape === "front" ? 0 : 1];
						return hold && <MoveArrow key={move.tape} move={move} at={px(frame, hold.at)} width={width} />;
					})}
				</svg>
			)}
		</div>
	);
}

function FlatReading({
	datum,
	frame,
	flat,
	read,
	width,
}: {
	datum: number[][];
	frame: Frame;
	flat: Schemas["Flat"];
	read: Schemas["EndReading"] | undefined;
	width: number;
}) {
	const top = px(frame, onDatum(datum, flat.back_mm));
	const foot = px(frame, flat.at);
	const right = read !== undefined && read.read.mm === read.wanted.mm;
	const text = read ? `${right ? "✓ " : "✗ "}${read.read.text}` : flat.wanted.text;
	const w = readingWidth(text, 24) + 20;
	const x = Math.min(Math.max(top[0] - w / 2, 4), width - w - 4);
	const y = Math.max((top[1] + foot[1]) / 2 - 20, 4);
	const colour = !read ? "var(--color-measure)" : right ? "var(--color-good)" : "var(--color-trouble)";
	return (
		<g>
			<line x1={top[0]} y1={top[1]} x2={foot[0]} y2={foot[1]} stroke="var(--color-paper)" strokeWidth={6} />
			<line x1={top[0]} y1={top[1]} x2={foot[0]} y2={foot[1]} stroke="var(--color-measure)" strokeWidth={3} />
			<line
				x1={foot[0] - 16}
				y1={foot[1]}
				x2={foot[0] + 16}
				y2={foot[1]}
				stroke="var(--color-measure)"
				strokeWidth={4}
			/>
			<rect
				x={x}
				y={y}
				width={w}
				height={40}
				rx={5}
				fill={colour}
				stroke="var(--color-paper)"
				strokeWidth={2}
			/>
			<text
				x={x + w / 2}
				y={y + 29}
				textAnchor="middle"
				fontFamily="B612 Mono"
				fontWeight={700}
				fontSize={24}
				fill="var(--color-on-dark)"
			>
				{text}
			</text>
		</g>
	);
}

/** An arrow says which way a tape moves, and nothing else. */
function MoveArrow({ move, at, width }: { move: Schemas["TapeMove"]; at: Point; width: number }) {
	const beside = at[0] < width / 2 ? -24 : 24;
	const x = Math.min(Math.max(at[0] + beside, 20), width - 20);
	const up = move.way === "up";
	const [tail, tip] = up ? [at[1] + 34, at[1] - 30] : [at[1] - 30, at[1] + 34];
	const head = up ? 16 : -16;
	return (
		<g stroke="var(--color-trouble)" strokeWidth={7} fill="none" strokeLinecap="round" strokeLinejoin="round">
			<path
				d={`M${x} ${tail}V${tip}M${x - 13} ${tip + head}L${x} ${tip}L${x + 13} ${tip + head}`}
				stroke="var(--color-paper)"
				strokeWidth={12}
			/>
			<path d={`M${x} ${tail}V${tip}M${x - 13} ${tip + head}L${x} ${tip}L${x + 13} ${tip + head}`} />
		</g>
	);
}

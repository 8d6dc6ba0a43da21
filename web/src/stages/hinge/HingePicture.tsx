import type { Schemas } from "../../api/client";
import { type Frame, onDatum, px, readingWidth, useWidth } from "../../drawing/frame";
import { Marks, Scene } from "../../drawing/Scene";
import { type Box, settle } from "../../drawing/tags";
import { ENDS, type End } from "../../readings/flats";

type Round = Schemas["RoundView"];
const ROOM = { x: 54, top: 30, bottom: 16 };
/** Half of an arrow's length, px. */
const ARROW = 32;
/** A picture lower than this has no room for figures, px. */
const LOW = 120;

/** What stands on a flat's tag, and how wide it is. */
function tagOf(end: End, flat: Schemas["Flat"], read: Schemas["EndReading"] | undefined) {
	// Rounds of earlier releases do not say whether an end is right within the tape's tolerance.
	const right = read !== undefined && (read.right ?? read.read.mm === read.wanted.mm);
	const text = read ? `${right ? "✓ " : "✗ "}${read.read.text}` : flat.wanted.text;
	const colour = `var(--color-${!read ? "measure" : right ? "good" : "trouble"})`;
	return { key: end, end, text, colour, w: readingWidth(text, 24) + 20 };
}

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
	const arrows = moves.flatMap((move) => {
		const hold = hinge.holds[move.tape === "front" ? 0 : 1];
		if (!hold) return [];
		const [hx, hy] = px(frame, hold.at);
		const x = Math.min(Math.max(hx + (hx < width / 2 ? -24 : 24), 20), width - 20);
		return [{ move, x, y: Math.min(Math.max(hy, ARROW + 8), height - ARROW - 8) }];
	});
	// Where the picture is low its figures stand in the cards below it, and nothing covers the arrow.
	const tags = height < LOW ? [] : ENDS.map((end) => tagOf(end, flats[end], round?.[end]));
	const boxes = settle(
		tags.map(({ end, w }) => {
			const top = px(frame, onDatum(piece.datum, flats[end].back_mm));
			const foot = px(frame, flats[end].at);
			return { at: foot, middle: [top[0], Math.max((top[1] + foot[1]) / 2, 24)] as const, w, h: 40 };
		}),
		arrows.map(({ x, y }) => ({ x: x - 20, y: y - ARROW - 8, w: 40, h: 2 * ARROW + 16 })),
		{ x: 4, y: 4, w: width - 8, h: height - 8 },
	);
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
						{piece.readings.flats.at === "marks" && <Marks at={piece.marks} least={1.1 / scale} />}
					</g>
					<polygon
						points={polygon(hinge.carrier)}
						fill="none"
						stroke="var(--color-ink)"
						strokeWidth={1.5}
						strokeDasharray="8 5"
					/>
					{ENDS.map((end) => (
						<FlatLine key={end} datum={piece.datum} frame={frame} flat={flats[end]} />
					))}
					{arrows.map(({ move, x, y }) => (
						<MoveArrow key={move.tape} up={move.way === "up"} x={x} y={y} />
					))}
					{tags.map(({ key, text, colour }, n) => {
						const box = boxes[n];
						return box && <ReadingTag key={key} box={box} text={text} colour={colour} />;
					})}
				</svg>
			)}
		</div>
	);
}

/** From the datum down to a flat. */
function FlatLine({ datum, frame, flat }: { datum: number[][]; frame: Frame; flat: Schemas["Flat"] }) {
	const top = px(frame, onDatum(datum, flat.back_mm));
	const foot = px(frame, flat.at);
	const line = { x1: top[0], y1: top[1], x2: foot[0], y2: foot[1] };
	return (
		<g>
			<line {...line} stroke="var(--color-paper)" strokeWidth={6} />
			<line {...line} stroke="var(--color-measure)" strokeWidth={3} />
			<line
				x1={foot[0] - 16}
				y1={foot[1]}
				x2={foot[0] + 16}
				y2={foot[1]}
				stroke="var(--color-measure)"
				strokeWidth={4}
			/>
		</g>
	);
}

/** What was read, or is to be read, at a flat. */
function ReadingTag({ box, text, colour }: { box: Box; text: string; colour: string }) {
	return (
		<g>
			<rect
				x={box.x}
				y={box.y}
				width={box.w}
				height={box.h}
				rx={5}
				fill={colour}
				stroke="var(--color-paper)"
				strokeWidth={2}
			/>
			<text
				x={box.x + box.w / 2}
				y={box.y + 29}
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
function MoveArrow({ up, x, y }: { up: boolean; x: number; y: number }) {
	const [tail, tip] = up ? [y + ARROW, y - ARROW] : [y - ARROW, y + ARROW];
	const head = up ? 16 : -16;
	const d = `M${x} ${tail}V${tip}M${x - 13} ${tip + head}L${x} ${tip}L${x + 13} ${tip + head}`;
	return (
		<g fill="none" strokeLinecap="round" strokeLinejoin="round">
			<path d={d} stroke="var(--color-paper)" strokeWidth={12} />
			<path d={d} stroke="var(--color-trouble)" strokeWidth={7} />
		</g>
	);
}

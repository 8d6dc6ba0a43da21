import { ask, client, type Schemas } from "../../api/client";
import { type Frame, px } from "../../drawing/frame";
import { chainGaps, slipAt } from "../../drawing/Tape";
import type { Box } from "../../drawing/tags";
import { Figures, type PictureFigure } from "../../readings/Figures";
import { ENDS, endName } from "../../readings/flats";
import { layerOf } from "./pieces";

type Piece = Schemas["PieceView"];

/** Slips and chain of a piece, typed where they stand: the piece moves so that the tape reads what was typed. */
export function PieceFigures({
	side,
	piece,
	frame,
	size,
	dim,
	onKeep,
}: {
	side: Schemas["SideView"];
	piece: Piece;
	frame: Frame;
	size: { width: number; height: number };
	dim: boolean;
	onKeep: (piece: Piece, spec: Piece["spec"]) => Promise<unknown>;
}) {
	const { flats, chain } = piece.readings;
	// A film on its lettering's marks lies where that does: its figures only tell.
	const own = layerOf(piece.spec) === undefined;
	const type = (which: Schemas["TapeFigure"]) => async (reads_mm: string) => {
		const answer = await ask(
			client.POST("/api/sides/{id}/evaluate", {
				params: { path: { id: side.id } },
				body: { only_tried: true, pieces: [{ id: piece.id, spec: piece.spec, typed: { which, reads_mm } }] },
			}),
		);
		const moved = answer.pieces[0];
		if (!moved) throw new Error(answer.failed[0]?.problem.detail ?? "It cannot lie there.");
		return onKeep(piece, moved.spec);
	};
	const slips = ENDS.map(
		(end): PictureFigure => ({
			key: end,
			label: `What the tape reads at the ${endName(flats, end)} flat${flats[end].letter ? `, ${flats[end].letter}` : ""}`,
			text: flats[end].wanted.text,
			...slipAt(piece.datum, frame, flats[end]),
			onCommit: own ? type({ figure: end === "front" ? "front_flat" : "rear_flat" }) : undefined,
			look: "slip",
		}),
	);
	const gaps = chainGaps(side.drawing, piece.datum, frame, chain).map(
		({ number, text, from, to, at }): PictureFigure => ({
			key: `gap ${number}`,
			label: `From the ${from} to the ${to}`,
			text,
			at,
			middle: at,
			onCommit: own && piece.own_gaps.includes(number) ? type({ figure: "gap", number }) : undefined,
			look: "chain",
		}),
	);
	// Front to rear along the rail, then along the chain.
	slips.sort((a, b) => a.at[0] - b.at[0]);
	const [x = 0, y = 0, w = 0, h = 0] = piece.bounds;
	const [left, top] = px(frame, [x, y]);
	const film: Box = { x: left, y: top, w: w * frame.scale, h: h * frame.scale };
	return <Figures figures={[...slips, ...gaps]} taken={[film]} {...size} dim={dim} />;
}

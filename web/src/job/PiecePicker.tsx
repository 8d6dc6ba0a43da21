import type { Schemas } from "../api/client";
import { useWide } from "./Bench";
import { TouchChoice } from "./Floor";

/** The pieces of a side in the order in which they go on. */
export function inTurn(side: Schemas["SideView"]): Schemas["PieceView"][] {
	const turn = new Map(side.going_on.map((id, n) => [id, n]));
	const at = (p: Schemas["PieceView"]) => turn.get(p.id) ?? side.going_on.length;
	return [...side.pieces].sort((a, b) => at(a) - at(b));
}

/** The pieces of a side, to choose one by touch. */
export function PiecePicker({
	pieces,
	chosen,
	done,
	onPick,
}: {
	pieces: Schemas["PieceView"][];
	chosen: string;
	/** Whether a piece is done with at this stage. */
	done: (piece: Schemas["PieceView"]) => boolean;
	onPick: (id: string) => void;
}) {
	const wide = useWide();
	if (pieces.length < 2) return null;
	if (!wide) {
		return (
			<TouchChoice
				label="Pieces on this side"
				value={chosen}
				onChange={onPick}
				options={pieces.map((p) => ({ value: p.id, text: `${done(p) ? "✓ " : ""}${p.called}` }))}
			/>
		);
	}
	return (
		<div
			role="radiogroup"
			aria-label="Pieces on this side"
			className="flex min-w-0 gap-2 overflow-x-auto pb-1"
		>
			{pieces.map((p) => (
				<button
					key={p.id}
					type="button"
					role="radio"
					aria-checked={p.id === chosen}
					onClick={() => onPick(p.id)}
					className={`min-h-16 max-w-80 shrink-0 truncate rounded px-4 ${
						p.id === chosen ? "bg-measure font-bold text-white" : "border border-soft bg-paper"
					}`}
				>
					{done(p) ? "✓ " : ""}
					{p.called}
				</button>
			))}
		</div>
	);
}

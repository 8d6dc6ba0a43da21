import type { Schemas } from "../api/client";

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
	if (pieces.length < 2) return null;
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
					className={`min-h-16 max-w-56 shrink-0 truncate rounded px-4 ${
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

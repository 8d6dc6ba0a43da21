import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, client, type Schemas, told } from "../../api/client";
import { KEPT_HERE, useActs, useRecord } from "../../api/outbox";
import { stagePath } from "../../job/stages";
import { TroubleNote } from "../../ui/parts";

/** The final look of a side, wherever it is told. */
export const useFinalLook = (side: string) =>
	useQuery({
		queryKey: ["final-look", side],
		queryFn: () => ask(client.GET("/api/sides/{id}/final-look", { params: { path: { id: side } } })),
	});

/** What is looked at once more before it leaves: each ticked as right, or something is found and goes to Trouble. Nothing is silently skipped. */
export function FinalLook({ job, side }: { job: string; side: Schemas["SideView"] }) {
	const cache = useQueryClient();
	const send = useRecord();
	const acts = useActs();
	const [wrong, setWrong] = useState<string | null>(null);
	const [waits, setWaits] = useState(false);
	const found = useFinalLook(side.id);
	const view = found.data;
	const pieces = view?.pieces.filter((p) => p.looks.length > 0) ?? [];
	if (!view || pieces.length === 0) return null;
	const waiting = (piece: string, look: string) =>
		acts.some(
			(a) =>
				a.what.kind === "floor" &&
				a.what.piece === piece &&
				a.what.note.what === "looked" &&
				a.what.note.look === look,
		);
	const right = async (piece: string, look: string) => {
		try {
			const outcome = await send({ kind: "floor", piece, note: { what: "looked", look } });
			setWaits(!outcome.sent);
			setWrong(null);
			await cache.invalidateQueries({ queryKey: ["final-look", side.id] });
			await cache.invalidateQueries({ queryKey: ["record", job] });
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<section aria-label="Final look" className="flex flex-col gap-2">
			<h2 className="font-bold text-xl">
				Final look{view.open > 0 ? `, ${view.open} open` : ", all of it right ✓"}
			</h2>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{waits && <p role="status">{KEPT_HERE}</p>}
			{pieces.map((p) => (
				<div key={p.piece} className="flex flex-col gap-1">
					<h3 className="font-bold">{p.called}</h3>
					<ul className="flex flex-col gap-1">
						{p.looks.map((l) => {
							const done = l.right ?? (waiting(p.piece, l.key) ? "kept here" : null);
							return (
								<li key={l.key} className="flex items-center gap-3 rounded bg-paper px-3 py-2">
									<div className="min-w-0 grow">
										<b>{l.what}</b>
										<p className="text-soft">{done ? `✓ ${done}` : l.how}</p>
									</div>
									{!done && (
										<button
											type="button"
											onClick={() => void right(p.piece, l.key)}
											aria-label={`${l.what}: right`}
											className="min-h-14 min-w-20 shrink-0 rounded border border-soft bg-sheet font-bold"
										>
											Right
										</button>
									)}
								</li>
							);
						})}
					</ul>
				</div>
			))}
			<p>
				Something is found?{" "}
				<Link to={`${stagePath(job, "lay_down")}?side=${side.id}`} className="font-bold underline">
					It goes to Trouble under Lay down
				</Link>
				, with its place; the piece is looked at anew then.
			</p>
		</section>
	);
}

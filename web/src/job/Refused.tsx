import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import type { Editing } from "../api/queries";
import { NextMove, TroubleNote } from "../ui/parts";
import { useSaving } from "./Conflict";
import { FloorPane } from "./Floor";
import { stagePath } from "./stages";
import { useTelling } from "./useTelling";

type Piece = Schemas["PieceView"];

/** What is shown in place of the work where the surface says no: every refusal, and the lead's way past those that have one. */
export function Refused({
	job,
	side,
	piece,
	editing,
}: {
	job: string;
	side: Schemas["SideView"];
	piece: Piece;
	editing: Editing;
}) {
	const { wrong, tell } = useTelling();
	const [reason, setReason] = useState("");
	const { save, dialog } = useSaving(editing, side.unit);
	const never = piece.verdict.refusals.some((r) => r.never);
	const goOn = () =>
		tell(
			save({ kind: "piece", id: piece.id, revision: piece.revision }, piece.spec, {
				...piece.spec,
				work: { crew: 1, ...piece.spec.work, go_on: reason },
			}),
		);
	return (
		<>
			<FloorPane>
				<h2 className="font-bold text-3xl">No film here</h2>
				{piece.verdict.refusals.map((r) => (
					<TroubleNote key={r.sentence}>{r.sentence}</TroubleNote>
				))}
				{never ? (
					<p className="text-xl">No reason passes this. Change what is laid out, or what was measured.</p>
				) : (
					<section aria-label="Go on all the same" className="grid gap-3 rounded bg-paper p-4">
						<label htmlFor="go-on" className="text-xl">
							The lead may go on, and says why. It stays with the piece, in the record and on paper.
						</label>
						<input
							id="go-on"
							value={reason}
							onChange={(e) => setReason(e.target.value)}
							className="min-h-16 rounded border border-soft bg-paper px-3 text-xl"
						/>
						<button
							type="button"
							disabled={reason.trim().length < 3}
							onClick={goOn}
							className="min-h-16 justify-self-start rounded border-2 border-trouble bg-paper px-5 font-bold text-trouble text-xl disabled:opacity-60"
						>
							Go on all the same
						</button>
					</section>
				)}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</FloorPane>
			<NextMove sentence={piece.verdict.refusals[0]?.sentence ?? ""} alarm>
				<Link
					to={`${stagePath(job, "look_over")}?side=${side.id}`}
					className="flex min-h-16 items-center rounded bg-tape px-6 font-bold text-ink text-xl"
				>
					Look over
				</Link>
			</NextMove>
			{dialog}
		</>
	);
}

/** Where the lead goes on all the same: what speaks against it, and why it is done. */
export function WentOn({ piece }: { piece: Piece }) {
	const { refusals, overruled } = piece.verdict;
	if (refusals.length === 0 || !overruled) return null;
	return (
		<TroubleNote>
			{refusals.map((r) => r.sentence).join(" ")} <strong>Gone on all the same: {overruled}</strong>
		</TroubleNote>
	);
}

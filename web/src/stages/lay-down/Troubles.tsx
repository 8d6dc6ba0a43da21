import { useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { KEPT_HERE, useRecord } from "../../api/outbox";
import { useRemedies } from "../../api/queries";
import { FloorPane } from "../../job/Floor";
import { useTelling } from "../../job/useTelling";
import { NextMove, TroubleNote, Waiting } from "../../ui/parts";

const FIELD = "h-16 rounded border border-soft bg-sheet px-3";

/** Two presses within this are one that trembled, ms. */
const TREMBLE = 700;

/** What is seen, what it is, what to do; kept with its place and what came of it. */
export function Troubles({
	piece,
	view,
	refresh,
}: {
	piece: Schemas["PieceView"];
	view: Schemas["LayDownView"];
	refresh: () => Promise<void>;
}) {
	const [heated, setHeated] = useState(false);
	const [seen, setSeen] = useState<Schemas["Seen"]>("bubble");
	const [place, setPlace] = useState("");
	const [outcome, setOutcome] = useState("");
	const { wrong, tell } = useTelling();
	const [kept, setKept] = useState(false);
	const record = useRecord();
	const found = useRemedies(piece.id, heated);
	// Pressed twice it is one trouble: the same again is kept only after something was typed anew.
	const sent = useRef("");
	const pressed = useRef(0);
	if (!found.data) return <Waiting what="what to do" error={found.error} />;
	const remedy = found.data.remedies.find((r) => r.seen === seen);
	const keep = () => {
		const what = [seen, place, outcome].join("|");
		// The second press of a trembling hand may come when the form is cleared already: it is no trouble without a place.
		const now = Date.now();
		const cleared = place === "" && outcome === "" && now - pressed.current < TREMBLE;
		if (sent.current === what || cleared) return;
		pressed.current = now;
		sent.current = what;
		return tell(
			record({ kind: "floor", piece: piece.id, note: { what: "trouble", seen, place, heated, outcome } })
				.then((o) => {
					setKept(!o.sent);
					setPlace("");
					setOutcome("");
				})
				.catch((error) => {
					sent.current = "";
					throw error;
				})
				.finally(() => refresh()),
		);
	};
	return (
		<>
			<FloorPane>
				<div className="grid content-start gap-4 @lg:grid-cols-[auto_1fr]">
					<div className="flex flex-col gap-3">
						<div role="radiogroup" aria-label="What do you see?" className="grid gap-2 @max-lg:grid-cols-2">
							{found.data.remedies.map((r) => (
								<button
									key={r.seen}
									type="button"
									role="radio"
									aria-checked={r.seen === seen}
									onClick={() => setSeen(r.seen)}
									className={`min-h-16 rounded px-4 text-left first-letter:uppercase ${
										r.seen === seen ? "bg-bar font-bold text-white" : "border border-soft bg-paper"
									}`}
								>
									{r.name}
								</button>
							))}
						</div>
					</div>
					<div className="flex min-w-0 flex-col gap-3">
						<label className="flex min-h-16 items-center gap-3 rounded bg-paper px-4">
							<input
								type="checkbox"
								className="size-8"
								checked={heated}
								onChange={(e) => setHeated(e.target.checked)}
							/>
							It has been heated
						</label>
						{remedy && (
							<section aria-label="What to do" className="rounded bg-paper p-4">
								<h2 className="font-bold text-2xl first-letter:uppercase">{remedy.name}</h2>
								<p>{remedy.cause}</p>
								{!remedy.can_be_saved && (
									<TroubleNote>On {found.data.film} this cannot be put right fully.</TroubleNote>
								)}
								<ol className="mt-2">
									{remedy.steps.map((s, n) => (
										<li key={s.text} className="flex gap-3">
											<strong>{n + 1}</strong>
											<span>
												{s.text}
												{s.caution && <span className="block font-semibold">! {s.caution}</span>}
											</span>
										</li>
									))}
								</ol>
							</section>
						)}
						<form
							aria-label="Keep it in the record"
							className="grid gap-3 rounded bg-paper p-4 @md:grid-cols-2"
							onSubmit={(e) => {
								e.preventDefault();
								keep();
							}}
						>
							<label className="flex min-w-0 flex-col gap-1">
								Where
								<input
									className={FIELD}
									value={place}
									maxLength={200}
									onChange={(e) => {
										sent.current = "";
										setPlace(e.target.value);
									}}
								/>
							</label>
							<label className="flex min-w-0 flex-col gap-1">
								What came of it
								<input
									className={FIELD}
									value={outcome}
									maxLength={200}
									onChange={(e) => setOutcome(e.target.value)}
								/>
							</label>
							<button
								type="submit"
								className="min-h-16 rounded bg-bar px-5 font-bold text-white text-xl @md:col-span-2"
							>
								Keep it in the record
							</button>
						</form>
						{kept && <p role="status">{KEPT_HERE}</p>}
						{wrong && <TroubleNote>{wrong}</TroubleNote>}
						{view.recorded.length > 0 && (
							<ul aria-label="Recorded" className="rounded bg-paper p-4">
								{view.recorded.map((r) => (
									<li key={r.seq}>
										<span className="font-reading">{r.at}</span> {r.who}: {r.what}
									</li>
								))}
							</ul>
						)}
					</div>
				</div>
			</FloorPane>
			<NextMove sentence={remedy?.steps[0]?.text ?? "Choose what you see."} detail={remedy?.cause} />
		</>
	);
}

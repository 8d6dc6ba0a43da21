import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { Editing } from "../../api/queries";
import { useSaving } from "../../job/Conflict";
import { FloorPane } from "../../job/Floor";
import { WentOn } from "../../job/Refused";
import { useTelling } from "../../job/useTelling";
import { NextMove, TroubleNote } from "../../ui/parts";
import { HangPicture } from "./HangPicture";
import { HingeSketch } from "./HingeSketch";

type View = Schemas["HangView"];
type Kind = Schemas["HingeKind"];

const BIG = "min-h-16 rounded border border-soft bg-paper px-4 text-left";

/** Which hinge, and why: the best first with its reasons, each other with what speaks against it. */
export function WhichHinge({
	side,
	piece,
	view,
	fahrenheit,
	editing,
	onTape,
}: {
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	view: View;
	fahrenheit: boolean;
	editing: Editing;
	onTape: () => void;
}) {
	const { hang, work } = view;
	const { wrong, tell } = useTelling();
	const [asking, setAsking] = useState<Kind | null>(null);
	const [reason, setReason] = useState("");
	const { save: saveRow, dialog } = useSaving(editing, side.unit);
	// Settled one by one and quickly: each waits for the one before it.
	const save = (change: Partial<Schemas["Work"]>) =>
		tell(
			saveRow({ kind: "piece", id: piece.id, revision: piece.revision }, piece.spec, {
				...piece.spec,
				work: { ...(piece.spec.work ?? work), ...change },
			}),
		);
	const best = hang.ranked[0];
	const used = hang.ranked.find((r) => r.kind === hang.kind);
	const others = hang.ranked.filter((r) => r.kind !== hang.kind);
	return (
		<>
			<FloorPane>
				<HangPicture side={side} piece={piece} hang={hang} maxHeight={150} />
				<div className="grid content-start gap-x-6 gap-y-3 @3xl:grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)]">
					<section aria-label="The hinge" className="flex flex-col gap-3">
						<div className="rounded bg-paper p-4">
							<div className="flex items-center gap-4">
								{used && <HingeSketch kind={used.kind} />}
								<h2 className="font-bold text-3xl first-letter:uppercase">{used?.name}</h2>
							</div>
							{hang.own_reason && (
								<p className="mt-1">
									<strong>The crew's own choice:</strong> {hang.own_reason}
								</p>
							)}
							<ul className="mt-1">
								{used?.reasons.map((r) => (
									<li key={r}>+ {r}</li>
								))}
								{used?.against.map((r) => (
									<li key={r}>− {r}</li>
								))}
							</ul>
							{hang.own_reason && best && (
								<button
									type="button"
									className={`${BIG} mt-2 font-bold`}
									onClick={() => save({ hinge: null })}
								>
									Back to the {best.name}
								</button>
							)}
						</div>
						{piece.stopped &&
							piece.verdict.refusals.map((r) => <TroubleNote key={r.sentence}>{r.sentence}</TroubleNote>)}
						<WentOn piece={piece} />
						{hang.troubles.map((t) => (
							<TroubleNote key={t}>{t}</TroubleNote>
						))}
						<section aria-label="Wet or dry" className="rounded bg-paper p-4">
							<h2 className="font-bold text-xl">{hang.way.way === "wet" ? "Wet" : "Dry"}</h2>
							<ul>
								{hang.way.reasons.map((r) => (
									<li key={r}>{r}</li>
								))}
							</ul>
							<p>{hang.way.dwell}</p>
							<div className="mt-2 flex flex-wrap gap-2">
								{(["wet", "dry"] as const).map((way) => (
									<button
										key={way}
										type="button"
										aria-pressed={hang.way.way === way}
										disabled={way === "wet" && !!hang.way.wet_refused}
										className={`${BIG} first-letter:uppercase disabled:opacity-60 ${hang.way.way === way ? "border-2 border-ink font-bold" : ""}`}
										onClick={() => save({ way })}
									>
										{way}
										{hang.way.advised === way ? ", as advised" : ""}
									</button>
								))}
							</div>
							{hang.way.wet_refused && <p className="mt-1">Not wet: {hang.way.wet_refused}</p>}
						</section>
						<section aria-label="Film and crew" className="grid gap-3 rounded bg-paper p-4 @md:grid-cols-2">
							<label className="flex flex-col gap-1 @md:col-span-2">
								<span>
									Film
									{work.chosen
										? `: ${work.chosen.film.name}, from the shelf`
										: work.film
											? ", as the crew says; none of the shelf is chosen"
											: ", as is usual for its kind; none of the shelf is chosen"}
								</span>
								<select
									aria-label="Film"
									className="h-16 rounded border border-soft bg-paper px-3"
									value={hang.film.class}
									onChange={(e) => save({ film: e.target.value as Schemas["FilmClass"], chosen: null })}
								>
									{view.films.map((f) => (
										<option key={f.class} value={f.class}>
											{f.name}
										</option>
									))}
								</select>
							</label>
							<div role="radiogroup" aria-label="People" className="flex min-w-0 flex-col gap-1">
								<span>People</span>
								<div className="flex gap-2">
									{[1, 2].map((crew) => (
										<button
											key={crew}
											type="button"
											role="radio"
											aria-checked={work.crew === crew}
											onClick={() => save({ crew })}
											className={`h-16 w-16 rounded text-xl ${work.crew === crew ? "bg-bar font-bold text-white" : "border border-soft bg-paper"}`}
										>
											{crew}
										</button>
									))}
								</div>
							</div>
							<Temperature
								key={work.celsius}
								celsius={work.celsius ?? null}
								fahrenheit={fahrenheit}
								onSave={(celsius) => save({ celsius })}
							/>
							{hang.film.from_memory && (
								<p className="text-soft @md:col-span-2">
									{hang.film.from_memory} The film's data sheet decides.
								</p>
							)}
						</section>
						{wrong && <TroubleNote>{wrong}</TroubleNote>}
					</section>
					<section aria-label="The others" className="flex flex-col gap-2">
						<h2 className="font-bold text-xl">Why not another</h2>
						{others.map((r) => (
							<div key={r.kind} className="flex flex-wrap items-center gap-3 rounded bg-paper px-4 py-2">
								<HingeSketch kind={r.kind} />
								<div className="min-w-0 flex-1 basis-40">
									<h3 className="font-bold first-letter:uppercase">{r.name}</h3>
									<p className={r.refused ? "text-trouble" : ""}>
										{r.refused
											? `Not here: ${r.refused}`
											: (r.against[0] ?? "Nothing against it; less speaks for it.")}
									</p>
								</div>
								{!r.never && (
									<button
										type="button"
										className="min-h-16 shrink-0 rounded border border-soft px-3"
										aria-label={`Use the ${r.name}`}
										onClick={() => {
											setAsking(r.kind);
											setReason("");
										}}
									>
										{r.refused ? "Use it all the same" : "Use it"}
									</button>
								)}
								{asking === r.kind && (
									<form
										className="flex flex-col gap-2"
										onSubmit={(e) => {
											e.preventDefault();
											save({ hinge: { kind: r.kind, reason } }).then((kept) => kept && setAsking(null));
										}}
									>
										<label className="flex flex-col">
											<span>Why?</span>
											<input
												className="h-16 rounded border border-soft bg-sheet px-3"
												value={reason}
												maxLength={300}
												onChange={(e) => setReason(e.target.value)}
											/>
										</label>
										<button type="submit" className="min-h-16 rounded bg-bar px-4 font-bold text-white">
											Keep the reason
										</button>
									</form>
								)}
							</div>
						))}
					</section>
				</div>
			</FloorPane>
			{dialog}
			<NextMove
				sentence={`Hang it by the ${used?.name ?? "hinge"}, ${hang.way.way}.`}
				detail={
					view.turn && view.pieces > 1
						? `Piece ${view.turn.turn} of ${view.pieces}. ${view.turn.why}`
						: undefined
				}
			>
				<button
					type="button"
					onClick={onTape}
					className="min-h-16 rounded bg-tape px-6 font-bold text-ink text-xl"
				>
					Tape and cuts
				</button>
			</NextMove>
		</>
	);
}

/** The bay's temperature as its thermometer shows it. */
function Temperature({
	celsius,
	fahrenheit,
	onSave,
}: {
	celsius: number | null;
	fahrenheit: boolean;
	onSave: (celsius: number | null) => void;
}) {
	const shown = celsius === null ? "" : String(Math.round(fahrenheit ? celsius * 1.8 + 32 : celsius));
	const [text, setText] = useState(shown);
	const [wrong, setWrong] = useState(false);
	const take = () => {
		if (text.trim() === shown) return;
		const read = Number(text.replace(",", "."));
		setWrong(!Number.isFinite(read));
		if (text.trim() === "") onSave(null);
		else if (Number.isFinite(read)) onSave(fahrenheit ? (read - 32) / 1.8 : read);
	};
	return (
		<label className="flex min-w-0 flex-col gap-1">
			<span>Bay and surface, {fahrenheit ? "°F" : "°C"}</span>
			<input
				inputMode="decimal"
				className="h-16 w-28 rounded border border-soft bg-sheet px-3 font-reading text-xl"
				value={text}
				onChange={(e) => setText(e.target.value)}
				onBlur={take}
				onKeyDown={(e) => e.key === "Enter" && take()}
			/>
			{wrong && <TroubleNote>“{text}” is no temperature. Type degrees, such as 68.</TroubleNote>}
		</label>
	);
}

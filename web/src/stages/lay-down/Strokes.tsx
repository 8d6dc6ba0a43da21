import { type ReactNode, useCallback, useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { KEPT_HERE, useRecord } from "../../api/outbox";
import { useDesk } from "../../job/Bench";
import { FloorPane, kept } from "../../job/Floor";
import { WentOn } from "../../job/Refused";
import { stagePath } from "../../job/stages";
import { useTelling } from "../../job/useTelling";
import { NextMove, TroubleNote } from "../../ui/parts";
import { Dwell, dwellKey } from "./Dwell";
import { StrokePicture } from "./StrokePicture";

const KEY = "min-h-16 rounded border border-soft bg-paper px-3 text-xl sm:px-5 disabled:opacity-55";
const NEXT = "min-h-16 whitespace-nowrap rounded bg-tape px-6 font-bold text-ink text-xl disabled:opacity-60";
/** How long a stroke stands while they are played, ms. */
const BEAT = 900;

/** The strokes one by one, the proof, and what to do where air has no way out. */
export function Strokes({
	job,
	side,
	piece,
	section,
	view,
	part,
	picker,
	refresh,
	onSection,
	onPiece,
	onLies,
	onRivets,
}: {
	job: string;
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	section: number;
	view: Schemas["LayDownView"];
	part: Schemas["SectionStrokes"];
	picker: ReactNode;
	refresh: () => Promise<void>;
	onSection: (n: number) => void;
	onPiece: () => void;
	/** The piece stays in sight, with its wait and its rivets, until the next is asked for. */
	onLies: () => void;
	onRivets: () => void;
}) {
	// Strokes that were made stay made when the page is loaded again.
	const place = `strokes.${piece.id}.${section}.${part.strokes.length}`;
	const last = section + 1 >= view.lay_down.sections.length;
	// What follows the strokes is worked through one by one, too.
	const steps = [...part.then, ...(last ? view.lay_down.once_it_lies : [])];
	const end = part.strokes.length + steps.length;
	const [at, setMade] = useState(() => (piece.laid ? end : Math.min(Number(kept.get(place) ?? 0) || 0, end)));
	const setAt = useCallback(
		(next: number | ((n: number) => number)) =>
			setMade((before) => {
				const made = typeof next === "number" ? next : next(before);
				kept.set(place, made === 0 ? null : String(made));
				return made;
			}),
		[place],
	);
	const phone = !useDesk();
	const [playing, setPlaying] = useState(false);
	const { wrong, tell } = useTelling();
	const [waits, setWaits] = useState(false);
	const record = useRecord();
	const count = part.strokes.length;
	useEffect(() => {
		if (!playing) return;
		const timer = setInterval(() => setAt((n) => Math.min(n + 1, count)), BEAT);
		return () => clearInterval(timer);
	}, [playing, count, setAt]);
	useEffect(() => {
		if (at >= count) setPlaying(false);
	}, [at, count]);
	const stroke = part.strokes[at];
	const step = steps[at - count];
	const total = view.lay_down.sections.reduce((n, s) => n + s.strokes.length, 0);
	const [why, setWhy] = useState("");
	const lies = () => {
		const note = { what: "laid" as const, strokes: total, ...(piece.locked ? {} : { why: why.trim() }) };
		// The wait for the transfer tape runs from the last stroke, also while this is not sent yet.
		kept.set(dwellKey(piece.id), String(Date.now()));
		onLies();
		tell(
			record({ kind: "floor", piece: piece.id, note })
				.then((o) => setWaits(!o.sent))
				.finally(() => refresh()),
		).then((told) => {
			if (!told) kept.set(dwellKey(piece.id), null);
		});
	};
	return (
		<>
			<FloorPane>
				<StrokePicture
					side={side}
					piece={piece}
					part={part}
					at={at}
					maxHeight={phone ? Math.max(150, Math.min(420, innerHeight - 545)) : 300}
				/>
				<div className="flex flex-wrap items-center gap-2 sm:gap-3">
					<p className="whitespace-nowrap font-bold font-reading text-3xl" aria-live="polite">
						{Math.min(at + 1, count)} of {count}
					</p>
					<button type="button" className={KEY} disabled={at === 0} onClick={() => setAt(at - 1)}>
						Back one
					</button>
					{at < count && (
						<button type="button" className={KEY} onClick={() => setAt(end)}>
							Section done
						</button>
					)}
					{picker}
					<button
						type="button"
						className={KEY}
						onClick={() => {
							if (at >= count) setAt(0);
							setPlaying(!playing);
						}}
					>
						{playing ? "Stop" : "Play"}
					</button>
					<button type="button" className={KEY} disabled={at === 0} onClick={() => setAt(0)}>
						From the first
					</button>
					<a
						className={`${KEY} ml-auto flex items-center`}
						href={`/api/pieces/${piece.id}/strokes.pdf`}
						target="_blank"
						rel="noreferrer"
					>
						Print
					</a>
				</div>
				<WentOn piece={piece} />
				{part.shut_in.map((air) => (
					<TroubleNote key={air.corners.join()}>{air.sentence}</TroubleNote>
				))}
				<div className="grid gap-4 @lg:grid-cols-2">
					<section aria-label="Proof" className="rounded bg-paper p-4">
						<h2 className="font-bold text-xl">
							{part.shut_in.length === 0 ? "✓ No air is shut in" : "! Air has no way out"}
						</h2>
						<p>{part.proof}</p>
						<p className="mt-1 first-letter:uppercase">
							{view.hinge}, {view.film.name}.{" "}
							{view.turn && view.pieces > 1 && `Piece ${view.turn.turn} of ${view.pieces}. ${view.turn.why}`}
						</p>
					</section>
					<section aria-label="Before the first stroke" className="rounded bg-paper p-4">
						<ul>
							{view.lay_down.before.map((b) => (
								<li key={b}>{b}</li>
							))}
						</ul>
					</section>
					{steps.length > 0 && (
						<section aria-label="Once it lies" className="rounded bg-paper p-4">
							<h2 className="font-bold text-xl">After the strokes</h2>
							<ol>
								{steps.map((o, n) => (
									<li key={o} className={count + n === at ? "font-bold" : count + n < at ? "text-soft" : ""}>
										{count + n < at ? "✓ " : ""}
										{o}
									</li>
								))}
							</ol>
						</section>
					)}
				</div>
				<Dwell piece={piece} view={view} refresh={refresh} />
				{waits && <p role="status">{KEPT_HERE}</p>}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</FloorPane>
			{piece.laid && at >= end ? (
				<NextMove sentence={`“${piece.called}” lies.`} detail={view.dwell}>
					{side.pieces.some((p) => !p.laid && p.id !== piece.id) ? (
						<button type="button" className={NEXT} onClick={onPiece}>
							Next piece
						</button>
					) : (
						<>
							{view.lay_down.rivets.groups.length > 0 && (
								<button type="button" className={NEXT} onClick={onRivets}>
									Rivets
								</button>
							)}
							<Link
								to={`${stagePath(job, "hand_over")}?side=${side.id}`}
								className={`flex items-center ${NEXT}`}
							>
								Hand over
							</Link>
						</>
					)}
				</NextMove>
			) : stroke ? (
				<NextMove
					sentence={stroke.reached.length > 0 ? stroke.reached.join(" ") : stroke.sentence}
					detail={`Stroke ${stroke.number} of ${count}.${stroke.reached.length > 0 ? ` ${stroke.sentence}` : ""}`}
				>
					<button type="button" className={NEXT} onClick={() => setAt(at + 1)}>
						Pressed. Next
					</button>
				</NextMove>
			) : step ? (
				<NextMove sentence={step} detail={`After the strokes, ${at - count + 1} of ${steps.length}.`}>
					<button type="button" className={NEXT} onClick={() => setAt(at + 1)}>
						Done. Next
					</button>
				</NextMove>
			) : last && !piece.locked ? (
				<NextMove
					sentence="Nobody has locked this hinge with both ends right."
					detail="Lock it under Hinge, or say why it was laid all the same."
				>
					<input
						aria-label="Why it was laid all the same"
						placeholder="Why"
						value={why}
						maxLength={300}
						onChange={(e) => setWhy(e.target.value)}
						className="min-h-16 w-56 min-w-0 rounded bg-paper px-3 text-ink text-xl"
					/>
					<button type="button" className={NEXT} disabled={why.trim().length < 3} onClick={lies}>
						It lies
					</button>
				</NextMove>
			) : last ? (
				<NextMove sentence="All strokes are made." detail="Look at it from several angles, in raking light.">
					<button type="button" className={NEXT} onClick={lies}>
						It lies
					</button>
				</NextMove>
			) : (
				<NextMove sentence={`Section ${section + 1} lies.`}>
					<button type="button" className={NEXT} onClick={() => onSection(section + 1)}>
						Next section
					</button>
				</NextMove>
			)}
		</>
	);
}

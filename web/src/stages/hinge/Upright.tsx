import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { KEPT_HERE, useRecord } from "../../api/outbox";
import { useTelling } from "../../job/useTelling";
import { TroubleNote } from "../../ui/parts";

/** The upright edge of a panel, read at its upper and its lower corner: it decides where every later panel falls. */
export function Upright({
	piece,
	edge,
	refresh,
}: {
	piece: Schemas["PieceView"];
	edge: Schemas["UprightEdge"];
	refresh: () => Promise<void>;
}) {
	const [read, setRead] = useState({ top: "", foot: "" });
	const [answer, setAnswer] = useState<Schemas["UprightAnswer"] | null>(null);
	const { wrong, tell } = useTelling();
	const [kept, setKept] = useState(false);
	const record = useRecord();
	const [settled, setSettled] = useState<Schemas["TrueTo"] | null>(null);
	const send = (to?: Schemas["TrueTo"]) =>
		tell(
			record<Schemas["UprightAnswer"]>({
				kind: "upright",
				piece: piece.id,
				top: read.top,
				foot: read.foot,
				...(to && { settled: to }),
			})
				.then((told) => {
					setAnswer(told.sent ? told.answer : null);
					setSettled(to ?? null);
					setKept(!told.sent);
				})
				.finally(() => refresh()),
		);
	const named: Record<Schemas["TrueTo"], string> = {
		top: "True to the top",
		edge: "True to the edge",
		share: "Share it",
	};
	const choices = answer?.choices ?? [];
	// On a phone what is said would stand under the bar.
	const said = useRef<HTMLParagraphElement>(null);
	useEffect(() => {
		if (answer) said.current?.scrollIntoView({ block: "center" });
	}, [answer]);
	return (
		<form
			aria-label="Upright edge"
			className="flex flex-wrap items-end gap-3 rounded bg-paper p-4"
			onSubmit={(e) => {
				e.preventDefault();
				send();
			}}
		>
			<h2 className="w-full font-bold text-xl">Upright edge of the panel, back from the {edge.ends[0]}</h2>
			{(["top", "foot"] as const).map((end) => (
				<label key={end} className="flex min-w-0 flex-col gap-1">
					<span>
						{end === "top" ? "Upper" : "Lower"} corner, wanted{" "}
						<strong className="font-reading">{edge[end].text}</strong>
					</span>
					<input
						className="h-16 w-56 rounded border border-soft bg-sheet px-3 font-bold font-reading text-2xl"
						value={read[end]}
						autoComplete="off"
						onChange={(e) => {
							setAnswer(null);
							setRead({ ...read, [end]: e.target.value });
						}}
					/>
				</label>
			))}
			<button
				type="submit"
				disabled={!read.top.trim() || !read.foot.trim()}
				className="min-h-16 rounded border border-soft bg-paper px-5 text-xl disabled:opacity-60"
			>
				Edge read
			</button>
			{kept && <p role="status">{KEPT_HERE}</p>}
			{answer && (
				<p ref={said} role="status" className={`w-full font-semibold ${answer.right ? "" : "text-trouble"}`}>
					{answer.right ? "✓ " : "! "}
					{answer.sentence}
				</p>
			)}
			{answer && choices.length > 0 && (
				<fieldset className="grid w-full gap-2">
					<legend className="mb-2 font-semibold">
						The top reads right as it hangs, and the edge leans all the same
					</legend>
					{choices.map((choice) => (
						<button
							key={choice.to}
							type="button"
							aria-pressed={settled === choice.to}
							onClick={() => send(choice.to)}
							className={`min-h-16 rounded bg-paper px-4 py-2 text-left text-lg ${
								settled === choice.to ? "ring-4 ring-measure" : "border border-soft"
							}`}
						>
							<strong>
								{settled === choice.to ? "✓ " : ""}
								{named[choice.to]}.
							</strong>{" "}
							{choice.sentence}
						</button>
					))}
				</fieldset>
			)}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</form>
	);
}

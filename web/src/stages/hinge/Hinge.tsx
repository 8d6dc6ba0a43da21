import { Tabs } from "radix-ui";
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { type Editing, useHang, useHinge } from "../../api/queries";
import { useWide } from "../../job/Bench";
import { FloorPane, TouchChoice } from "../../job/Floor";
import { LayOutFirst } from "../../job/LayOutFirst";
import { inTurn, PiecePicker } from "../../job/PiecePicker";
import { Refused } from "../../job/Refused";
import { NextMove, Waiting } from "../../ui/parts";
import { HangPicture } from "./HangPicture";
import { ReadEnds } from "./ReadEnds";
import { WhichHinge } from "./WhichHinge";

type Side = Schemas["SideView"];
type Piece = Schemas["PieceView"];

const PARTS = [
	{ value: "which", text: "Which" },
	{ value: "tape", text: "Tape, cuts" },
	{ value: "read", text: "Read ends" },
];

/** Which hinge, where its tape and the cuts go, both ends read and locked. Built for a tablet and gloves. */
export function Hinge({ job, side, editing }: { job: string; side: Side; editing: Editing }) {
	const [picked, setPicked] = useState<string | null>(null);
	const [tab, setTab] = useState("read");
	const wide = useWide();
	const pieces = inTurn(side);
	const piece = pieces.find((p) => p.id === picked) ?? pieces.find((p) => !p.locked) ?? pieces[0];
	// Locked, it stays in sight until the next one is asked for.
	const at = piece?.id ?? null;
	useEffect(() => setPicked(at), [at]);
	const hinge = useHinge(piece?.id);
	const hang = useHang(piece?.id);
	if (!piece) {
		return (
			<LayOutFirst
				job={job}
				side={side.id}
				says={
					side.failed[0]?.problem.detail ?? "Nothing is laid out on this side, so there is nothing to hang."
				}
			/>
		);
	}
	const trigger =
		"min-h-16 rounded-t px-4 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink";
	return (
		<Tabs.Root value={tab} onValueChange={setTab} asChild>
			<main className="floor flex min-h-0 min-w-0 grow flex-col">
				{wide ? (
					<div className="flex shrink-0 items-end justify-between gap-x-4 px-6">
						<Tabs.List aria-label="Hinge" className="flex shrink-0 gap-1">
							<Tabs.Trigger value="which" className={trigger}>
								Which hinge
							</Tabs.Trigger>
							<Tabs.Trigger value="tape" className={trigger}>
								Tape and cuts
							</Tabs.Trigger>
							<Tabs.Trigger value="read" className={trigger}>
								Read both ends
							</Tabs.Trigger>
						</Tabs.List>
						<PiecePicker pieces={pieces} chosen={piece.id} done={(p) => p.locked} onPick={setPicked} />
					</div>
				) : (
					<div className="flex gap-2 px-3">
						<TouchChoice label="Hinge" value={tab} onChange={setTab} options={PARTS} />
						<PiecePicker pieces={pieces} chosen={piece.id} done={(p) => p.locked} onPick={setPicked} />
					</div>
				)}
				<Tabs.Content value="read" className="flex min-h-0 min-w-0 grow flex-col">
					{piece.stopped ? (
						<Refused key={piece.id} job={job} side={side} piece={piece} editing={editing} />
					) : hinge.data ? (
						<ReadEnds
							key={piece.id}
							job={job}
							side={side}
							piece={piece}
							state={hinge.data}
							refresh={editing.refresh}
							hang={hang.data}
							onNext={() => setPicked(pieces.find((p) => !p.locked && p.id !== piece.id)?.id ?? null)}
						/>
					) : (
						<Waiting what="the readings" error={hinge.error} />
					)}
				</Tabs.Content>
				<Tabs.Content value="which" className="flex min-h-0 min-w-0 grow flex-col">
					{hang.data ? (
						<WhichHinge
							key={piece.id}
							side={side}
							piece={piece}
							view={hang.data}
							fahrenheit={side.unit !== "millimetre"}
							editing={editing}
							onTape={() => setTab("tape")}
						/>
					) : (
						<Waiting what="the hinges" error={hang.error} />
					)}
				</Tabs.Content>
				<Tabs.Content value="tape" className="flex min-h-0 min-w-0 grow flex-col">
					{piece.stopped ? (
						<Refused key={piece.id} job={job} side={side} piece={piece} editing={editing} />
					) : hang.data ? (
						<TapeAndCuts side={side} piece={piece} hang={hang.data.hang} onRead={() => setTab("read")} />
					) : (
						<Waiting what="tape and cuts" error={hang.error} />
					)}
				</Tabs.Content>
			</main>
		</Tabs.Root>
	);
}

function TapeAndCuts({
	side,
	piece,
	hang,
	onRead,
}: {
	side: Side;
	piece: Piece;
	hang: Schemas["Hang"];
	onRead: () => void;
}) {
	const { hinge } = piece;
	const none = hinge.cuts.filter((c) => !c.line && c.sentence);
	const runs = hang.tape.filter((t) => t.what === "hinge");
	const tabs = hang.tape.filter((t) => t.what === "tab");
	const rows: [string, string | undefined][] = [
		["Hinge tape, half on the piece", runs[0] && `${runs.length} × ${runs[0].length.text}`],
		["Tape width", hinge.tape_width.text],
		["Upper edge of the tape, down", hang.kind === "top" ? hinge.tape_top.text : undefined],
		["Corner tabs", tabs[0] && `${tabs.length} × ${tabs[0].length.text}`],
		["Tape in all", hang.total.text],
	];
	const lines = [...hang.liner, ...hang.stay];
	// Too late once the liner is off.
	const relief = piece.worked.filter((w) => w.relief?.before_the_liner);
	return (
		<>
			<FloorPane>
				<HangPicture side={side} piece={piece} hang={hang} maxHeight={260} />
				{hang.troubles.map((t) => (
					<p
						key={t}
						role="alert"
						className="rounded border-trouble border-l-4 bg-trouble-soft px-4 py-2 text-trouble"
					>
						<strong>! </strong>
						{t}
					</p>
				))}
				<div className="grid gap-4 @lg:grid-cols-[auto_1fr]">
					<dl className="grid grid-cols-[auto_auto] items-baseline gap-x-6 gap-y-1 self-start rounded bg-paper p-4">
						{rows.map(
							([name, text]) =>
								text && (
									<div key={name} className="contents">
										<dt>{name}</dt>
										<dd className="text-right font-bold font-reading text-xl">{text}</dd>
									</div>
								),
						)}
					</dl>
					<section aria-label="Sections" className="rounded bg-paper p-4">
						<h2 className="mb-1 font-bold text-xl">
							{hang.sections.length === 1 ? "In one piece" : `${hang.sections.length} sections`}
						</h2>
						{hang.sections.length > 1 && (
							<ol className="grid gap-x-8 @md:grid-cols-2">
								{hang.sections.map((s, n) => (
									<li key={s.corners.join()} className="flex items-baseline gap-3">
										<span className="w-7 text-right font-bold">{n + 1}</span>
										<span className="truncate">{s.called}</span>
										<span className="ml-auto font-reading">{s.width.text}</span>
									</li>
								))}
							</ol>
						)}
						<ul>
							{hang.sections
								.filter((s) => s.note)
								.map((s) => (
									<li key={s.corners.join()}>
										<strong>{s.called}</strong>: {s.note}
									</li>
								))}
							{lines.map((l) => (
								<li key={l.sentence}>{l.sentence}</li>
							))}
							{hang.helper && <li>{hang.helper.sentence}</li>}
						</ul>
					</section>
				</div>
				{relief.length > 0 && (
					<section aria-label="Relief cuts" className="rounded bg-paper p-4">
						<h2 className="mb-1 font-bold text-xl">Relief cuts, before the liner comes off</h2>
						<ul>
							{relief.map((w) => (
								<li key={w.name}>
									<strong>{w.name}</strong>: {w.how}
								</li>
							))}
						</ul>
						<p className="text-soft">
							On a mat, never on the vehicle; the blade away from the hand that holds.
						</p>
					</section>
				)}
				<details className="rounded bg-paper px-4">
					<summary className="min-h-16 content-center font-bold text-xl">
						Every parting cut: {hinge.cuts.filter((c) => c.line).length}
					</summary>
					<ol className="grid gap-x-8 pb-2 @md:grid-cols-2 @3xl:grid-cols-3">
						{hinge.cuts
							.filter((c) => c.line)
							.map((c, n) => (
								<li key={c.sentence} className="flex items-baseline gap-3">
									<span className="w-7 text-right font-bold">{n + 1}</span>
									<span>
										{c.left} | {c.right}
									</span>
									<span className="ml-auto font-reading">{c.back?.text}</span>
									{c.lean_degrees !== 0 && (
										<span>
											leans {Math.abs(c.lean_degrees)}° {c.lean_degrees > 0 ? "right" : "left"}
										</span>
									)}
								</li>
							))}
					</ol>
					<p className="text-soft">Back along the rail, at the top edge of the transfer tape.</p>
					<ul className="pb-2">
						{none.map((c) => (
							<li key={c.sentence}>– {c.sentence}</li>
						))}
					</ul>
				</details>
				<ol className="rounded bg-paper p-4">
					{hang.steps.map((s, n) => (
						<li key={s} className="flex gap-3">
							<strong>{n + 1}</strong>
							{s}
						</li>
					))}
				</ol>
				<p className="border-tape-deep border-t-2 pt-2 font-semibold">
					Knife: cut away from your hand, through the transfer tape and liner only, never into paint. Stand on
					a step, not on a tyre.
				</p>
			</FloorPane>
			<NextMove
				sentence={hang.steps[0] ?? "Hang the piece."}
				detail={tabs[0] ? undefined : "No tape on the vehicle."}
			>
				<button
					type="button"
					onClick={onRead}
					className="min-h-16 rounded bg-tape px-6 font-bold text-ink text-xl"
				>
					Read both ends
				</button>
			</NextMove>
		</>
	);
}

import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { type Editing, useHinge } from "../../api/queries";
import { NextMove, Waiting } from "../../ui/parts";
import { stagePath } from "../stages";
import { HingePicture } from "./HingePicture";
import { ReadEnds } from "./ReadEnds";

type Side = Schemas["SideView"];
type Piece = Schemas["PieceView"];

/** Hang a piece by its top hinge, read both ends, lock it. Built for a tablet and gloves. */
export function Hinge({ job, side, editing }: { job: string; side: Side; editing: Editing }) {
	const [picked, setPicked] = useState<string | null>(null);
	const [tab, setTab] = useState("read");
	const piece =
		side.pieces.find((p) => p.id === picked) ?? side.pieces.find((p) => !p.locked) ?? side.pieces[0];
	const hinge = useHinge(piece?.id);
	if (!piece) {
		return (
			<>
				<main className="floor grow px-6 py-6 text-xl">
					{side.failed[0]?.problem.detail ?? "Nothing is laid out on this side, so there is nothing to hang."}
				</main>
				<NextMove sentence="Lay out a piece first.">
					<Link
						to={`${stagePath(job, "lay_out")}?side=${side.id}`}
						className="flex min-h-16 items-center rounded bg-tape px-6 font-bold text-ink text-xl"
					>
						Lay out
					</Link>
				</NextMove>
			</>
		);
	}
	const trigger =
		"min-h-16 rounded-t px-5 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink";
	return (
		<Tabs.Root value={tab} onValueChange={setTab} className="floor flex grow flex-col">
			<div className="flex flex-wrap items-end justify-between gap-x-4 px-6 pt-1.5">
				<Tabs.List aria-label="Hinge" className="flex gap-1">
					<Tabs.Trigger value="read" className={trigger}>
						Read both ends
					</Tabs.Trigger>
					<Tabs.Trigger value="tape" className={trigger}>
						Tape and cuts
					</Tabs.Trigger>
				</Tabs.List>
				{side.pieces.length > 1 && (
					<div role="radiogroup" aria-label="Pieces on this side" className="flex flex-wrap gap-2 pb-1">
						{side.pieces.map((p) => (
							<button
								key={p.id}
								type="button"
								role="radio"
								aria-checked={p.id === piece.id}
								onClick={() => setPicked(p.id)}
								className={`min-h-16 max-w-56 truncate rounded px-4 ${
									p.id === piece.id ? "bg-measure font-bold text-white" : "border border-soft bg-paper"
								}`}
							>
								{p.locked ? "✓ " : ""}
								{p.called}
							</button>
						))}
					</div>
				)}
			</div>
			<Tabs.Content value="read" className="flex grow flex-col">
				{hinge.data ? (
					<ReadEnds
						key={piece.id}
						job={job}
						side={side}
						piece={piece}
						state={hinge.data}
						refresh={editing.refresh}
						onNext={() => setPicked(side.pieces.find((p) => !p.locked && p.id !== piece.id)?.id ?? null)}
					/>
				) : (
					<Waiting what="the readings" error={hinge.error} />
				)}
			</Tabs.Content>
			<Tabs.Content value="tape" className="flex grow flex-col">
				<TapeAndCuts side={side} piece={piece} onRead={() => setTab("read")} />
			</Tabs.Content>
		</Tabs.Root>
	);
}

function TapeAndCuts({ side, piece, onRead }: { side: Side; piece: Piece; onRead: () => void }) {
	const { hinge } = piece;
	const cuts = hinge.cuts.filter((c) => c.line);
	const none = hinge.cuts.filter((c) => !c.line);
	const rows: [string, string][] = [
		["Tape along the top edge", hinge.run.text],
		["In pieces", `${hinge.pieces} × ${hinge.piece.text}`],
		["Tape width, half on the piece", hinge.tape_width.text],
		["Upper edge of the tape, down", hinge.tape_top.text],
		["Corner tabs", `2 × ${hinge.tab.text}`],
		["Tape in all", hinge.total.text],
	];
	return (
		<>
			<div className="flex grow flex-col gap-3 px-6 pb-3">
				<HingePicture side={side} piece={piece} round={undefined} cuts maxHeight={260} />
				{hinge.troubles.map((t) => (
					<p
						key={t}
						role="alert"
						className="rounded border-trouble border-l-4 bg-trouble-soft px-4 py-2 text-trouble"
					>
						<strong>! </strong>
						{t}
					</p>
				))}
				<div className="grid gap-6 md:grid-cols-[auto_1fr]">
					<dl className="grid grid-cols-[auto_auto] items-baseline gap-x-6 gap-y-1 self-start rounded bg-paper p-4">
						{rows.map(([name, text]) => (
							<div key={name} className="contents">
								<dt>{name}</dt>
								<dd className="text-right font-bold font-reading text-xl">{text}</dd>
							</div>
						))}
					</dl>
					<section aria-label="Parting cuts" className="rounded bg-paper p-4">
						<h2 className="mb-1 font-bold text-xl">Parting cuts: {cuts.length}</h2>
						<ol className="grid gap-x-8 sm:grid-cols-2 lg:grid-cols-3">
							{cuts.map((c, n) => (
								<li key={c.sentence} className="flex items-baseline gap-3" title={c.sentence}>
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
						<ul className="mt-1">
							{none.map((c) => (
								<li key={c.sentence}>– {c.sentence}</li>
							))}
						</ul>
						<p className="mt-2 border-tape-deep border-t-2 pt-2 font-semibold">
							Knife: cut away from your hand, through the transfer tape only, never into paint. Stand on a
							step, not on a tyre.
						</p>
					</section>
				</div>
			</div>
			<NextMove
				sentence={`Tabs first: 2 of ${hinge.tab.text}. Read both ends, then tape the top edge.`}
				detail={`${hinge.pieces} × ${hinge.piece.text} of tape.`}
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

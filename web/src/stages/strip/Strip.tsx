import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { KEPT_HERE, useActs } from "../../api/outbox";
import type { Point } from "../../drawing/frame";
import { SidePicture } from "../../drawing/SidePicture";
import { BayPart, HeatLocked } from "../../job/Bay";
import { Bench, useWide } from "../../job/Bench";
import { TouchChoice } from "../../job/Floor";
import { stagePath } from "../../job/stages";
import { useFloorRecord } from "../../job/useFloorRecord";
import { Button, NextMove, TroubleNote, Waiting } from "../../ui/parts";
import { Cells, HarmMarks, partsOpen, TouchPlace } from "./Cells";
import { HarmPart } from "./HarmPart";
import { HowItComesOff } from "./HowItComesOff";
import { HowLong } from "./HowLong";
import { OldForm } from "./OldForm";
import { PatchPart } from "./PatchPart";
import { useWatch } from "./useWatch";

export type Old = Schemas["OldView"];

const PARTS = {
	how: "How",
	patch: "Test patch",
	long: "How long",
	what: "What it is",
	harm: "Harm",
	bay: "Bay",
};
type Part = keyof typeof PARTS;

/** Old film off: how, how hot, how long, and how far it is. Built for a phone and gloves. */
export function Strip({ job, side }: { job: string; side: Schemas["SideView"] }) {
	const [picked, setPicked] = useState<string | null>(null);
	const [part, setPart] = useState<Part>("how");
	const [adding, setAdding] = useState(false);
	const [place, setPlace] = useState<Point | null>(null);
	const record = useFloorRecord(job);
	const acts = useActs();
	const wide = useWide();
	const found = useQuery({
		queryKey: ["strip", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/strip", { params: { path: { id: job } } })),
		// What another job wets in the same bay shows without a reload.
		refetchInterval: 20_000,
	});
	const view = found.data;
	const here = view?.old.filter((o) => o.side === side.id) ?? [];
	const old = here.find((o) => o.id === picked) ?? here.find((o) => !o.off) ?? here[0];
	const watch = useWatch(old?.id);
	if (!view) return <Waiting what="the old film" error={found.error} />;
	const waiting = acts.flatMap((a) => (a.what.kind === "strip" && a.what.job === job ? [a.what.entry] : []));
	const open = old ? partsOpen(old, waiting) : null;
	const mark = async (cells: number[], phase: Schemas["Phase"], undo: boolean) => {
		if (!old || cells.length === 0) return;
		const seconds = undo ? null : watch.lap();
		await record.strip(
			undo
				? { what: "not_done", old: old.id, phase, cells }
				: { what: "done", old: old.id, phase, cells, seconds },
		);
	};
	const tap = (o: Old, cell: number) => {
		if (o.id !== old?.id) {
			setPicked(o.id);
			return;
		}
		const c = o.cells[cell];
		if (!c || !open) return;
		if (open.phase === "film") void mark([cell], "film", c.film_off);
		else void mark([cell], "adhesive", c.clean);
	};
	const form = (
		<OldForm
			key={adding ? "new" : old?.id}
			side={side}
			view={view}
			old={adding ? undefined : old}
			record={record.strip}
			onDone={() => setAdding(false)}
		/>
	);
	const next = view.next;
	const otherSide = next.old !== null && !here.some((o) => o.id === next.old);
	const says = otherSide && old === undefined ? "Nothing old is noted on this side." : next.says;
	const which = Object.keys(PARTS) as Part[];
	return (
		<Bench
			drawing={side.drawing}
			picture={(height) => (
				<SidePicture
					side={side}
					pieces={side.pieces}
					ghost
					maxHeight={height}
					label={`The side with its old film${old ? `, ${old.graphic.name} chosen` : ""}`}
				>
					{(frame) => (
						<>
							{here.map((o) => (
								<Cells
									key={o.id}
									old={o}
									chosen={o.id === old?.id}
									frame={frame}
									waiting={waiting}
									onTap={part === "harm" ? undefined : (cell) => tap(o, cell)}
								/>
							))}
							{part === "harm" && <TouchPlace frame={frame} onPlace={setPlace} />}
							<HarmMarks harm={view.harm.filter((h) => h.side === side.id)} frame={frame} place={place} />
						</>
					)}
				</SidePicture>
			)}
			bar={
				<NextMove sentence={says} detail={next.detail ?? undefined} alarm={next.alarm}>
					{old && open && !old.off && (
						<Button
							look="next"
							className="min-h-16 px-6 text-xl"
							onClick={() => mark([open.next], open.phase, false)}
						>
							{old.counted === "letters" ? "Letter" : "Part"} {open.next + 1} of {old.cells.length}:{" "}
							{open.phase === "film" ? "film off" : "clean"}
						</Button>
					)}
					{(!old || old.off) && view.old.every((o) => o.off) && (
						<Link
							to={`${stagePath(job, "prep")}?side=${side.id}`}
							className="flex min-h-16 items-center rounded bg-tape px-6 font-bold text-ink text-xl"
						>
							Prep
						</Link>
					)}
				</NextMove>
			}
		>
			<div className="floor flex flex-col gap-3 pt-2">
				{record.wrong && <TroubleNote>{record.wrong}</TroubleNote>}
				{record.waits && <p role="status">{KEPT_HERE}</p>}
				<HeatLocked bay={view.bay} />
				{view.done_by && (
					<p className="font-bold text-xl" data-testid="done-by">
						{view.done_by.says}
					</p>
				)}
				<div className="flex flex-wrap items-center gap-2">
					{here.length > 0 && (
						<TouchChoice
							label="Old film"
							value={old?.id ?? ""}
							options={here.map((o) => ({ value: o.id, text: `${o.off ? "✓ " : ""}${o.graphic.name}` }))}
							onChange={(id) => {
								setPicked(id);
								setAdding(false);
							}}
						/>
					)}
					<Button
						className="min-h-16"
						look={view.old.length === 0 && !adding ? "next" : "plain"}
						onClick={() => setAdding((a) => !a)}
					>
						{adding ? "Not now" : "Old film is on it"}
					</Button>
				</div>
				{adding || !old ? (
					adding ? (
						form
					) : (
						<BayPart bay={view.bay} onEntry={record.bay} />
					)
				) : (
					<Tabs.Root value={part} onValueChange={(p) => setPart(p as Part)}>
						{wide ? (
							<Tabs.List
								aria-label="About this old film"
								className="flex flex-wrap gap-1 border-soft border-b-2"
							>
								{which.map((p) => (
									<Tabs.Trigger
										key={p}
										value={p}
										className="h-14 rounded-t px-3 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink"
									>
										{PARTS[p]}
										{p === "harm" && view.harm.length > 0 ? ` ${view.harm.length}` : ""}
									</Tabs.Trigger>
								))}
							</Tabs.List>
						) : (
							<div className="flex">
								<TouchChoice
									label="About this old film"
									value={part}
									options={which.map((p) => ({ value: p, text: PARTS[p] }))}
									onChange={(p) => setPart(p as Part)}
								/>
							</div>
						)}
						<Tabs.Content value="how" className="pt-3">
							<HowItComesOff old={old} watch={watch} bay={view.bay} />
						</Tabs.Content>
						<Tabs.Content value="patch" className="pt-3">
							<PatchPart
								key={old.id}
								job={job}
								old={old}
								view={view}
								record={record.strip}
								onWrong={record.setWrong}
							/>
						</Tabs.Content>
						<Tabs.Content value="long" className="pt-3">
							<HowLong old={old} view={view} record={record.strip} />
						</Tabs.Content>
						<Tabs.Content value="what" className="pt-3">
							{form}
						</Tabs.Content>
						<Tabs.Content value="harm" className="pt-3">
							<HarmPart
								job={job}
								side={side}
								view={view}
								place={place}
								onPlaced={() => setPlace(null)}
								record={record.strip}
								onWrong={record.setWrong}
							/>
						</Tabs.Content>
						<Tabs.Content value="bay" className="pt-3">
							<BayPart bay={view.bay} onEntry={record.bay} />
						</Tabs.Content>
					</Tabs.Root>
				)}
			</div>
		</Bench>
	);
}

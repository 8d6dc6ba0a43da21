import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { type ReactNode, useRef, useState } from "react";
import { Link } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { KEPT_HERE, useActs } from "../../api/outbox";
import { type Frame, type Point, useWidth } from "../../drawing/frame";
import { Magnified, SidePicture } from "../../drawing/SidePicture";
import { BayPart, HeatLocked } from "../../job/Bay";
import { Bench, useWide } from "../../job/Bench";
import { TouchChoice } from "../../job/Floor";
import { PartTabs } from "../../job/PartTabs";
import { stagePath } from "../../job/stages";
import { useBayHere } from "../../job/useBayHere";
import { useFloorRecord } from "../../job/useFloorRecord";
import { useOnePress } from "../../job/useOnePress";
import { Button, NextMove, TroubleNote, Waiting } from "../../ui/parts";
import { Cells, Corners, HarmMarks, partsOpen, standing, TouchPlace } from "./Cells";
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

const NOTHING: readonly Point[] = [];

/** A cold corner in a word, for a gloved finger. */
const SHORT: Record<string, string> = { whole: "Whole", tears: "Tears", chips: "Chips" };

/** On a phone the old film fills the picture: its parts are as large as a finger. */
function Near({
	side,
	old,
	height,
	children,
}: {
	side: Schemas["SideView"];
	old: Old;
	height: number;
	children: (frame: Frame) => ReactNode;
}) {
	const [ref, width] = useWidth();
	const corners = old.cells.flatMap((c) => c.outline);
	const xs = corners.map((c) => c[0] ?? 0);
	const ys = corners.map((c) => c[1] ?? 0);
	const [left, right, top, foot] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
	const high = Math.min(height, 240);
	const scale = Math.min((width - 24) / (right - left), (high - 70) / (foot - top), 1.2);
	return (
		<div ref={ref} className="w-full">
			{width > 0 && (
				<Magnified
					side={side}
					pieces={[]}
					at={[(left + right) / 2, (top + foot) / 2]}
					width={width}
					height={high}
					scale={scale}
					label={`${old.graphic.name}, near`}
				>
					{children}
				</Magnified>
			)}
		</div>
	);
}

/** Old film off: how, how hot, how long, and how far it is. Built for a phone and gloves. */
export function Strip({ job, side }: { job: string; side: Schemas["SideView"] }) {
	const [picked, setPicked] = useState<string | null>(null);
	const [part, setPart] = useState<Part>("how");
	const [adding, setAdding] = useState(false);
	const [place, setPlace] = useState<Point | null>(null);
	// Corners of old film that is added, as they are touched in the picture.
	const [corners, setCorners] = useState<readonly Point[]>(NOTHING);
	const record = useFloorRecord(job);
	const acts = useActs();
	const top = useRef<HTMLDivElement>(null);
	const pressed = useOnePress();
	const wide = useWide();
	const found = useQuery({
		queryKey: ["strip", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/strip", { params: { path: { id: job } } })),
		// What another job wets in the same bay shows without a reload.
		refetchInterval: 20_000,
	});
	const bay = useBayHere(job, found.data?.bay);
	const view = found.data && bay ? { ...found.data, bay } : undefined;
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
		if (!open) return;
		// As it stands with what is still on its way.
		const { film, clean } = standing(o, cell, waiting);
		if (open.phase === "film") void mark([cell], "film", film);
		else void mark([cell], "adhesive", clean);
	};
	const form = (
		<OldForm
			job={job}
			key={adding ? "new" : old?.id}
			side={side}
			view={view}
			old={adding ? undefined : old}
			traced={adding ? corners : NOTHING}
			record={record.strip}
			onDone={() => {
				setAdding(false);
				setCorners(NOTHING);
				setPart("how");
				// What was just said is read from its top.
				top.current?.scrollIntoView({ block: "start" });
			}}
		/>
	);
	// Off on this side, and still on another: that is said, not what was done last here.
	const next = old && !(old.off && here.every((o) => o.off)) ? old.next : view.next;
	const bar: { says: string; detail?: string | null; alarm?: boolean } = adding
		? { says: "Touch two opposite corners of it in the picture, then say what it is." }
		: part === "patch" && old && !old.off && !old.running
			? { says: `${old.graphic.name}: start, and press when the film is off.`, detail: "Then its adhesive." }
			: next;
	const which = Object.keys(PARTS) as Part[];
	return (
		<Bench
			drawing={side.drawing}
			picture={(height) =>
				!wide && old && part !== "harm" && !adding ? (
					<Near side={side} old={old} height={height}>
						{(frame) => (
							<Cells old={old} chosen frame={frame} waiting={waiting} onTap={(cell) => tap(old, cell)} />
						)}
					</Near>
				) : (
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
										onTap={part === "harm" || adding ? undefined : (cell) => tap(o, cell)}
									/>
								))}
								{adding && <Corners corners={corners} frame={frame} />}
								{adding ? (
									<TouchPlace
										frame={frame}
										// A third touch begins anew.
										onPlace={(p) => setCorners((c) => (c.length === 1 ? [...c, p] : [p]))}
									/>
								) : (
									part === "harm" && <TouchPlace frame={frame} onPlace={setPlace} />
								)}
								<HarmMarks harm={view.harm.filter((h) => h.side === side.id)} frame={frame} place={place} />
							</>
						)}
					</SidePicture>
				)
			}
			bar={
				<NextMove sentence={bar.says} detail={bar.detail ?? undefined} alarm={bar.alarm}>
					{adding || (part === "patch" && old && !old.off) ? null : old && next.asks === "cold_corner" ? (
						view.corners
							.filter((c) => c.value !== "not_tried")
							.map((c) => (
								<Button
									key={c.value}
									look="next"
									className="min-h-16 px-5 text-xl"
									onClick={() =>
										record.strip({
											what: "changed",
											old: old.id,
											graphic: { ...old.graphic, cold_corner: c.value },
										})
									}
								>
									{SHORT[c.value]}
								</Button>
							))
					) : old && next.asks === "patch" ? (
						<Button look="next" className="min-h-16 px-6 text-xl" onClick={() => setPart("patch")}>
							Test patch
						</Button>
					) : (
						old &&
						open &&
						!old.off && (
							<Button
								look="next"
								className="min-h-16 px-6 text-xl"
								onClick={() => {
									// Pressed twice by a trembling hand, one part is done, not two.
									if (pressed()) void mark([open.next], open.phase, false);
								}}
							>
								{old.counted === "letters" ? "Letter" : "Part"} {open.next + 1} of {old.cells.length}:{" "}
								{open.phase === "film" ? "film off" : "clean"}
							</Button>
						)
					)}
					{!adding && (!old || old.off) && view.old.every((o) => o.off) && (
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
			<div ref={top} className="floor flex scroll-mt-96 flex-col gap-3 pt-2 lg:scroll-mt-0">
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
						onClick={() => {
							setAdding((a) => !a);
							setCorners(NOTHING);
						}}
					>
						{adding ? "Not now" : "Old film is on it"}
					</Button>
				</div>
				{adding || !old ? (
					adding ? (
						form
					) : (
						<BayPart bay={view.bay} wrong={record.wrong} onEntry={record.bay} />
					)
				) : (
					<Tabs.Root value={part} onValueChange={(p) => setPart(p as Part)}>
						<PartTabs
							label="About this old film"
							parts={which.map((p) => ({
								value: p,
								text: p === "harm" && view.harm.length > 0 ? `${PARTS[p]} ${view.harm.length}` : PARTS[p],
							}))}
							shown={part}
							onShow={setPart}
						/>
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
							<BayPart bay={view.bay} wrong={record.wrong} onEntry={record.bay} />
						</Tabs.Content>
					</Tabs.Root>
				)}
			</div>
		</Bench>
	);
}

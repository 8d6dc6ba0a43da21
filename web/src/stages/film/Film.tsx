import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import type { Editing } from "../../api/queries";
import { SidePicture } from "../../drawing/SidePicture";
import { Bench } from "../../job/Bench";
import { LayOutFirst } from "../../job/LayOutFirst";
import { useTelling } from "../../job/useTelling";
import { Button, NextMove, TroubleNote, Waiting } from "../../ui/parts";
import { ByWhen, NextBefore, useByWhen } from "./ByWhen";
import { FormingMarks, FormingPart, NextForming, type Tried, useForming } from "./Forming";
import { NextCut, OnTheRoll } from "./OnTheRoll";
import { PanelMap, PanelsPart, usePanels } from "./Panels";
import { ToOrder } from "./ToOrder";
import { useNest } from "./useNest";
import { WhichFilm } from "./WhichFilm";

type Side = Schemas["SideView"];

const PARTS = {
	which: "Which film",
	forming: "Where it stretches",
	panels: "Panels",
	roll: "On the roll",
	when: "By when",
	order: "To order",
};
type Part = keyof typeof PARTS;

/** Which film, in which panels, how much of which roll, what to order. */
export function Film({ job, side, editing }: { job: string; side: Side; editing: Editing }) {
	const [picked, setPickedPiece] = useState<string | null>(null);
	const [part, setPart] = useState<Part>("which");
	const film = useQuery({
		queryKey: ["film", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/film", { params: { path: { id: job } } })),
	});
	const here = film.data?.pieces.filter((p) => p.side === side.id) ?? [];
	const chosen = here.find((p) => p.id === picked) ?? here.find((p) => !p.film) ?? here[0];
	const used = [
		...new Map((film.data?.pieces ?? []).filter((p) => p.film).map((p) => [p.film ?? "", p.film_name])),
	];
	const [pickedFilm, setPickedFilm] = useState<string | null>(null);
	const laid = pickedFilm ?? chosen?.film ?? used[0]?.[0] ?? null;
	const nest = useNest(job, laid, part === "roll");
	const [tried, setTried] = useState<Tried>({});
	const setPicked = (piece: string) => {
		setPickedPiece(piece);
		// What is tried is tried for one piece.
		setTried({});
	};
	const forming = useForming(part === "forming" && chosen && !chosen.trouble ? chosen.id : undefined, tried);
	const when = useByWhen(job, part === "when");
	const { wrong, tell } = useTelling();
	const panels = usePanels(chosen?.print && !chosen.trouble ? chosen.id : undefined);
	if (!film.data) return <Waiting what="the film" error={film.error} />;
	if (!chosen) {
		return (
			<LayOutFirst
				job={job}
				side={side.id}
				says="Nothing is laid out on this side, so there is nothing to cut."
			/>
		);
	}
	const open = here.filter((p) => !p.film);
	// Nobody chooses one film ten times over: what the most can take too is offered.
	const shared = [...here].sort((a, b) => b.film_for_more - a.film_for_more).find((p) => p.film_for_more > 0);
	const parts = (Object.keys(PARTS) as Part[]).filter((p) => p !== "panels" || chosen.print);
	const shown = parts.includes(part) ? part : "which";
	return (
		<Bench
			drawing={side.drawing}
			picture={(height) => (
				<SidePicture
					side={side}
					pieces={side.pieces}
					maxHeight={height}
					label={`The side with its film, ${chosen.called} chosen`}
					handling={() => ({ selected: chosen.id, onSelect: setPicked })}
				>
					{(frame) =>
						shown === "forming"
							? forming.data && <FormingMarks view={forming.data} frame={frame} />
							: panels.data && <PanelMap plan={panels.data.panels.best} frame={frame} />
					}
				</SidePicture>
			)}
			bar={
				shown === "forming" && forming.data ? (
					<NextForming view={forming.data} called={chosen.called} />
				) : shown === "when" && when.data ? (
					<NextBefore view={when.data} />
				) : shown === "roll" && nest.found ? (
					<NextCut nest={nest} found={nest.found} />
				) : open[0] ? (
					<NextMove
						sentence={`Choose the film for ${open[0].called}.`}
						detail={`Until then it is worked as ${open[0].film_name}, as is usual for its kind.`}
					>
						{shared && (
							<Button look="next" onClick={() => void tell(editing.sameFilm(shared.id))}>
								{shared.film_name} for {shared.film_for_more} more
							</Button>
						)}
					</NextMove>
				) : (
					<NextMove
						sentence="Every piece of this side has its film."
						detail="See how much of which roll it takes."
					>
						{shown !== "roll" && (
							<button
								type="button"
								onClick={() => setPart("roll")}
								className="min-h-11 rounded bg-tape px-6 font-bold text-ink"
							>
								On the roll
							</button>
						)}
					</NextMove>
				)
			}
		>
			<div className="grid grid-cols-[minmax(0,1fr)] gap-3 pt-2 @3xl:grid-cols-[15rem_minmax(0,1fr)] @3xl:gap-6">
				<ul aria-label="Pieces of this side" className="content-start">
					{here.map((p) => (
						<li key={p.id}>
							<button
								type="button"
								aria-pressed={p.id === chosen.id}
								onClick={() => setPicked(p.id)}
								className={`flex min-h-11 w-full items-center justify-between gap-2 border-line border-b px-3 text-left ${
									p.id === chosen.id ? "rounded bg-measure font-bold text-white" : ""
								}`}
							>
								<span className="truncate">{p.called}</span>
								<span className="shrink-0">
									{p.film ? "✓" : "open"}
									<span className="sr-only">{p.film ? "film chosen" : ""}</span>
								</span>
							</button>
						</li>
					))}
				</ul>
				<Tabs.Root value={shown} onValueChange={(p) => setPart(p as Part)} className="min-w-0">
					<Tabs.List aria-label="About the film" className="flex flex-wrap gap-1 border-soft border-b-2">
						{parts.map((p) => (
							<Tabs.Trigger
								key={p}
								value={p}
								className="h-11 rounded-t px-3 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink"
							>
								{PARTS[p]}
							</Tabs.Trigger>
						))}
					</Tabs.List>
					{wrong && <TroubleNote>{wrong}</TroubleNote>}
					{film.data.lots.map((l) => (
						<TroubleNote key={l}>{l}</TroubleNote>
					))}
					{chosen.changed_since_cut && (
						<TroubleNote>
							{chosen.called} was made otherwise since it was cut: what is cut no longer fits it. Take the
							change back, or cut it anew under On the roll.
						</TroubleNote>
					)}
					{chosen.trouble && <TroubleNote>{chosen.trouble}</TroubleNote>}
					<Tabs.Content value="which" className="pt-3">
						<WhichFilm key={chosen.id} side={side} piece={chosen} editing={editing} />
					</Tabs.Content>
					<Tabs.Content value="forming" className="pt-3">
						<FormingPart found={forming} tried={tried} onTry={setTried} unit={side.unit} />
					</Tabs.Content>
					<Tabs.Content value="when" className="pt-3">
						<ByWhen job={job} />
					</Tabs.Content>
					<Tabs.Content value="panels" className="pt-3">
						<PanelsPart
							found={panels}
							piece={chosen.id}
							row={side.pieces.find((p) => p.id === chosen.id)}
							editing={editing}
							unit={side.unit}
							onMade={() => setPart("which")}
						/>
					</Tabs.Content>
					<Tabs.Content value="roll" className="pt-3">
						<OnTheRoll unit={side.unit} nest={nest} films={used} film={laid} onFilm={setPickedFilm} />
					</Tabs.Content>
					<Tabs.Content value="order" className="pt-3">
						<ToOrder job={job} />
					</Tabs.Content>
				</Tabs.Root>
			</div>
		</Bench>
	);
}

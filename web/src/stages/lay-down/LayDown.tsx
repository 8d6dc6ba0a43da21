import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { type Editing, useLayDown } from "../../api/queries";
import { HeatLocked } from "../../job/Bay";
import { useWide } from "../../job/Bench";
import { TouchChoice } from "../../job/Floor";
import { LayOutFirst } from "../../job/LayOutFirst";
import { inTurn, PiecePicker } from "../../job/PiecePicker";
import { Refused } from "../../job/Refused";
import { useBayHere } from "../../job/useBayHere";
import { Waiting } from "../../ui/parts";
import { Rivets } from "./Rivets";
import { Strokes } from "./Strokes";
import { Troubles } from "./Troubles";
import { TryIt } from "./TryIt";

/** The order of strokes, proven; one's own order, tried; rivets; what to do when something goes wrong. Built for a tablet and gloves. */
export function LayDown({
	job,
	side,
	editing,
}: {
	job: string;
	side: Schemas["SideView"];
	editing: Editing;
}) {
	const [picked, setPicked] = useState<string | null>(null);
	const [section, setSection] = useState(0);
	const [tab, setTab] = useState("strokes");
	const pieces = inTurn(side);
	const piece = pieces.find((p) => p.id === picked) ?? pieces.find((p) => !p.laid) ?? pieces[0];
	const found = useLayDown(piece?.id);
	const wide = useWide();
	// What is wet in the bay locks heat at a rivet or in a recess too, whichever job it belongs to.
	const toldBay = useQuery({
		queryKey: ["bay", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/bay", { params: { path: { id: job } } })),
		refetchInterval: 20_000,
	});
	const bay = useBayHere(job, toldBay.data);
	if (!piece) {
		return <LayOutFirst job={job} side={side.id} says="Nothing is laid out on this side." />;
	}
	const pick = (id: string | null) => {
		setPicked(id);
		setSection(0);
	};
	const trigger =
		"min-h-16 rounded-t px-4 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink";
	const view = found.data;
	const part = view?.lay_down.sections[section] ?? view?.lay_down.sections[0];
	const shown = { side, piece, section: part ? (view?.lay_down.sections.indexOf(part) ?? 0) : 0 };
	const sections = view && view.lay_down.sections.length > 1 && (
		<TouchChoice
			label="Section"
			value={String(shown.section)}
			onChange={(n) => setSection(Number(n))}
			options={view.lay_down.sections.map((s, n) => ({
				value: String(n),
				text: `${n + 1} of ${view.lay_down.sections.length}: ${s.called}${s.shut_in.length > 0 ? " !" : ""}`,
			}))}
		/>
	);
	return (
		<Tabs.Root value={tab} onValueChange={setTab} asChild>
			<main className="floor flex min-h-0 min-w-0 grow flex-col">
				{wide ? (
					<div className="flex shrink-0 items-end justify-between gap-x-4 px-6">
						<Tabs.List aria-label="Lay down" className="flex shrink-0 gap-1">
							<Tabs.Trigger value="strokes" className={trigger}>
								Strokes
							</Tabs.Trigger>
							<Tabs.Trigger value="try" className={trigger}>
								Try it
							</Tabs.Trigger>
							<Tabs.Trigger value="rivets" className={trigger}>
								Rivets{view ? ` ${view.lay_down.rivets.heads}` : ""}
							</Tabs.Trigger>
							<Tabs.Trigger value="trouble" className={trigger}>
								Trouble
							</Tabs.Trigger>
						</Tabs.List>
						<PiecePicker pieces={pieces} chosen={piece.id} done={(p) => p.laid} onPick={pick} />
					</div>
				) : (
					<div className="flex gap-2 px-3">
						<TouchChoice
							label="Lay down"
							value={tab}
							onChange={setTab}
							options={[
								{ value: "strokes", text: "Strokes" },
								{ value: "try", text: "Try it" },
								{ value: "rivets", text: `Rivets${view ? ` ${view.lay_down.rivets.heads}` : ""}` },
								{ value: "trouble", text: "Trouble" },
							]}
						/>
						<PiecePicker pieces={pieces} chosen={piece.id} done={(p) => p.laid} onPick={pick} />
					</div>
				)}
				{bay?.heat_locked && (
					<div className="shrink-0 px-3 sm:px-6">
						<HeatLocked bay={bay} />
					</div>
				)}
				{!view || !part ? (
					<Waiting what="the strokes" error={found.error} />
				) : (
					<>
						{piece.stopped && tab !== "trouble" && (
							<Refused key={piece.id} job={job} side={side} piece={piece} editing={editing} />
						)}
						{!piece.stopped && (
							<Tabs.Content value="strokes" className="flex min-h-0 min-w-0 grow flex-col">
								<Strokes
									key={`${piece.id} ${shown.section}`}
									{...shown}
									job={job}
									view={view}
									part={part}
									picker={sections}
									refresh={editing.refresh}
									onSection={setSection}
									onLies={() => setPicked(piece.id)}
									onRivets={() => setTab("rivets")}
									onPiece={() => pick(pieces.find((p) => !p.laid && p.id !== piece.id)?.id ?? null)}
								/>
							</Tabs.Content>
						)}
						{!piece.stopped && (
							<Tabs.Content value="try" className="flex min-h-0 min-w-0 grow flex-col">
								<TryIt
									key={`${piece.id} ${shown.section}`}
									{...shown}
									view={view}
									part={part}
									picker={sections}
								/>
							</Tabs.Content>
						)}
						{!piece.stopped && (
							<Tabs.Content value="rivets" className="flex min-h-0 min-w-0 grow flex-col">
								<Rivets
									key={piece.id}
									job={job}
									side={side}
									piece={piece}
									work={view.lay_down.rivets}
									done={view.rivets_done}
									refresh={editing.refresh}
								/>
							</Tabs.Content>
						)}
						<Tabs.Content value="trouble" className="flex min-h-0 min-w-0 grow flex-col">
							<Troubles key={piece.id} piece={piece} view={view} refresh={editing.refresh} />
						</Tabs.Content>
					</>
				)}
			</main>
		</Tabs.Root>
	);
}

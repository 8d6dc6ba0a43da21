import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import { KEPT_HERE, useActs } from "../../api/outbox";
import { SidePicture } from "../../drawing/SidePicture";
import { BayPart, HeatLocked } from "../../job/Bay";
import { Bench } from "../../job/Bench";
import { kept } from "../../job/Floor";
import { PartTabs } from "../../job/PartTabs";
import { stagePath } from "../../job/stages";
import { useBayHere } from "../../job/useBayHere";
import { useFloorRecord } from "../../job/useFloorRecord";
import { useOnePress } from "../../job/useOnePress";
import { Button, NextMove, TroubleNote, Waiting } from "../../ui/parts";
import { Cleaning } from "./Cleaning";
import { GatePart } from "./GatePart";
import { withTicks } from "./here";
import { PromoterPart, Runs } from "./PromoterPart";
import { WarmPart } from "./WarmPart";
import { Zones } from "./Zones";

const PARTS = {
	clean: "Clean",
	promoter: "Promoter",
	warm: "Warm and dry",
	gate: "Ready to fit?",
	bay: "Bay",
};
type Part = keyof typeof PARTS;

/** What is next as long as ticks of this side wait to be sent: the next step is known here, whether film may go on is not. */
function here(
	step: Schemas["StepTick"] | undefined,
	run: { p: { called: string }; r: { name: string } } | undefined,
) {
	const detail = "What was ticked here goes out when there is a signal.";
	if (step) return { sentence: step.says, detail };
	if (run) return { sentence: `Promoter on ${run.p.called}: ${run.r.name}.`, detail };
	return {
		sentence: "All of it is ticked here. Whether film may go on is said when there is a signal.",
		detail,
	};
}

/** A surface that film holds on: cleaned, primed, warm and dry, and whether the bay is fit to start. Built for a phone and gloves. */
export function Prep({ job, side }: { job: string; side: Schemas["SideView"] }) {
	const [part, setPart] = useState<Part>("clean");
	const [inZones, setInZones] = useState(() => kept.get("cleaned in zones") === "yes");
	const record = useFloorRecord(job);
	// The next step's button stands where this one's did: the second press of a trembling hand is not for it.
	const pressed = useOnePress();
	const found = useQuery({
		queryKey: ["prep", side.id],
		queryFn: () => ask(client.GET("/api/sides/{id}/prep", { params: { path: { id: side.id } } })),
		// Sensors read on, and what is wet flashes off.
		refetchInterval: 10_000,
	});
	const acts = useActs();
	const bay = useBayHere(job, found.data?.bay);
	if (!found.data || !bay) return <Waiting what="the preparation" error={found.error} />;
	const { view, waits } = withTicks(found.data, acts);
	const which = (Object.keys(PARTS) as Part[]).filter((p) => p !== "promoter" || view.pieces.length > 0);
	const first = view.steps.findIndex((s) => s.done == null || s.again != null);
	// Nothing goes on what is not hard yet: no coat, and no solvent either.
	const soft = view.steps.findLastIndex((s) => s.hardens != null);
	const step = soft !== -1 && first > soft ? undefined : view.steps[first];
	const run = view.pieces.flatMap((p) => p.runs.map((r) => ({ p, r }))).find(({ r }) => r.tacky == null);
	const zoneOf = (number?: number) => (number === undefined ? undefined : { number, of: view.zones.length });
	const done = async (key: string, zone?: number) => {
		const s = view.steps.find((x) => x.key === key);
		if (!(await record.prep({ what: "cleaned", side: side.id, step: key, zone: zoneOf(zone) }))) return;
		const place = zone === undefined ? side.name : `${side.name}, zone ${zone}`;
		if (s?.wet) await record.bay({ what: "wet", wet: s.wet, place, bay: "" });
	};
	// In zones the next move is the first zone of the step that is not done.
	const zone =
		inZones && step?.by_zone && view.zones.length > 1
			? view.zones.find((z) => !step.zones.includes(z.number))?.number
			: undefined;
	const promoted = async (piece: string, name: string) => {
		if (!(await record.prep({ what: "promoted", piece, run: name }))) return;
		await record.bay({ what: "wet", wet: "promoter", place: `${side.name}, ${name}`, bay: "" });
	};
	return (
		<Bench
			drawing={side.drawing}
			picture={(height) => (
				<SidePicture
					side={side}
					pieces={side.pieces}
					maxHeight={height}
					ghost
					label={`${side.name} being prepared`}
				>
					{(frame) => (
						<>
							<Runs view={view} frame={frame} />
							{inZones && part === "clean" && <Zones view={view} step={step} frame={frame} />}
						</>
					)}
				</SidePicture>
			)}
			bar={
				<NextMove
					{...(waits
						? here(step, run)
						: {
								sentence: view.next.says,
								detail: view.next.detail ?? undefined,
								alarm: view.next.alarm,
							})}
				>
					{step && !view.gate.never ? (
						<Button
							look="next"
							className="min-h-16 px-6 text-xl"
							onClick={() => pressed() && void done(step.key, zone)}
						>
							{zone === undefined ? "Done" : `Zone ${zone} done`}
						</Button>
					) : run && !view.gate.never ? (
						<Button
							look="next"
							className="min-h-16 px-6 text-xl"
							onClick={() => pressed() && void promoted(run.p.piece, run.r.name)}
						>
							It is on
						</Button>
					) : view.gate.stands === "in" || view.passed ? (
						<Link
							to={`${stagePath(job, "hinge")}?side=${side.id}`}
							className="flex min-h-16 items-center rounded bg-tape px-6 font-bold text-ink text-xl"
						>
							Hinge
						</Link>
					) : (
						part !== "gate" && (
							<Button look="next" className="min-h-16 px-6 text-xl" onClick={() => setPart("gate")}>
								Ready to fit?
							</Button>
						)
					)}
				</NextMove>
			}
		>
			<div className="floor flex flex-col gap-3 pt-2">
				{record.wrong && <TroubleNote>{record.wrong}</TroubleNote>}
				{record.waits && <p role="status">{KEPT_HERE}</p>}
				<HeatLocked bay={bay} />
				<Tabs.Root value={which.includes(part) ? part : "clean"} onValueChange={(p) => setPart(p as Part)}>
					<PartTabs
						label="Prep"
						parts={which.map((p) => ({ value: p, text: PARTS[p] }))}
						shown={which.includes(part) ? part : "clean"}
						onShow={setPart}
					/>
					<Tabs.Content value="clean" className="pt-3">
						<Cleaning
							view={view}
							inZones={inZones}
							onInZones={(on) => {
								kept.set("cleaned in zones", on ? "yes" : null);
								setInZones(on);
							}}
							onDone={done}
							onAgain={(step, zone) =>
								record.prep({ what: "not_cleaned", side: side.id, step, zone: zoneOf(zone) })
							}
							onBeen={(been) => record.prep({ what: "been", been })}
							onRepair={(needed) => record.prep({ what: "repair", side: side.id, needed })}
							onCures={(step, hours) => record.prep({ what: "cures", side: side.id, step, hours })}
						/>
					</Tabs.Content>
					<Tabs.Content value="promoter" className="pt-3">
						<PromoterPart view={view} onRun={promoted} />
					</Tabs.Content>
					<Tabs.Content value="warm" className="pt-3">
						<WarmPart view={view} side={side.id} record={record} />
					</Tabs.Content>
					<Tabs.Content value="gate" className="pt-3">
						<GatePart view={view} side={side.id} record={record} onRead={() => setPart("warm")} />
					</Tabs.Content>
					<Tabs.Content value="bay" className="pt-3">
						<BayPart bay={bay} wrong={record.wrong} onEntry={record.bay} />
					</Tabs.Content>
				</Tabs.Root>
			</div>
		</Bench>
	);
}

import { Tabs } from "radix-ui";
import { type ReactNode, useState } from "react";
import type { Schemas } from "../../../api/client";
import { KEPT_HERE, useRecord } from "../../../api/outbox";
import type { Editing, Seen } from "../../../api/queries";
import { useTelling } from "../../../job/useTelling";
import { Button, NextMove, TroubleNote, Waiting } from "../../../ui/parts";
import { Audit } from "./Audit";
import { CutAndLay } from "./CutAndLay";
import { FaceForm } from "./FaceForm";
import { Figures } from "./Figures";
import { OtherSides } from "./OtherSides";
import { ReadBack } from "./ReadBack";
import { Strips } from "./Strips";
import { ANSWER, answerOf, type FaceMarking, type Found, type Vehicle, type View } from "./types";
import { VehicleForm } from "./VehicleForm";

const PAGES = {
	vehicle: "Vehicle and tape",
	strips: "Strips",
	audit: "Audit",
	cut: "Cut and lay",
	figures: "Figures",
};
type Page = keyof typeof PAGES;

/** A face begins with the tape of another one of this job, else with a common one. */
function beginning(view: View): FaceMarking {
	const { like } = view;
	const tape: FaceMarking["stock"] = {
		grade: "C2",
		width_mm: "2 in",
		pattern: [
			{ colour: "red", length_mm: "12 in" },
			{ colour: "white", length_mm: "12 in" },
		],
	};
	return { ground_mm: "", stock: like?.stock ?? tape, way: like?.way ?? "spaced" };
}

/** Reflective marking of the side: whether it is required, the best layout, every clause of the rule, what was read back. */
export function Marking({
	side,
	editing,
	save: saveRow,
	view,
	found,
	error,
	readBack,
	onReadBack,
	onHold,
	unrolled,
}: {
	side: Schemas["SideView"];
	editing: Editing;
	/** Saves a row after those before it: strips moved on the picture are saved by the same. */
	save: (seen: Seen, base: unknown, mine: unknown) => Promise<unknown>;
	view: View | undefined;
	/** What is shown: what was fetched, or what is tried just now. */
	found: Found | null | undefined;
	error: Error | null;
	/** Whether the proof is still going on. */
	readBack: boolean;
	onReadBack: (readBack: boolean) => void;
	/** Told which strip somebody is at. */
	onHold: (number: number) => void;
	/** The line of strips, magnified. */
	unrolled: ReactNode;
}) {
	const { wrong, tell } = useTelling();
	const [page, setPage] = useState<Page | null>(null);
	// What is chosen before the first measurement makes a row of it.
	const [draft, setDraft] = useState<Partial<FaceMarking>>({});
	if (!view) return <Waiting what="the marking" error={error} />;
	const settled = view.marking;
	const shownPage: Page = page ?? (found ? "strips" : "vehicle");
	const saveVehicle = (vehicle: Vehicle) =>
		saveRow(
			{ kind: "marked_vehicle", id: view.vehicle_id, revision: view.vehicle_revision, parent: side.job },
			view.vehicle ?? view.suggested,
			vehicle,
		);
	const saveFace = async (change: Partial<FaceMarking>) => {
		const now = settled ?? { ...beginning(view), ...draft };
		if (!settled && change.ground_mm === undefined) {
			setDraft({ ...draft, ...change });
			return;
		}
		// A face is worked out for a vehicle: the first one is taken as it stands in the form.
		if (!view.vehicle) await saveVehicle(view.suggested);
		return saveRow(
			{ kind: "marking", id: view.id, revision: view.revision, parent: side.id },
			settled ?? now,
			{ ...now, ...change },
		);
	};
	const settle = (change: Partial<FaceMarking>) => void tell(saveFace(change));
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3">
			<div className="flex flex-wrap items-center justify-between gap-2">
				<div role="radiogroup" aria-label="What is shown" className="flex gap-1">
					{[false, true].map((read) => (
						<button
							key={String(read)}
							type="button"
							role="radio"
							aria-checked={readBack === read}
							onClick={() => onReadBack(read)}
							className={`h-11 rounded px-4 ${readBack === read ? "bg-measure font-bold text-white" : "border border-soft bg-paper"}`}
						>
							{read ? "As read back" : "As laid out"}
						</button>
					))}
				</div>
				{found && <p className="font-bold text-lg">{answerOf(found)}</p>}
				{found && <Keep side={side} readBack={readBack} />}
			</div>
			{(wrong ?? error) && <TroubleNote>{wrong ?? error?.message}</TroubleNote>}
			<Tabs.Root value={shownPage} onValueChange={(p) => setPage(p as Page)}>
				<Tabs.List aria-label="About the marking" className="flex flex-wrap gap-1 border-soft border-b-2">
					{(Object.keys(PAGES) as Page[])
						.filter((p) => found || p === "vehicle" || p === "figures")
						.map((p) => (
							<Tabs.Trigger
								key={p}
								value={p}
								className="h-11 rounded-t px-3 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink"
							>
								{PAGES[p]}
							</Tabs.Trigger>
						))}
				</Tabs.List>
				<Tabs.Content value="vehicle" className="grid grid-cols-[minmax(0,1fr)] gap-4 pt-3 @4xl:grid-cols-2">
					<VehicleForm view={view} save={saveVehicle} tell={tell} />
					<FaceForm
						tell={tell}
						view={view}
						start={settled ? null : { ...beginning(view), ...draft }}
						save={saveFace}
						settle={settle}
					/>
					{found && (
						<section aria-label="Whether it is required" className="rounded bg-paper p-4 @4xl:col-span-2">
							<h3 className="font-bold text-xl">{answerOf(found)}</h3>
							<ul>
								{found.applies.reasons.map((r) => (
									<li key={r}>{r}</li>
								))}
								{found.voluntary.map((v) => (
									<li key={v}>Voluntary: {v}</li>
								))}
							</ul>
							{found.by_name && <p>Laid out and audited by: {found.by_name}.</p>}
							<details className="mt-2">
								<summary className="min-h-11 cursor-pointer py-2 font-bold">
									What each set of rules says
								</summary>
								<ul className="grid gap-2">
									{found.sets.map((s) => (
										<li key={s.name}>
											<b>{s.name}</b>: {ANSWER[s.answer.required]} {s.answer.reasons.join(" ")}
										</li>
									))}
								</ul>
							</details>
							<p className="mt-1 text-soft">{view.from_memory}</p>
						</section>
					)}
				</Tabs.Content>
				<Tabs.Content value="strips" className="pt-3">
					{unrolled}
					{readBack && settled ? (
						<ReadBack
							found={found}
							parts={view.parts}
							marking={settled}
							printed={view.printed}
							save={saveFace}
							settle={settle}
						/>
					) : (
						found &&
						settled && (
							<>
								<Strips found={found} marking={settled} save={saveFace} settle={settle} onHold={onHold} />
								<OtherSides view={view} />
							</>
						)
					)}
				</Tabs.Content>
				<Tabs.Content value="audit" className="pt-3">
					{found && settled && <Audit found={found} marking={settled} save={saveFace} settle={settle} />}
				</Tabs.Content>
				<Tabs.Content value="cut" className="pt-3">
					{found && <CutAndLay side={side.id} found={found} />}
				</Tabs.Content>
				<Tabs.Content value="figures" className="pt-3">
					<Figures set={found?.by ?? view.vehicle?.set ?? "united_states_new"} />
				</Tabs.Content>
			</Tabs.Root>
			{settled && shownPage === "vehicle" && (
				<Button
					className="justify-self-start"
					onClick={() =>
						tell(editing.remove({ kind: "marking", id: view.id, revision: view.revision, parent: side.id }))
					}
				>
					Remove the marking of this side
				</Button>
			)}
		</div>
	);
}

/** The audit into the record, and on paper. */
function Keep({ side, readBack }: { side: Schemas["SideView"]; readBack: boolean }) {
	const { wrong, tell } = useTelling();
	const [done, setDone] = useState<string | null>(null);
	const record = useRecord();
	return (
		<div className="flex flex-wrap items-center gap-2">
			{wrong && <span className="text-trouble">! {wrong}</span>}
			{done && !wrong && <span role="status">{done}</span>}
			<Button
				onClick={() =>
					tell(
						record<Schemas["RecordEntry"]>({ kind: "audit", side: side.id, read_back: readBack }).then((o) =>
							setDone(o.sent ? `In the record as number ${o.answer.seq}.` : KEPT_HERE),
						),
					)
				}
			>
				Record this audit
			</Button>
			<a
				href={`/api/sides/${side.id}/marking.pdf?read_back=${readBack}`}
				className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
			>
				Work sheet and report
			</a>
			{(["svg", "dxf"] as const).map((kind) => (
				<a
					key={kind}
					href={`/api/sides/${side.id}/strips.${kind}?read_back=${readBack}`}
					aria-label={`Strips as ${kind.toUpperCase()}, full size`}
					className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
				>
					{kind.toUpperCase()}
				</a>
			))}
		</div>
	);
}

/** What is done next about the marking. */
export function NextMarking({
	view,
	found,
	readBack,
}: {
	view: View | undefined;
	found: Found | null | undefined;
	readBack: boolean;
}) {
	if (!view || !found) {
		return <NextMove sentence="Say what vehicle it is, and measure from the rail to the ground." />;
	}
	const of = (audited: Schemas["Audited"]) => found.audit.filter((f) => f.audited === audited);
	const [failed, reasons] = [of("fail"), of("reason_needed")];
	const refused = found.elements.find((e) => e.refused)?.refused;
	const first = found.strips[0];
	if (found.applies.required === "prohibited") {
		return <NextMove alarm sentence="Lay no marking on this vehicle." detail={found.applies.reasons[0]} />;
	}
	if (found.elements.length === 0) return <NextMove sentence="This face asks for no marking." />;
	if (readBack) {
		const unread = found.read.findIndex((r) => r.unread);
		if (found.read.length === 0) {
			return <NextMove sentence="Begin with the plan: every strip unread, each read on the vehicle." />;
		}
		if (unread >= 0) {
			return (
				<NextMove
					sentence={`Read strip ${unread + 1}: planned ${found.read[unread]?.planned ?? "nowhere"}.`}
					detail={`${found.read.filter((r) => !r.unread).length} of ${found.read.length} are read.`}
				/>
			);
		}
	}
	if (failed[0] || refused || !first) {
		return (
			<NextMove
				alarm
				sentence={
					refused ??
					(failed[0] && found.strips.length > 0 ? `Not kept: ${failed[0].asks}` : "There is no strip yet.")
				}
				detail={refused ? undefined : failed[0]?.measured}
			/>
		);
	}
	if (reasons[0]) {
		return (
			<NextMove
				sentence={`${reasons.length === 1 ? "One reason is" : `${reasons.length} reasons are`} still wanted: ${reasons[0].asks}`}
				detail={reasons[0].measured}
			/>
		);
	}
	return readBack ? (
		<NextMove sentence="Every strip is read back: record this audit." />
	) : (
		<NextMove
			sentence={`${found.strips.length} strips, ${found.film.text} of tape: upper edge ${first.down.text} down, the first from ${first.start.text}.`}
			detail={answerOf(found)}
		/>
	);
}

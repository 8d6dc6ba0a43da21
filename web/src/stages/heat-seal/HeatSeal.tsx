import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useMemo, useState } from "react";
import { Link } from "react-router";
import { ask, client, type Schemas, told } from "../../api/client";
import { KEPT_HERE, useRecord } from "../../api/outbox";
import { useEditing } from "../../api/queries";
import { type Frame, px } from "../../drawing/frame";
import { NumberDisc } from "../../drawing/NumberDisc";
import { SidePicture } from "../../drawing/SidePicture";
import { BayPart, HeatLocked } from "../../job/Bay";
import { BehindSkin } from "../../job/BehindSkin";
import { Bench } from "../../job/Bench";
import { TouchChoice } from "../../job/Floor";
import { FloorField } from "../../job/FloorField";
import { LayOutFirst } from "../../job/LayOutFirst";
import { stagePath } from "../../job/stages";
import { useBayHere } from "../../job/useBayHere";
import { useFloorRecord } from "../../job/useFloorRecord";
import { useOnePress } from "../../job/useOnePress";
import { Button, NextMove, TroubleNote, Waiting } from "../../ui/parts";
import { PacePart } from "./PacePart";
import { RunTape } from "./RunTape";
import { ThermometerPart, useChosenThermometer, WhoReads } from "./ThermometerPart";
import { sounds, useWalk } from "./useWalk";

type View = Schemas["HeatView"];
type Run = Schemas["HeatRunView"];

/** What must reach its temperature, walked with a thermometer; then what is sealed. Built for a phone that stands and hands that are full. */
export function HeatSeal({ job, side }: { job: string; side: Schemas["SideView"] }) {
	const cache = useQueryClient();
	const send = useRecord();
	const floor = useFloorRecord(job);
	const editing = useEditing(job);
	const [picked, setPicked] = useState<string | null>(null);
	const [pickedRun, setPickedRun] = useState<string | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const [waits, setWaits] = useState(false);
	const pressed = useOnePress();
	const key = ["heat", side.id];
	const found = useQuery({
		queryKey: key,
		queryFn: () => ask(client.GET("/api/sides/{id}/heat", { params: { path: { id: side.id } } })),
		refetchInterval: 20_000,
	});
	const bay = useBayHere(job, found.data?.bay);
	if (!found.data || !bay) return <Waiting what="the heat" error={found.error} />;
	const view = { ...found.data, bay };
	// Wiped here without a signal: the shop does not know yet why heat waits.
	const lockedHere = bay.heat_locked && !found.data.bay.heat_locked ? bay.heat_locked : null;
	const piece =
		view.pieces.find((p) => p.piece === picked) ??
		view.pieces.find((p) => p.laid && (p.runs.some((r) => !r.closed) || p.seals.some((s) => !s.sealed))) ??
		view.pieces[0];
	const run =
		piece?.runs.find((r) => r.name === pickedRun) ?? piece?.runs.find((r) => !r.closed) ?? piece?.runs[0];
	const record = async (entry: Schemas["HeatEntry"]) => {
		if (!piece) return false;
		try {
			const outcome = await send({ kind: "heat", piece: piece.piece, entry });
			if (outcome.sent) cache.setQueryData(key, outcome.answer);
			setWaits(!outcome.sent);
			setWrong(null);
			void cache.invalidateQueries({ queryKey: ["job", job] });
			void cache.invalidateQueries({ queryKey: ["record", job] });
			return true;
		} catch (error) {
			setWrong(told(error));
			return false;
		}
	};
	if (!piece) {
		return (
			<LayOutFirst job={job} side={side.id} says="Nothing is laid out on this side, so nothing is heated." />
		);
	}
	const seal = piece.runs.every((r) => r.closed) ? piece.seals.find((s) => !s.sealed) : undefined;
	// The first one that is open, where heat cannot do it: the reason is known, nobody types it.
	const open = piece.runs.find((r) => !r.closed);
	const cold = piece.laid && open?.cannot ? open : undefined;
	const whole = run && !run.closed && run.share > 0.9999;
	const once = (act: () => void) => () => {
		if (pressed()) act();
	};
	return (
		<Bench
			drawing={side.drawing}
			picture={(height) => (
				<SidePicture
					side={side}
					pieces={side.pieces}
					ghost
					maxHeight={height}
					label={`${side.name} with what must be heated on ${piece.called}`}
				>
					{(frame) => <Runs piece={piece} chosen={run?.name} frame={frame} onPick={setPickedRun} />}
				</SidePicture>
			)}
			bar={
				<NextMove
					sentence={piece.laid && lockedHere ? lockedHere : piece.next.says}
					detail={piece.laid && lockedHere ? undefined : (piece.next.detail ?? undefined)}
					alarm={piece.next.alarm || (piece.laid && lockedHere !== null)}
				>
					{!piece.laid ? (
						<Link
							to={`${stagePath(job, "lay_down")}?side=${side.id}`}
							className="flex min-h-16 items-center rounded bg-tape px-6 font-bold text-ink text-xl"
						>
							Lay down
						</Link>
					) : cold ? (
						<Button
							className="min-h-16 px-6 text-xl"
							onClick={once(
								() =>
									void record({
										what: "closed",
										run: cold.name,
										reason: `Left cold. ${cold.cannot}`.slice(0, 300),
									}),
							)}
						>
							Leave it cold
						</Button>
					) : whole ? (
						<Button
							look="next"
							className="min-h-16 px-6 text-xl"
							onClick={once(() => void record({ what: "closed", run: run.name }))}
						>
							Close {run.name}
						</Button>
					) : seal ? (
						<Button
							look="next"
							className="min-h-16 px-6 text-xl"
							onClick={once(async () => {
								// Tape wets nothing.
								if ((await record({ what: "sealed", run: seal.name })) && seal.with === "sealer")
									await floor.bay({
										what: "wet",
										wet: "sealer",
										place: `${side.name}, ${seal.name}`,
										bay: "",
									});
							})}
						>
							{seal.with === "coat" ? "The coat is on" : "It is sealed"}
						</Button>
					) : null}
				</NextMove>
			}
		>
			<div className="floor flex flex-col gap-3 pt-2">
				{(wrong ?? floor.wrong) && <TroubleNote>{wrong ?? floor.wrong}</TroubleNote>}
				{waits && <p role="status">{KEPT_HERE}</p>}
				<HeatLocked bay={view.bay} />
				<div className="flex flex-wrap gap-2">
					{view.pieces.length > 1 && (
						<TouchChoice
							label="Piece"
							value={piece.piece}
							options={view.pieces.map((p) => ({
								value: p.piece,
								text: `${p.called}${p.laid ? "" : ", does not lie yet"}`,
							}))}
							onChange={(id) => {
								setPicked(id);
								setPickedRun(null);
							}}
						/>
					)}
					{run && piece.runs.length > 1 && (
						<TouchChoice
							label="Run"
							value={run.name}
							options={piece.runs.map((r, n) => ({
								value: r.name,
								text: `${r.closed ? "✓ " : ""}${n + 1} ${r.name}, ${r.length.text}`,
							}))}
							onChange={setPickedRun}
						/>
					)}
				</div>
				<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
					{run ? (
						<RunPart
							key={`${piece.piece} ${run.name}`}
							view={view}
							piece={piece}
							run={run}
							record={record}
							behind={
								<BehindSkin
									surface={side.spec.surface}
									onChange={async (part) => {
										const spec = { ...side.spec, surface: { ...side.spec.surface, ...part } };
										try {
											await editing.replace({ kind: "side", id: side.id, revision: side.revision }, spec);
											setWrong(null);
										} catch (error) {
											setWrong(told(error));
										}
									}}
								/>
							}
						/>
					) : (
						<section className="rounded bg-paper p-4">{piece.says[0]}</section>
					)}
					<section aria-label="Take care" className="flex flex-col gap-1 rounded bg-paper p-4">
						{view.cautions.map((c) => (
							<p key={c}>{c}</p>
						))}
						{run && piece.says.map((s) => <p key={s}>{s}</p>)}
						{piece.seals.length > 0 && (
							<>
								<h3 className="font-bold text-xl">Seal</h3>
								<ul>
									{piece.seals.map((s) => (
										<li key={s.name}>
											{s.sealed ? "✓ " : ""}
											{s.name}
											{s.with !== "coat" && (
												<>
													, <b className="font-reading">{s.length.text}</b>
													{s.with === "sealer" ? `, ${Math.ceil(s.ml)} ml` : ", seal tape"}
												</>
											)}
											. {s.how}
										</li>
									))}
								</ul>
							</>
						)}
						<p className="text-soft">
							What a film asks for is common practice until its own sheet is on the Shelf; ceilings are
							Windrift’s own.
						</p>
					</section>
				</div>
				<BayPart bay={view.bay} wrong={floor.wrong} onEntry={floor.bay} />
			</div>
		</Bench>
	);
}

/** A run: its tape that fills, a reading where it was taken, and its end. */
function RunPart({
	view,
	piece,
	run,
	record,
	behind,
}: {
	view: View;
	piece: Schemas["PieceHeat"];
	run: Run;
	record: (entry: Schemas["HeatEntry"]) => Promise<boolean>;
	/** Asks what is behind the skin. */
	behind: ReactNode;
}) {
	const metric = view.unit === "millimetre";
	// The next reading is taken where the last one's word ends.
	const [at, setAt] = useState<number | null>(null);
	const [degrees, setDegrees] = useState("");
	const [reason, setReason] = useState("");
	const [bad, setBad] = useState<string | null>(null);
	const steps = useMemo(
		() => (run.pace ? { speed: run.pace.pace.speed, tick: run.pace.tick_mm } : null),
		[run.pace],
	);
	const walk = useWalk(steps, run.length.mm);
	const thermometer = useChosenThermometer();
	const reads = piece.laid && !run.closed ? thermometer.chosen : null;
	// The thermometer follows the jet by about two seconds.
	const behindJet = walk.at !== null && steps ? Math.max(0, walk.at - 2 * steps.speed) : null;
	const next = at ?? behindJet ?? Math.min(run.length.mm, (run.gap_mm ?? 0) + view.vouches_mm);
	const marks = view.mark_mm;
	const shown = (mm: number) => (metric ? `${Math.round(mm)}` : `${Math.round((mm / 25.4) * 16) / 16}`);
	const [typed, setTyped] = useState<string | null>(null);
	const read = async () => {
		const value = Number(degrees.trim().replace(",", "."));
		if (degrees.trim() === "" || !Number.isFinite(value)) {
			setBad(`“${degrees}” is no temperature. Type what the thermometer shows.`);
			return;
		}
		setBad(null);
		const celsius = metric ? value : (value - 32) / 1.8;
		const along = typed ?? shown(next);
		// Only what was walked by the ticks says something of the gun.
		const pace_mm_s = walk.at !== null ? steps?.speed : null;
		const entry = {
			what: "read" as const,
			run: run.name,
			along_mm: along as unknown as number,
			celsius,
			pace_mm_s,
		};
		if (!(await record(entry))) return;
		if (celsius > run.ceiling_celsius) sounds("ceiling");
		else if (celsius < run.wanted.from) sounds("gap");
		setDegrees("");
		setAt(null);
		setTyped(null);
	};
	return (
		<section aria-label={run.name} className="flex flex-col gap-3 rounded bg-paper p-4">
			<div>
				<h3 className="font-bold text-xl">
					{run.name}, <span className="font-reading">{run.length.text}</span>
				</h3>
				<p className="font-bold">{run.says}</p>
				<p className="text-soft">{run.why}</p>
				{run.cannot && <TroubleNote>{run.cannot}</TroubleNote>}
				{run.passed && <TroubleNote>{run.passed}</TroubleNote>}
			</div>
			<RunTape
				run={run}
				unit={view.unit}
				at={next}
				onAt={(mm) => {
					setAt(mm);
					setTyped(null);
				}}
			/>
			{piece.laid && !run.closed && <WhoReads of={thermometer} />}
			{reads && (
				<ThermometerPart
					key={reads.id}
					view={view}
					run={run}
					device={reads}
					from={at ?? run.gap_mm ?? 0}
					shown={(mm) => `${shown(mm)} ${metric ? "mm" : "in"}`}
					degrees={(c) => (metric ? `${Math.round(c)} °C` : `${Math.round(c * 1.8 + 32)} °F`)}
					record={record}
					onWalk={(mm) => {
						if (mm === null) return walk.stop();
						setAt(null);
						setTyped(null);
						walk.begin(mm);
					}}
				/>
			)}
			{run.pace ? (
				piece.laid &&
				!run.closed && (
					<PacePart
						pace={run.pace}
						at={walk.at}
						shown={(mm) => `${shown(mm)} ${metric ? "mm" : "in"}`}
						mark={metric ? "300 mm" : "12 in"}
						locked={view.bay.heat_locked ?? null}
						marked={reads !== null}
						onBegin={() => {
							setAt(null);
							setTyped(null);
							walk.begin(run.gap_mm ?? 0);
						}}
						onMark={() => walk.begin(Math.round((walk.at ?? 0) / marks) * marks)}
						onStop={walk.stop}
					/>
				)
			) : piece.laid && !run.cannot && !view.behind_said ? (
				<div className="flex flex-col gap-2 rounded border border-line bg-sheet p-3">
					<p className="font-bold">
						How fast? That depends on what is behind the skin. Unsaid: the lowest setting, and look.
					</p>
					{behind}
				</div>
			) : null}
			<p data-testid="reached">
				<b className="font-reading text-2xl">{Math.floor(run.share * 100)} %</b> is known to have reached.{" "}
				{run.closed ? `✓ ${run.closed.replace(/\.$/, "")}.` : (run.gap ?? "")}
			</p>
			{bad && <TroubleNote>{bad}</TroubleNote>}
			{piece.laid && (
				<form
					aria-label="Read behind the heat"
					className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto] items-end gap-2"
					onSubmit={(e) => {
						e.preventDefault();
						void read();
					}}
				>
					<FloorField label="Along it" value={typed ?? shown(next)} onType={setTyped} words />
					<FloorField label={`Shows, ${metric ? "°C" : "°F"}`} value={degrees} onType={setDegrees} />
					<Button type="submit" className="min-h-16 px-5 text-xl">
						Read
					</Button>
				</form>
			)}
			{run.pace && view.air_assumed && <p className="text-soft">{view.air_assumed}</p>}
			{piece.laid && !run.closed && run.share < 0.9999 && (
				<form
					aria-label="Close it all the same"
					className="flex flex-wrap items-end gap-2"
					onSubmit={async (e) => {
						e.preventDefault();
						if (await record({ what: "closed", run: run.name, reason })) setReason("");
					}}
				>
					<label className="flex min-w-0 grow flex-col gap-1">
						Done although not all of it is known to have reached, because
						<input
							value={reason}
							maxLength={300}
							onChange={(e) => setReason(e.target.value)}
							className="h-14 rounded border border-soft bg-sheet px-3"
						/>
					</label>
					<Button type="submit" className="min-h-14" disabled={reason.trim().length < 3}>
						Close it
					</Button>
				</form>
			)}
		</section>
	);
}

/** Runs over the picture, numbered in walking order: dashed while open, whole once closed. */
function Runs({
	piece,
	chosen,
	frame,
	onPick,
}: {
	piece: Schemas["PieceHeat"];
	chosen: string | undefined;
	frame: Frame;
	onPick: (name: string) => void;
}) {
	return (
		<g data-testid="heat-runs">
			{piece.runs.map((r, n) => {
				const path = r.lines
					.map((l) => l.map((p, k) => `${k === 0 ? "M" : "L"}${px(frame, p).join(" ")}`).join(""))
					.join("");
				const [x, y] = px(frame, r.lines[0]?.[0]);
				if (r.lines.length === 0) return null;
				return (
					// biome-ignore lint/a11y/noStaticElementInteractions: the list below chooses the same
					<g key={r.name} onClick={() => onPick(r.name)} style={{ cursor: "pointer" }}>
						<path
							d={path}
							fill="none"
							stroke={
								r.closed ? "var(--color-good)" : r.cannot ? "var(--color-trouble)" : "var(--color-tape-deep)"
							}
							strokeWidth={r.name === chosen ? 8 : 5}
							strokeDasharray={r.closed ? undefined : "10 7"}
							strokeOpacity={0.8}
						/>
						<NumberDisc x={x} y={y} number={n + 1} radius={13} />
					</g>
				);
			})}
		</g>
	);
}

import { useEffect, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { type Problem, type Schemas, Trouble, told } from "./api/client";
import { onSent } from "./api/outbox";
import { useEditing, useJob, useMe, useSide } from "./api/queries";
import { PlanView } from "./drawing/PlanView";
import { AlsoHere } from "./job/AlsoHere";
import { useDesk, useWide } from "./job/Bench";
import { JobTitle } from "./job/JobNames";
import { QuickHelp } from "./job/QuickHelp";
import { Rail, StageMenu } from "./job/Rail";
import { ScreenChoice } from "./job/Screen";
import { Unread } from "./job/Unread";
import { WhoChoice } from "./job/Who";
import { useCarry } from "./offline/carry";
import { AddSide } from "./stages/look-over/AddSide";
import { fetched } from "./ui/fetched";
import { Button, Sheet, TroubleNote, Waiting } from "./ui/parts";
import { YardLink } from "./ui/YardLink";

// Each stage is fetched when it is first opened.
const Film = fetched(async () => (await import("./stages/film/Film")).Film, "the stage");
const HandOver = fetched(async () => (await import("./stages/hand-over/HandOver")).HandOver, "the stage");
const Hinge = fetched(async () => (await import("./stages/hinge/Hinge")).Hinge, "the stage");
const LayDown = fetched(async () => (await import("./stages/lay-down/LayDown")).LayDown, "the stage");
const LayOut = fetched(async () => (await import("./stages/lay-out/LayOut")).LayOut, "the stage");
const HeatSeal = fetched(async () => (await import("./stages/heat-seal/HeatSeal")).HeatSeal, "the stage");
const Prep = fetched(async () => (await import("./stages/prep/Prep")).Prep, "the stage");
const Strip = fetched(async () => (await import("./stages/strip/Strip")).Strip, "the stage");
const LookOver = fetched(async () => (await import("./stages/look-over/LookOver")).LookOver, "the stage");

/** Asked for as soon as the address is known: it is there when the side is. */
const STAGES: Record<string, { ask: () => void }> = {
	"look-over": LookOver,
	"lay-out": LayOut,
	film: Film,
	strip: Strip,
	prep: Prep,
	"heat-seal": HeatSeal,
	hinge: Hinge,
	"lay-down": LayDown,
	"hand-over": HandOver,
};

/** A job: its vehicle from above, its nine stages, and the stage at hand. */
export function Job() {
	const { job: id = "", stage = "look-over" } = useParams();
	const [search, setSearch] = useSearchParams();
	useEffect(() => STAGES[stage]?.ask(), [stage]);
	const job = useJob(id);
	useCarry([id], useMe().data?.floor ?? false);
	const sides = job.data?.sides ?? [];
	const chosen = sides.find((s) => s.id === search.get("side"))?.id ?? sides[0]?.id;
	const side = useSide(chosen);
	const editing = useEditing(id);
	const [note, setNote] = useState<string | null>(null);
	const [stuck, setStuck] = useState<{ what: "undo" | "redo"; problem: Problem } | null>(null);
	const [keys, setKeys] = useState(false);
	const [adding, setAdding] = useState(false);
	const desk = useDesk();
	const wide = useWide();
	const choose = (s: string) => setSearch({ side: s }, { replace: true });

	// What was recorded without a signal has arrived: the page shows how things stand now.
	useEffect(() => onSent(() => void editing.refresh()), [editing.refresh]);

	const take = async (what: "undo" | "redo", inTheWay?: Schemas["InTheWay"]) => {
		try {
			await editing[what](inTheWay);
			setNote(null);
			setStuck(null);
		} catch (error) {
			if (error instanceof Trouble && error.problem.code === "changed_since") {
				setStuck({ what, problem: error.problem });
			} else {
				setStuck(null);
				setNote(told(error));
			}
		}
	};

	useEffect(() => {
		const onKey = (event: KeyboardEvent) => {
			const typing = event.target instanceof HTMLElement && event.target.matches("input, textarea");
			if (typing) return;
			if (event.key === "?") setKeys(true);
			if ((event.ctrlKey || event.metaKey) && event.key === "z") take("undo");
			if ((event.ctrlKey || event.metaKey) && event.key === "y") take("redo");
		};
		addEventListener("keydown", onKey);
		return () => removeEventListener("keydown", onKey);
	});

	if (!job.data) return <Waiting what="the job" error={job.error} />;
	const away = (side.error ?? job.error)?.message;
	const others = sides.filter((s) => s.id !== chosen);
	const undo = (
		<>
			<Button
				className="!min-h-9 h-9 px-2.5 text-lg leading-none"
				onClick={() => take("undo")}
				aria-label="Undo"
				title="Undo"
			>
				<span aria-hidden>↶</span>
			</Button>
			<Button
				className="!min-h-9 h-9 px-2.5 text-lg leading-none"
				onClick={() => take("redo")}
				aria-label="Redo"
				title="Redo"
			>
				<span aria-hidden>↷</span>
			</Button>
			<Button
				className="!min-h-9 h-9 px-3 font-bold"
				onClick={() => setKeys(true)}
				aria-label="Keys and screen"
				title="Keys and screen"
			>
				?
			</Button>
		</>
	);
	const plan = (
		<PlanView
			plan={job.data.plan}
			sides={sides}
			chosen={chosen}
			onChoose={choose}
			onAdd={() => setAdding(true)}
		/>
	);
	return (
		<div className={`flex min-w-0 flex-col ${desk ? "h-full" : "min-h-full"}`}>
			{desk ? (
				<header className="grid h-[42px] shrink-0 grid-cols-[minmax(0,1fr)_auto_minmax(0,1fr)] items-center gap-4 px-6">
					<div className="flex min-w-0 items-center gap-2">
						<YardLink high="h-9" />
						<span aria-hidden>›</span>
						<JobTitle job={job.data} />
					</div>
					{plan}
					<div className="flex items-center justify-end gap-2">
						{undo}
						<WhoChoice />
					</div>
				</header>
			) : (
				<header className="px-4 sm:px-6">
					<div className="flex items-center justify-between gap-3">
						<div className="flex min-w-0 items-center gap-2">
							<Link
								to="/"
								className="flex h-11 shrink-0 items-center font-bold text-xl"
								aria-label="Windrift, back to the yard"
							>
								<span aria-hidden className="px-1">
									‹
								</span>
							</Link>
							<JobTitle job={job.data} />
						</div>
						{!wide && (
							<div className="shrink-0">
								<StageMenu job={id} stages={job.data.stages} here={stage} side={chosen} />
							</div>
						)}
					</div>
					<div className="flex items-center justify-between gap-1.5 py-1">
						{plan}
						<div className="flex shrink-0 items-center gap-1.5">
							{undo}
							<WhoChoice />
						</div>
					</div>
				</header>
			)}
			{wide && <Rail job={id} stages={job.data.stages} here={stage} side={chosen} />}
			<AlsoHere job={id} side={chosen} stage={stage} />
			{(note ?? away) && (
				<div className="px-6">
					<TroubleNote>{note ?? away}</TroubleNote>
				</div>
			)}
			{sides.length === 0 ? (
				<main className="grow px-6 py-6 text-xl">
					This job has no side yet.{" "}
					<Button look="next" onClick={() => setAdding(true)}>
						Add a side
					</Button>
				</main>
			) : !side.data || side.data.id !== chosen ? (
				<Waiting what="the side" />
			) : stage === "lay-out" ? (
				<LayOut key={chosen} side={side.data} editing={editing} />
			) : stage === "film" ? (
				<Film key={chosen} job={id} side={side.data} editing={editing} />
			) : stage === "strip" ? (
				<Strip key={chosen} job={id} side={side.data} />
			) : stage === "prep" ? (
				<Prep key={chosen} job={id} side={side.data} />
			) : stage === "heat-seal" ? (
				<HeatSeal key={chosen} job={id} side={side.data} />
			) : stage === "hinge" ? (
				<Hinge key={chosen} job={id} side={side.data} editing={editing} />
			) : stage === "lay-down" ? (
				<LayDown key={chosen} job={id} side={side.data} editing={editing} />
			) : stage === "hand-over" ? (
				<HandOver job={id} side={side.data} />
			) : (
				<LookOver
					key={chosen}
					job={id}
					side={side.data}
					editing={editing}
					onGone={() => (others[0] ? choose(others[0].id) : setSearch({}))}
				/>
			)}
			{job.data.unreadable.length > 0 && <Unread rows={job.data.unreadable} />}
			<Sheet
				open={stuck !== null}
				onOpenChange={(open) => !open && setStuck(null)}
				title={
					stuck?.what === "redo" ? "Somebody changed this since" : "Undo would go over somebody's change"
				}
			>
				<p className="mb-4 text-lg">{stuck?.problem.detail}</p>
				<div className="flex flex-wrap justify-end gap-3">
					<Button onClick={() => setStuck(null)}>Leave all as it is</Button>
					<Button onClick={() => stuck && take(stuck.what, "over")}>
						Go over {stuck?.problem.by ?? "their"}’s change
					</Button>
					<Button look="next" onClick={() => stuck && take(stuck.what, "leave")}>
						Leave this one, take the one before
					</Button>
				</div>
			</Sheet>
			<AddSide open={adding} onOpenChange={setAdding} sides={sides} editing={editing} onAdded={choose} />
			<Sheet open={keys} onOpenChange={setKeys} title="Keys and screen">
				<ScreenChoice />
				<dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-3 text-lg">
					<dt className="font-bold font-reading">← → ↑ ↓</dt>
					<dd>Move the chosen piece or feature by 1/16 in or 1 mm</dd>
					<dt className="font-bold font-reading">Shift + arrow</dt>
					<dd>Move it by sixteen of these</dd>
					<dt className="font-bold font-reading">Esc</dt>
					<dd>Put it back where it was</dd>
					<dt className="font-bold font-reading">Ctrl Z, Ctrl Y</dt>
					<dd>Undo and redo your own changes</dd>
					<dt className="font-bold font-reading">Enter</dt>
					<dd>Take what was typed</dd>
					<dt className="font-bold font-reading">, .</dt>
					<dd>Look over: the one before, the next one</dd>
					<dt className="font-bold font-reading">Del</dt>
					<dd>Look over: remove the chosen one</dd>
					<dt className="font-bold font-reading">+ − 0</dt>
					<dd>Look over: nearer, farther, the whole side; Alt + arrow shifts it</dd>
					<dt className="font-bold font-reading">?</dt>
					<dd>This list</dd>
				</dl>
				<QuickHelp />
			</Sheet>
		</div>
	);
}

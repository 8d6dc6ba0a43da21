import { useEffect, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { type Problem, type Schemas, Trouble } from "./api/client";
import { onSent } from "./api/outbox";
import { useEditing, useJob, useSide } from "./api/queries";
import { PlanView } from "./drawing/PlanView";
import { Rail } from "./job/Rail";
import { Unread } from "./job/Unread";
import { WhoChoice } from "./job/Who";
import { HandOver } from "./stages/hand-over/HandOver";
import { Hinge } from "./stages/hinge/Hinge";
import { LayDown } from "./stages/lay-down/LayDown";
import { LayOut } from "./stages/lay-out/LayOut";
import { AddSide } from "./stages/look-over/AddSide";
import { LookOver } from "./stages/look-over/LookOver";
import { Button, Sheet, TroubleNote, Waiting } from "./ui/parts";

/** A job: its vehicle from above, its nine stages, and the stage at hand. */
export function Job() {
	const { job: id = "", stage = "look-over" } = useParams();
	const [search, setSearch] = useSearchParams();
	const job = useJob(id);
	const sides = job.data?.sides ?? [];
	const chosen = sides.find((s) => s.id === search.get("side"))?.id ?? sides[0]?.id;
	const side = useSide(chosen);
	const editing = useEditing(id);
	const [note, setNote] = useState<string | null>(null);
	const [stuck, setStuck] = useState<{ what: "undo" | "redo"; problem: Problem } | null>(null);
	const [keys, setKeys] = useState(false);
	const [adding, setAdding] = useState(false);
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
				setNote(error instanceof Error ? error.message : String(error));
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
	return (
		<div className="flex min-h-screen flex-col">
			<header className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 px-6 py-1.5">
				<div className="flex min-w-0 items-center gap-3">
					<Link
						to="/"
						className="flex h-11 items-center gap-2 font-bold text-xl"
						aria-label="Windrift, back to the yard"
					>
						<img src="/mark.svg" alt="" width={28} height={28} />
						<span>Yard</span>
					</Link>
					<h1 className="max-w-56 truncate font-bold text-xl xl:max-w-80">{job.data.title}</h1>
				</div>
				<PlanView
					plan={job.data.plan}
					sides={sides}
					chosen={chosen}
					onChoose={choose}
					onAdd={() => setAdding(true)}
				/>
				<div className="flex items-center gap-2">
					<Button className="px-3" onClick={() => take("undo")}>
						Undo
					</Button>
					<Button className="px-3" onClick={() => take("redo")}>
						Redo
					</Button>
					<Button className="px-3" onClick={() => setKeys(true)} aria-label="Keys">
						?
					</Button>
					<WhoChoice />
				</div>
			</header>
			<Rail job={id} stages={job.data.stages} here={stage} side={chosen} />
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
			<Sheet open={keys} onOpenChange={setKeys} title="Keys">
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
			</Sheet>
		</div>
	);
}

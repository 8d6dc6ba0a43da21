import { useEffect, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { sendWaiting, useWaiting } from "../api/outbox";
import { useEditing, useJob, useSide } from "../api/queries";
import { PlanView } from "../drawing/PlanView";
import { WhoChoice } from "../shop/Who";
import { Button, Sheet, TroubleNote, Waiting } from "../ui/parts";
import { HandOver } from "./hand-over/HandOver";
import { Hinge } from "./hinge/Hinge";
import { LayDown } from "./lay-down/LayDown";
import { LayOut } from "./lay-out/LayOut";
import { AddSide } from "./look-over/AddSide";
import { LookOver } from "./look-over/LookOver";
import { Rail } from "./Rail";

/** A job: its vehicle from above, its nine stages, and the stage at hand. */
export function Job() {
	const { job: id = "", stage = "look-over" } = useParams();
	const [search, setSearch] = useSearchParams();
	const job = useJob(id);
	const sides = job.data?.sides ?? [];
	const chosen = sides.find((s) => s.id === search.get("side"))?.id ?? sides[0]?.id;
	const side = useSide(chosen);
	const editing = useEditing(id);
	const waiting = useWaiting();
	const [note, setNote] = useState<string | null>(null);
	const [keys, setKeys] = useState(false);
	const [adding, setAdding] = useState(false);
	const choose = (s: string) => setSearch({ side: s }, { replace: true });

	useEffect(() => {
		const go = () => sendWaiting(editing.refresh, (problem) => setNote(problem.detail));
		const timer = setInterval(go, 3000);
		return () => clearInterval(timer);
	}, [editing.refresh]);

	const take = async (what: "undo" | "redo") => {
		try {
			await editing[what]();
			setNote(null);
		} catch (error) {
			setNote(error instanceof Error ? error.message : String(error));
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
					{waiting > 0 && (
						<span role="status" className="rounded bg-tape px-3 py-2 font-semibold">
							{waiting} waiting to be sent
						</span>
					)}
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

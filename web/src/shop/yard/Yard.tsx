import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useJobs, useMe, useShop } from "../../api/queries";
import { useWidth } from "../../drawing/frame";
import { Scene } from "../../drawing/Scene";
import { STAGES, stagePath } from "../../job/stages";
import { WhoChoice } from "../../job/Who";
import { useCarry } from "../../offline/carry";
import { Button, NextMove, Waiting } from "../../ui/parts";
import { Crew } from "./Crew";
import { NewJob } from "./NewJob";
import { TakeIn } from "./TakeIn";

/** Every job by its vehicle, all at one scale as they would stand in the yard. */
export function Yard() {
	const [page, setPage] = useState(0);
	const [starting, setStarting] = useState(false);
	const shop = useShop();
	const [find, setFind] = useState("");
	const [finished, setFinished] = useState(false);
	const jobs = useJobs(page, find.trim(), finished);
	const [crew, setCrew] = useState(false);
	const me = useMe();
	// A device that goes out on the floor takes the yard along.
	useCarry(
		me.data?.floor && page === 0 && !find && !finished ? (jobs.data?.jobs.map((j) => j.id) ?? []) : [],
		me.data?.floor ?? false,
	);
	const [ref, width] = useWidth();
	const list = jobs.data?.jobs ?? [];
	const longest = Math.max(6000, ...list.flatMap((j) => j.sides.map((s) => s.drawing.bounds[2] ?? 0)));
	const scale = Math.min(Math.max(width - (width > 740 ? 430 : 12), 200) / longest, 0.075);
	const pages = Math.ceil((jobs.data?.total ?? 0) / (jobs.data?.page_size ?? 12));
	return (
		<div className="flex min-h-screen flex-col">
			<header className="flex flex-wrap items-center justify-between gap-3 px-6 py-2">
				<p className="flex items-center gap-3">
					<img src="/mark.svg" alt="" width={30} height={30} />
					<span className="font-bold text-2xl">Windrift</span>
					<span className="text-soft text-xl">{shop.data?.name}</span>
				</p>
				<div className="flex items-center gap-2">
					<Link to="/shelf" className="flex min-h-11 items-center rounded border border-soft bg-paper px-4">
						Shelf
					</Link>
					<Button onClick={() => setCrew(true)}>Crew</Button>
					<WhoChoice />
				</div>
			</header>
			<main className="flex grow flex-col gap-2 px-6 pb-4">
				<div className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
					<h1 className="font-bold text-2xl">{finished && !find ? "Finished" : "Yard"}</h1>
					{jobs.data && (
						<span className="text-soft text-lg">
							{jobs.data.total} {jobs.data.total === 1 ? "job" : "jobs"}
							{find ? " found" : ""}, all vehicles at one scale
						</span>
					)}
					<Button
						className="!min-h-9"
						onClick={() => {
							setFinished(!finished);
							setPage(0);
						}}
					>
						{finished ? "Back to the yard" : "Finished jobs"}
					</Button>
					<Link
						to="/comes-off"
						className="flex min-h-9 items-center self-center rounded border border-soft bg-paper px-4"
					>
						Comes off by
					</Link>
					<input
						type="search"
						aria-label="Find a job"
						placeholder="Find a job"
						value={find}
						maxLength={80}
						onChange={(e) => {
							setFind(e.target.value);
							setPage(0);
						}}
						className="ml-auto h-11 w-64 max-w-full rounded border border-soft bg-paper px-3"
					/>
				</div>
				<div ref={ref} />
				{!jobs.data && <Waiting what="the yard" error={jobs.error} />}
				{jobs.data?.total === 0 && (
					<p className="my-10 text-xl">
						{find
							? `No job has “${find.trim()}” in its title, its customer, its plate, its vehicle, its year or its lettering.`
							: finished
								? "No job is finished yet. Under Hand over a job that is done leaves the yard."
								: "The yard is empty. Start a job: whom it is for, and what stands outside."}
					</p>
				)}
				<ul className="flex flex-col gap-3">
					{list.map((job) => (
						<JobRow key={job.id} job={job} scale={scale} />
					))}
				</ul>
				{jobs.data?.unreadable.map((job) => (
					<p key={job.id} role="alert" className="border-trouble border-l-4 bg-trouble-soft p-3 text-trouble">
						! {job.title}, {job.customer}: {job.why}
					</p>
				))}
				{pages > 1 && (
					<nav aria-label="Pages of the yard" className="flex items-center gap-3 py-3">
						<Button disabled={page === 0} onClick={() => setPage(page - 1)}>
							Newer
						</Button>
						<span>
							Page {page + 1} of {pages}
						</span>
						<Button disabled={page + 1 >= pages} onClick={() => setPage(page + 1)}>
							Older
						</Button>
					</nav>
				)}
				{jobs.data && <TakeIn />}
			</main>
			<NextMove sentence="A vehicle came in?" detail="Start a job for it, or go on with one above.">
				<Button look="next" onClick={() => setStarting(true)}>
					Start a job
				</Button>
			</NextMove>
			<Crew open={crew} onOpenChange={setCrew} />
			<NewJob open={starting} onOpenChange={setStarting} />
		</div>
	);
}

function JobRow({ job, scale }: { job: Schemas["JobView"]; scale: number }) {
	const worked = job.sides.find((s) => s.pieces > 0) ?? job.sides[0];
	const now = job.stages.find((s) => s.state === "now")?.stage ?? "hand_over";
	const name = STAGES[now].name;
	return (
		<li className="border-line border-b-2 pb-3">
			<Link
				to={`${stagePath(job.id, now)}${worked ? `?side=${worked.id}` : ""}`}
				className="grid items-center gap-x-6 rounded px-1 hover:bg-part md:grid-cols-[1fr_24rem]"
				aria-label={`${job.title}, ${job.finished ? "finished" : `next: ${name}`}`}
			>
				{worked ? <Parked side={worked} scale={scale} /> : <span />}
				<div className="flex flex-col items-start gap-1 py-1">
					<h2 className="font-bold text-xl">{job.title}</h2>
					<p className="text-soft">
						{[job.customer, job.plate, job.vehicle.toLowerCase(), worked?.length].filter(Boolean).join(", ")}
					</p>
					<Progress stages={job.stages} />
					{job.finished ? (
						<span className="rounded border border-soft px-3 py-1 font-bold text-lg">
							Finished {job.finished}
						</span>
					) : (
						<span className="rounded bg-spruce px-3 py-1 font-bold text-lg text-white">Next: {name}</span>
					)}
				</div>
			</Link>
		</li>
	);
}

function Parked({ side, scale }: { side: Schemas["SideSummary"]; scale: number }) {
	const [x = 0, y = 0, w = 0, h = 0] = side.drawing.bounds;
	const pad = 3;
	return (
		<svg
			width={w * scale + 2 * pad}
			height={h * scale + 2 * pad}
			className="mt-1 block max-w-full"
			aria-hidden
		>
			<Scene drawing={side.drawing} pieces={[]} frame={{ scale, x: x - pad / scale, y: y - pad / scale }} />
			<g transform={`scale(${scale}) translate(${-x + pad / scale} ${-y + pad / scale})`}>
				{side.film.map((film) => (
					<path key={film.path} d={film.path} fill={film.colour} fillRule="evenodd" />
				))}
			</g>
		</svg>
	);
}

/** Nine marks in the order of the work: done filled, next ringed, later open, not in Windrift yet dotted. */
function Progress({ stages }: { stages: Schemas["StageProgress"][] }) {
	const words = stages.filter((s) => s.state === "done").map((s) => STAGES[s.stage].name);
	const said = `Done: ${words.join(", ") || "nothing yet"}`;
	return (
		<span>
			<svg width={9 * 22} height={20} aria-hidden>
				{stages.map((s, n) => (
					<rect
						key={s.stage}
						x={n * 22 + 2}
						y={3}
						width={17}
						height={13}
						fill={s.state === "done" ? "var(--color-spruce)" : "none"}
						stroke={s.state === "now" ? "var(--color-tape-deep)" : "var(--color-soft)"}
						strokeWidth={s.state === "now" ? 3.5 : 1.2}
					/>
				))}
			</svg>
			<span className="text-soft">{said}</span>
		</span>
	);
}

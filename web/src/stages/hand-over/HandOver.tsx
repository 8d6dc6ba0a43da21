import { useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas, told as sentenceOf } from "../../api/client";
import { once } from "../../api/once";
import { useWalk } from "../../api/queries";
import { SidePicture } from "../../drawing/SidePicture";
import { Bench } from "../../job/Bench";
import { Hardware } from "../../job/Hardware";
import { Button, Choice, NextMove, TroubleNote } from "../../ui/parts";
import { CallBackPart } from "./CallBackPart";
import { CarePart } from "./CarePart";
import { FinalLook, useFinalLook } from "./FinalLook";
import { FinishPart } from "./FinishPart";
import { LinksPart } from "./LinksPart";
import { useWritten } from "./useWritten";

/** What was done, with proof: the packet, the outlines, the record. */
export function HandOver({ job, side }: { job: string; side: Schemas["SideView"] }) {
	const [paper, setPaper] = useState<"letter" | "a4">("letter");
	/** All of the plan, this side, or one piece of it. */
	const [only, setOnly] = useState("all");
	const written = useWritten();
	// Under the job's own key: what changes there is looked at anew here too.
	const plans = useQuery({
		queryKey: ["job", job, "plans"],
		queryFn: () => ask(client.GET("/api/jobs/{id}/plans", { params: { path: { id: job } } })),
	}).data;
	const newest = plans?.[0];
	/** Whose packet is being written. */
	const [asked, setAsked] = useState<string | null>(null);
	const open = (id: string) => {
		setAsked(id);
		written.begin();
	};
	/** The one that says what is laid out now. */
	const plan = newest?.stands ? newest : undefined;
	const [wrong, setWrong] = useState<string | null>(null);
	const walk = useWalk(job);
	const openLooks = useFinalLook(side.id).data?.open ?? 0;
	const cache = useQueryClient();

	const issue = async () => {
		try {
			await once(JSON.stringify(["plan", job]), ({ id }) =>
				ask(client.POST("/api/jobs/{id}/plans", { params: { path: { id: job } }, body: { id } })),
			);
			setWrong(null);
			await Promise.all([
				cache.invalidateQueries({ queryKey: ["record", job] }),
				cache.invalidateQueries({ queryKey: ["chain", job] }),
				cache.invalidateQueries({ queryKey: ["job", job] }),
			]);
		} catch (error) {
			setWrong(sentenceOf(error));
		}
	};
	// Of the whole vehicle: what came off anywhere must be on again.
	const hardware = (walk.data?.sides ?? []).flatMap((s) => s.hardware).filter((l) => l.state !== "stays");
	const off = hardware.filter((l) => l.state === "must_go_back").length;
	const unlocked = side.pieces.filter((p) => !p.locked).length;
	const printed =
		only === "all"
			? ""
			: only === "side"
				? `&sides=${encodeURIComponent(side.name)}`
				: `&pieces=${encodeURIComponent(only)}`;
	// A packet of forty pieces takes a moment; its tab is white for as long.
	const packetOf = (id: string) => `/api/plans/${id}/packet.pdf?paper=${paper}${printed}&seen=${written.key}`;
	const file = "flex min-h-12 items-center justify-between gap-4 rounded bg-paper px-4 hover:bg-sheet";
	const bar = (
		<NextMove
			alarm={off > 0}
			sentence={
				off > 0
					? `${off === 1 ? "One piece of hardware" : `${off} pieces of hardware`} must go back on before it leaves.`
					: plan
						? `Plan ${plan.number}, issued by ${plan.by}.`
						: "Issue the plan and print the packet."
			}
			detail={
				openLooks > 0
					? `Final look: ${openLooks} on this side still open.`
					: plan
						? `${plan.at}. Open the packet and print it.`
						: newest
							? `Plan ${newest.number} was issued ${newest.at}; what was changed since is not in it.`
							: unlocked > 0
								? `${unlocked === 1 ? "1 hinge" : `${unlocked} hinges`} on this side not locked yet.`
								: side.pieces.length > 0
									? "Every hinge on this side is locked."
									: undefined
			}
		>
			{plan ? (
				<a
					href={packetOf(plan.id)}
					target="_blank"
					rel="noreferrer"
					onClick={() => open(plan.id)}
					className="flex min-h-11 items-center rounded bg-tape px-5 font-bold text-ink"
				>
					{written.seconds === null ? "Open the packet" : `Writing the packet, ${written.seconds} s`}
				</a>
			) : (
				<Button look="next" onClick={issue}>
					Issue the plan
				</Button>
			)}
		</NextMove>
	);
	return (
		<Bench
			drawing={side.drawing}
			picture={(height) => (
				<SidePicture side={side} pieces={side.pieces} maxHeight={height} label={`${side.name} as planned`} />
			)}
			bar={bar}
		>
			<div className="@container">
				<div className="grid gap-6 @3xl:grid-cols-2">
					<section aria-label="Papers and files" className="flex flex-col gap-3">
						<h2 className="font-bold text-xl">Papers and files</h2>
						<Choice
							label="Paper"
							value={paper}
							onChange={setPaper}
							options={[
								{ value: "letter", text: "Letter, 8 1/2 × 11 in" },
								{ value: "a4", text: "A4, 210 × 297 mm" },
							]}
						/>
						<label className="flex flex-wrap items-center justify-between gap-2">
							<span>What is printed</span>
							<select
								value={only}
								onChange={(e) => setOnly(e.target.value)}
								className="h-12 min-w-0 max-w-full rounded border border-soft bg-paper px-2"
							>
								<option value="all">the whole plan</option>
								<option value="side">only the {side.name}</option>
								{side.pieces.map((piece) => (
									<option key={piece.id} value={piece.id}>
										only “{piece.called}”
									</option>
								))}
							</select>
						</label>
						{(plans ?? []).map((p) => (
							<a
								key={p.id}
								href={packetOf(p.id)}
								target="_blank"
								rel="noreferrer"
								onClick={() => open(p.id)}
								className={p === plan ? `${file} font-bold text-lg` : file}
							>
								<span>
									The packet, plan {p.number}
									{p === plan ? "" : `, as it was ${p.at}`}
								</span>
								<span>
									{written.seconds === null || asked !== p.id ? "PDF" : `being written, ${written.seconds} s`}
								</span>
							</a>
						))}
						{plan && (
							// Names and the shop's figures are in a plan too; where none of them was changed, the same plan is answered.
							<Button onClick={issue}>Names or the shop’s figures were changed: issue it anew</Button>
						)}
						<a href={`/api/sides/${side.id}/side.svg`} target="_blank" rel="noreferrer" className={file}>
							<span>The {side.name} at full size</span>
							<span>SVG, mm</span>
						</a>
						<a href={`/api/sides/${side.id}/side.dxf`} className={file}>
							<span>The {side.name} at full size</span>
							<span>DXF, mm</span>
						</a>
						<a
							href={`/api/jobs/${job}/walk-round.pdf?paper=${paper}`}
							target="_blank"
							rel="noreferrer"
							className={file}
						>
							<span>Walk round and hardware list</span>
							<span>PDF</span>
						</a>
						<a href={`/api/jobs/${job}/bundle.zip`} className={file}>
							<span>The whole job as one file, with its record and photos</span>
							<span>ZIP</span>
						</a>
						{side.pieces.map((piece) => (
							<a
								key={piece.id}
								href={`/api/pieces/${piece.id}/piece.svg`}
								target="_blank"
								rel="noreferrer"
								className={file}
							>
								<span>“{piece.called}” for the cutter</span>
								<span>SVG, mm</span>
							</a>
						))}
						{wrong && <TroubleNote>{wrong}</TroubleNote>}
						<FinalLook job={job} side={side} />
						{hardware.length > 0 && (
							<section aria-label="Hardware" className="flex flex-col gap-2">
								<h2 className="font-bold text-xl">Hardware, on again before it leaves</h2>
								<Hardware job={job} lines={hardware} />
							</section>
						)}
					</section>
					<div className="flex min-w-0 flex-col gap-6">
						<CarePart job={job} paper={paper} />
						<LinksPart job={job} />
						<FinishPart job={job} />
						<CallBackPart job={job} side={side} />
						<Record job={job} />
					</div>
				</div>
			</div>
		</Bench>
	);
}

/** Whether the record is still the one that a printed packet was made from: the packet names its newest entry and that one's hash. */
function OnPaper({ job }: { job: string }) {
	const [entry, setEntry] = useState("");
	const [hash, setHash] = useState("");
	const [told, setTold] = useState<Schemas["RecordCheck"] | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const compare = async () => {
		try {
			const query = { entry: Number(entry), hash };
			const params = { path: { id: job }, query };
			setTold(await ask(client.GET("/api/jobs/{id}/record/check", { params })));
			setWrong(null);
		} catch (error) {
			setWrong(sentenceOf(error));
		}
	};
	const field = "h-11 min-w-0 rounded border border-soft bg-sheet px-3 font-reading";
	return (
		<details>
			<summary className="min-h-11 cursor-pointer py-2">Compare with a printed packet</summary>
			<form
				aria-label="Compare with a printed packet"
				className="flex flex-wrap items-end gap-3 rounded bg-paper p-3"
				onSubmit={(e) => {
					e.preventDefault();
					compare();
				}}
			>
				<label className="flex flex-col">
					<span>Newest entry, its number</span>
					<input
						className={`${field} w-28`}
						inputMode="numeric"
						maxLength={9}
						value={entry}
						onChange={(e) => setEntry(e.target.value.replace(/\D/g, ""))}
					/>
				</label>
				<label className="flex min-w-0 grow flex-col">
					<span>What stands after it, from its beginning</span>
					<input className={field} value={hash} maxLength={64} onChange={(e) => setHash(e.target.value)} />
				</label>
				<Button type="submit" disabled={entry === "" || hash.trim().length < 8}>
					Compare
				</Button>
				{told && (
					<p role="status" className={`w-full font-semibold ${told.as_on_paper ? "" : "text-trouble"}`}>
						{told.as_on_paper ? "✓ " : "! "}
						{told.sentence}
					</p>
				)}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</form>
		</details>
	);
}

function Record({ job }: { job: string }) {
	const record = useInfiniteQuery({
		queryKey: ["record", job],
		initialPageParam: 0,
		queryFn: ({ pageParam }) =>
			ask(
				client.GET("/api/jobs/{id}/record", { params: { path: { id: job }, query: { after: pageParam } } }),
			),
		getNextPageParam: (page) => (page.more ? page.entries.at(-1)?.seq : undefined),
	});
	const chain = useQuery({
		queryKey: ["chain", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/record/check", { params: { path: { id: job } } })),
	});
	const entries = record.data?.pages.flatMap((p) => p.entries.map((e) => ({ ...e, zone: p.zone }))) ?? [];
	return (
		<section aria-label="The record" className="flex min-w-0 flex-col gap-2">
			<h2 className="font-bold text-xl">The record</h2>
			{chain.data?.broken_at && <p className="font-bold text-trouble">! {chain.data.sentence}</p>}
			{chain.data && chain.data.entries > 0 && (
				<details>
					<summary className="min-h-11 cursor-pointer py-2">
						{chain.data.broken_at ? "! " : "✓ "}Proof that the record is whole
					</summary>
					<p>
						{chain.data.sentence} {!chain.data.broken_at && `Newest ${chain.data.latest.slice(0, 12)}…`}
					</p>
					<OnPaper job={job} />
				</details>
			)}
			{record.data && entries.length === 0 && (
				<p>Nothing has been recorded yet. Readings at the hinge come here.</p>
			)}
			<ol className="flex min-w-0 flex-col gap-1">
				{entries.map((e) => (
					<li key={e.seq} className="rounded bg-paper px-3 py-2">
						<p className="flex justify-between gap-3 text-soft">
							<span>
								<span className="font-reading">{e.seq}</span> {e.who}
							</span>
							<span>
								{e.at} {e.zone}
							</span>
						</p>
						<p>{e.what}</p>
					</li>
				))}
			</ol>
			{record.hasNextPage && <Button onClick={() => record.fetchNextPage()}>Later entries</Button>}
		</section>
	);
}

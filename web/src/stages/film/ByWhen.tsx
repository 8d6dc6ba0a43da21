import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { useOnePress } from "../../job/useOnePress";
import { Button, Choice, NextMove, TroubleNote, Waiting } from "../../ui/parts";

type View = Schemas["ByWhenView"];
type Step = View["steps"][number];

/** What stands about by when a job is made. */
export const useByWhen = (job: string, wanted: boolean) =>
	useQuery({
		queryKey: ["film", "by-when", job],
		enabled: wanted,
		queryFn: () => ask(client.GET("/api/jobs/{id}/by-when", { params: { path: { id: job } } })),
	});

/** What is done next before the fitting. */
export function NextBefore({ view }: { view: View }) {
	const next = view.steps.find((s) => s.next);
	if (!view.fit_words)
		return <NextMove sentence="Say when the fitting starts." detail={view.nothing ?? undefined} />;
	if (!next) return <NextMove sentence={`All is made for ${view.fit_words}.`} />;
	return (
		<NextMove
			alarm={next.late}
			sentence={`${next.work.what}: ${next.late ? "it should have begun" : "begin by"} ${next.latest}.`}
			detail={`Fitting starts ${view.fit_words}.`}
		/>
	);
}

/** From the hour at which the fitting starts backwards: by when everything is printed, laminated, cut and rolled up. */
export function ByWhen({ job }: { job: string }) {
	const cache = useQueryClient();
	const key = ["film", "by-when", job];
	const found = useByWhen(job, true);
	const [at, setAt] = useState<string | null>(null);
	// Chosen before the hour is: it is sent with it.
	const [ink, setInk] = useState<Schemas["Ink"] | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const pressed = useOnePress(1000);
	const id = useId();
	const view = found.data;
	if (!view) return <Waiting what="by when" error={found.error} />;
	const settle = async (change: Partial<Schemas["SettleFitting"]>) => {
		const done = view.steps.filter((s) => s.done).map((s) => ({ step: s.step }));
		const body = {
			seen: view.revision,
			fit_at: view.fit_at ?? at ?? "",
			ink: ink ?? view.ink,
			done,
			...change,
		};
		try {
			const now = await ask(client.PUT("/api/jobs/{id}/by-when", { params: { path: { id: job } }, body }));
			cache.setQueryData(key, now);
			void cache.invalidateQueries({ queryKey: ["film", "steps", job] });
			setWrong(null);
			setAt(null);
			setInk(null);
		} catch (error) {
			setWrong(told(error));
			await cache.invalidateQueries({ queryKey: key });
		}
	};
	const tick = (step: Step) => {
		// Pressed twice by a trembling hand it is done once, not done and undone.
		if (!pressed()) return;
		const before = view.steps.filter((s) => s.done && s.step !== step.step).map((s) => ({ step: s.step }));
		void settle({ done: step.done ? before : [...before, { step: step.step }] });
	};
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-2">
			<section aria-label="By when" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">
					{view.fit_words ? `Fitting starts ${view.fit_words}` : "When does the fitting start?"}
				</h3>
				<form
					className="mt-1 flex flex-wrap items-end gap-3"
					onSubmit={(e) => {
						e.preventDefault();
						void settle({ fit_at: at ?? view.fit_at ?? "" });
					}}
				>
					<div className="flex min-w-0 flex-col gap-1">
						<label htmlFor={id} className="text-soft">
							By the shop’s clock ({view.zone})
						</label>
						<input
							id={id}
							type="datetime-local"
							value={at ?? view.fit_at ?? ""}
							onChange={(e) => setAt(e.target.value)}
							className="h-11 min-w-0 rounded border border-soft bg-paper px-3 font-bold"
						/>
					</div>
					<Button type="submit">{view.fit_at ? "Then instead" : "Then"}</Button>
					{view.prints && (
						<Choice
							label="Ink"
							value={ink ?? view.ink}
							options={view.inks.map((i) => ({ value: i.ink, text: i.name }))}
							onChange={(ink) => {
								setInk(ink);
								if (view.fit_at) void settle({ ink });
							}}
						/>
					)}
				</form>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				{view.nothing && <p className="mt-2">{view.nothing}</p>}
				{view.late && (
					<TroubleNote>
						{view.late} late.{" "}
						{view.earliest && `Without a pause from now on, the fitting could start ${view.earliest}.`}
					</TroubleNote>
				)}
				{view.gassed_out && <p className="mt-1">Its prints gas out until {view.gassed_out}.</p>}
				<ol className="mt-2">
					{view.steps.map((s) => (
						<li
							key={s.step}
							aria-label={s.work.what}
							className={`flex flex-wrap items-center justify-between gap-2 border-line border-t py-2 ${
								s.next ? "font-bold" : ""
							}`}
						>
							<span className="min-w-0 grow basis-56">
								{s.done ? "✓ " : s.late ? "! " : s.next ? "▸ " : ""}
								{s.work.what}
								<span className="block font-normal text-soft">
									{s.takes}, {s.work.place}
									{s.done ? `; done ${s.done}` : ""}
								</span>
							</span>
							<span className={`text-right ${s.late ? "text-trouble" : ""}`}>
								<span className="block font-normal text-soft">begins by</span>
								<b className="whitespace-nowrap">{s.latest}</b>
							</span>
							<Button aria-label={`${s.work.what}: ${s.done ? "not done" : "done"}`} onClick={() => tick(s)}>
								{s.done ? "Not done" : "Done now"}
							</Button>
						</li>
					))}
				</ol>
				{view.steps.length > 0 && (
					<p className="mt-1 text-soft">
						24 h for solvent inks and 24 h in the hall are common practice; the other hours are Windrift’s
						own.
						{view.prints &&
							(view.every_ink_waits
								? " In this shop latex and UV wait 24 h too."
								: " By this shop’s school latex and UV need no wait.")}
					</p>
				)}
			</section>
			<AllSteps job={job} />
			<section aria-label="For whoever prints and cuts" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">For whoever prints and cuts</h3>
				{view.says.length === 0 && <p>Nothing more than what stands under Which film.</p>}
				<ul>
					{view.says.map((s) => (
						<li key={s} className="border-line border-t py-1">
							{s}
						</li>
					))}
				</ul>
			</section>
		</div>
	);
}

/** All steps of the job, stage by stage, as far as they go today: what is left and when hands are done. */
function AllSteps({ job }: { job: string }) {
	const found = useQuery({
		queryKey: ["film", "steps", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/steps", { params: { path: { id: job } } })),
	});
	const view = found.data;
	const stages = [...new Set(view?.steps.map((s) => s.stage_name))];
	return (
		<section aria-label="The whole job" className="rounded bg-paper p-4">
			<h3 className="font-bold text-xl">The whole job</h3>
			{!view && <Waiting what="the steps" error={found.error} />}
			{view && (
				<>
					<p className="text-lg">{view.left}</p>
					{view.done_by && <p className="font-bold text-lg">{view.done_by}</p>}
					{stages.map((stage) => {
						const steps = view.steps.filter((s) => s.stage_name === stage);
						const open = steps.filter((s) => !s.done);
						return (
							<details key={stage} className="border-line border-t">
								<summary className="min-h-11 cursor-pointer py-2">
									<b>{stage}</b>{" "}
									{open.length === 0 ? "✓ done" : `${open.length} of ${steps.length} steps open`}
								</summary>
								<ol className="pb-2">
									{steps.map((s) => (
										<li key={s.key} className="flex justify-between gap-3 border-line border-t py-1">
											<span className="min-w-0">
												{s.done ? "✓ " : ""}
												{s.what}
												{s.side && <span className="block text-soft">{s.side}</span>}
											</span>
											<span className="shrink-0 whitespace-nowrap text-right">
												{s.takes}
												<span className="block text-soft">
													{s.hands === 0 ? "waits" : s.hands === 1 ? "1 person" : `${s.hands} people`}
												</span>
											</span>
										</li>
									))}
								</ol>
							</details>
						);
					})}
					<p className="mt-1 text-soft">{view.whose}</p>
				</>
			)}
		</section>
	);
}

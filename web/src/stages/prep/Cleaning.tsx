import { useState } from "react";
import type { Schemas } from "../../api/client";
import { clock } from "../../job/clock";
import { FloorField } from "../../job/FloorField";
import { useNow } from "../../job/useNow";
import { Button, Choice } from "../../ui/parts";

const BEEN: { value: Schemas["Been"]; text: string }[] = [
	{ value: "on_the_road", text: "on the road or the water: the whole sequence" },
	{ value: "just_washed", text: "just washed, nowhere since" },
	{ value: "new", text: "new, never on the road" },
];

/** In what order this side is cleaned, ticked as it is done, each dwell with its timer; zone by zone where somebody wants that. */
export function Cleaning({
	view,
	inZones,
	onInZones,
	onDone,
	onAgain,
	onBeen,
	onRepair,
	onCures,
}: {
	view: Schemas["PrepView"];
	inZones: boolean;
	onInZones: (inZones: boolean) => void;
	onDone: (step: string, zone?: number) => Promise<unknown>;
	onAgain: (step: string, zone?: number) => Promise<unknown>;
	onBeen: (been: Schemas["Been"]) => Promise<unknown>;
	onRepair: (needed: boolean) => Promise<unknown>;
	onCures: (step: string, hours: number) => Promise<unknown>;
}) {
	// Since when a cleaner stands on the side, by step and zone.
	const [dwell, setDwell] = useState<Record<string, number>>({});
	const now = useNow(Object.keys(dwell).length > 0);
	const begin = (key: string) => setDwell((d) => ({ ...d, [key]: Date.now() }));
	const end = (key: string) =>
		setDwell((d) => Object.fromEntries(Object.entries(d).filter(([k]) => k !== key)));
	const left = (key: string, seconds: number) => {
		const since = dwell[key];
		return since === undefined ? null : seconds - (now - since) / 1000;
	};
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
			<section aria-label="Clean in this order" className="rounded bg-paper p-4">
				<div className="flex flex-wrap items-center justify-between gap-3">
					<h3 className="font-bold text-xl">Clean in this order, top down</h3>
					{view.zones.length > 1 && (
						<Button aria-pressed={inZones} onClick={() => onInZones(!inZones)}>
							{inZones ? "All at once" : `In ${view.zones.length} zones`}
						</Button>
					)}
				</div>
				<ol className="flex flex-col divide-y divide-line">
					{view.steps.map((s, n) => {
						const done = s.done != null && s.again == null;
						const zoned = inZones && s.by_zone && view.zones.length > 1;
						const stands = left(s.key, s.dwell_seconds ?? 0);
						return (
							<li key={s.key} className="flex flex-wrap items-center gap-3 py-2">
								<span className="min-w-0 grow basis-64">
									<b>
										{done ? "✓" : `${n + 1}.`} {s.says}
									</b>
									{s.why && <span className="block text-soft">{s.why}</span>}
									{s.done && !s.again && <span className="block text-soft">Done {s.done}</span>}
									{s.again && <span className="block text-trouble">! {s.again}</span>}
									{s.hardens && <span className="block text-trouble">! Hardens until {s.hardens}</span>}
									{!done && s.caution && <span className="block">{s.caution}</span>}
									{s.cures_hours != null && <Hardens step={s} onCures={(hours) => onCures(s.key, hours)} />}
								</span>
								{zoned ? (
									<fieldset className="flex basis-full flex-wrap gap-2" aria-label={`${s.key}, zone by zone`}>
										{view.zones.map((z) => {
											const key = `${s.key} ${z.number}`;
											const there = s.zones.includes(z.number);
											const wait = left(key, s.dwell_seconds ?? 0);
											const dwells = s.dwell_seconds != null && !there && wait === null;
											return (
												<Button
													key={z.number}
													className="min-h-16 min-w-20"
													aria-label={`${s.key}, zone ${z.number}: ${there ? "again" : dwells ? "on" : "done"}`}
													onClick={() => {
														if (dwells) begin(key);
														else {
															end(key);
															void (there ? onAgain(s.key, z.number) : onDone(s.key, z.number));
														}
													}}
												>
													{there ? "✓ " : ""}
													{z.number}
													{wait !== null && (
														<b role="timer" className="block font-reading">
															{wait > 0 ? clock(wait) : "wipe"}
														</b>
													)}
													{dwells && <span className="block">on</span>}
												</Button>
											);
										})}
									</fieldset>
								) : (
									<>
										{stands !== null && (
											<b role="timer" className="font-reading text-3xl">
												{stands > 0 ? clock(stands) : "wipe now"}
											</b>
										)}
										{!done && s.dwell_seconds != null && stands === null && (
											<Button className="min-h-16" onClick={() => begin(s.key)}>
												On: {s.dwell_seconds} s
											</Button>
										)}
										<Button
											className="min-h-16 min-w-24"
											aria-label={`${s.key}: ${done ? "again" : "done"}`}
											onClick={() => {
												end(s.key);
												void (done ? onAgain(s.key) : onDone(s.key));
											}}
										>
											{done ? "Again" : "Done"}
										</Button>
									</>
								)}
							</li>
						);
					})}
				</ol>
			</section>
			<section aria-label="Where it has been" className="flex flex-col gap-3 rounded bg-paper p-4">
				<Choice label="It has been" value={view.been} options={BEEN} onChange={(b) => void onBeen(b)} />
				<Choice
					label="Bare or soft wood, filler, a rough repair where film goes?"
					value={view.repair == null ? "unsaid" : view.repair ? "some" : "none"}
					options={[
						...(view.repair == null ? [{ value: "unsaid", text: "nobody has said" }] : []),
						{ value: "none", text: "none: looked at and felt" },
						{ value: "some", text: "some: it is made good first" },
					]}
					onChange={(v) => v !== "unsaid" && void onRepair(v === "some")}
				/>
				<ul>
					{view.cautions.map((c) => (
						<li key={c} className="py-1">
							{c}
						</li>
					))}
				</ul>
				<p className="mt-1 text-soft">
					The order is common practice, no source; what stands on a label goes before it. Sweep the bay; no
					dust is made next door.
				</p>
			</section>
		</div>
	);
}

/** How long what was put on hardens: ours, until somebody reads its tin. */
function Hardens({
	step,
	onCures,
}: {
	step: Schemas["StepTick"];
	onCures: (hours: number) => Promise<unknown>;
}) {
	const [typed, setTyped] = useState<string | null>(null);
	const hours = Number((typed ?? "").replace(",", "."));
	if (typed === null)
		return (
			<span className="flex flex-wrap items-center gap-2 text-soft">
				Hardens {long(step.cures_hours ?? 0)}, unless its tin says otherwise.
				<Button onClick={() => setTyped(String(step.cures_hours ?? ""))}>By its tin</Button>
			</span>
		);
	return (
		<form
			className="flex flex-wrap items-end gap-2"
			onSubmit={async (e) => {
				e.preventDefault();
				await onCures(Number.isFinite(hours) ? hours : -1);
				setTyped(null);
			}}
		>
			<FloorField label="Hardens, hours" value={typed} onType={setTyped} />
			<Button type="submit" className="min-h-16">
				Keep it
			</Button>
		</form>
	);
}

const long = (hours: number) => (hours >= 48 ? `${Math.round(hours / 24)} days` : `${hours} h`);

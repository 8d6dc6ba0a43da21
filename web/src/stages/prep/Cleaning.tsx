import { useState } from "react";
import type { Schemas } from "../../api/client";
import { clock } from "../../job/clock";
import { useNow } from "../../job/useNow";
import { Button, Choice } from "../../ui/parts";

const BEEN: { value: Schemas["Been"]; text: string }[] = [
	{ value: "on_the_road", text: "on the road or the water: the whole sequence" },
	{ value: "just_washed", text: "just washed, nowhere since" },
	{ value: "new", text: "new, never on the road" },
];

/** In what order this side is cleaned, ticked as it is done, each dwell with its timer. */
export function Cleaning({
	view,
	onDone,
	onAgain,
	onBeen,
}: {
	view: Schemas["PrepView"];
	onDone: (step: string) => Promise<unknown>;
	onAgain: (step: string) => Promise<unknown>;
	onBeen: (been: Schemas["Been"]) => Promise<unknown>;
}) {
	// Since when a cleaner stands on the side, by step.
	const [dwell, setDwell] = useState<{ step: string; since: number } | null>(null);
	const now = useNow(dwell !== null);
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
			<section aria-label="Clean in this order" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">Clean in this order, top down</h3>
				<ol className="flex flex-col divide-y divide-line">
					{view.steps.map((s, n) => {
						const done = s.done != null && s.again == null;
						const left = dwell?.step === s.key ? (s.dwell_seconds ?? 0) - (now - dwell.since) / 1000 : null;
						return (
							<li key={s.key} className="flex flex-wrap items-center gap-3 py-2">
								<span className="min-w-0 grow basis-64">
									<b>
										{done ? "✓" : `${n + 1}.`} {s.says}
									</b>
									{s.why && <span className="block text-soft">{s.why}</span>}
									{s.done && !s.again && <span className="block text-soft">Done {s.done}</span>}
									{s.again && <span className="block text-trouble">! {s.again}</span>}
									{!done && s.caution && <span className="block">{s.caution}</span>}
								</span>
								{left !== null && (
									<b role="timer" className="font-reading text-3xl">
										{left > 0 ? clock(left) : "wipe now"}
									</b>
								)}
								{!done && s.dwell_seconds != null && left === null && (
									<Button className="min-h-16" onClick={() => setDwell({ step: s.key, since: Date.now() })}>
										On: {s.dwell_seconds} s
									</Button>
								)}
								<Button
									className="min-h-16 min-w-24"
									aria-label={`${s.key}: ${done ? "again" : "done"}`}
									onClick={() => {
										if (dwell?.step === s.key) setDwell(null);
										void (done ? onAgain(s.key) : onDone(s.key));
									}}
								>
									{done ? "Again" : "Done"}
								</Button>
							</li>
						);
					})}
				</ol>
			</section>
			<section aria-label="Where it has been" className="rounded bg-paper p-4">
				<Choice label="It has been" value={view.been} options={BEEN} onChange={(b) => void onBeen(b)} />
				<ul className="mt-3">
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

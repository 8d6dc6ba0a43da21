import type { Schemas } from "../../api/client";
import { clock } from "../../job/clock";
import { useNow } from "../../job/useNow";
import { Button } from "../../ui/parts";
import type { Watch } from "./useWatch";

/** How an old graphic comes off: what must not be done first, then the ways in their order, how hot, and the cautions. */
export function HowItComesOff({
	old,
	watch,
	bay,
}: {
	old: Schemas["OldView"];
	watch: Watch;
	bay: Schemas["BayView"];
}) {
	const { plan } = old;
	const now = useNow(watch.since !== null);
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-2">
			<section aria-label="How it comes off" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">{old.graphic.name}</h3>
				<p className="text-soft">
					{old.says}; {old.amount_says}
				</p>
				{plan.never.length > 0 && (
					<ul
						aria-label="Never here"
						className="my-2 rounded border-trouble border-l-4 bg-trouble-soft px-3 py-2 text-trouble"
					>
						{plan.never.map((n) => (
							<li key={n} className="py-0.5">
								<b aria-hidden>✗ </b>
								{n}
							</li>
						))}
					</ul>
				)}
				<ol className="flex flex-col divide-y divide-line">
					{plan.ways.map((w, n) => (
						<li key={w.way} className="py-2">
							<b>
								{n + 1}. {w.says}
							</b>
							<span className="block text-soft">
								{w.why}
								{w.heat && bay.heat_locked ? " Heat is locked now." : ""}
							</span>
						</li>
					))}
				</ol>
				<div className="mt-2 flex flex-wrap items-center justify-between gap-3 border-line border-t pt-3">
					<p>
						{watch.since === null
							? "With a watch running, every part that is done makes the hour surer."
							: "The watch runs; each part that is done takes what passed."}
					</p>
					{watch.since !== null && (
						<b role="timer" className="font-reading text-3xl">
							{clock(Math.max(0, (now - watch.since) / 1000))}
						</b>
					)}
					<Button className="min-h-16 px-6" onClick={watch.since === null ? watch.start : watch.stop}>
						{watch.since === null ? "Start the watch" : "Stop the watch"}
					</Button>
				</div>
			</section>
			<section aria-label="Heat, order, cautions" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">Heat</h3>
				<p>{plan.heat}</p>
				<p className="font-bold">“Feel it” ends at 50 °C (122 °F): above that only a thermometer.</p>
				<h3 className="mt-2 font-bold text-xl">Order</h3>
				<p>{plan.order}</p>
				<h3 className="mt-2 font-bold text-xl">Then</h3>
				<ul>
					{plan.then.map((t) => (
						<li key={t} className="py-0.5">
							{t}
						</li>
					))}
				</ul>
				<h3 className="mt-2 font-bold text-xl">Take care</h3>
				<ul>
					{plan.cautions.map((c) => (
						<li key={c} className="py-0.5">
							{c}
						</li>
					))}
				</ul>
				<p className="mt-2 text-soft">
					Ways and order are common practice; the safety sheets, the film’s and the vehicle’s own sheets and
					local rules decide. The vehicle stands at 65 to 75 °F (18 to 24 °C) before film is pulled.
				</p>
			</section>
		</div>
	);
}

import type { Schemas } from "../../api/client";
import type { Act } from "../../api/outbox";

type View = Schemas["PrepView"];

/** The preparation of a side with what was ticked here and waits to be sent, in its order. Whether film may go on is the shop's to say. */
export function withTicks(view: View, acts: readonly Act[]): { view: View; waits: boolean } {
	let { steps, pieces } = view;
	let waits = false;
	for (const a of acts) {
		if (a.what.kind !== "prep" || a.refused) continue;
		const e = a.what.entry;
		if ((e.what === "cleaned" || e.what === "not_cleaned") && e.side === view.side) {
			waits = true;
			const on = e.what === "cleaned";
			const all = view.zones.map((z) => z.number);
			const ticked = e.zone ? [e.zone.number] : all;
			steps = steps.map((s) => {
				if (s.key !== e.step) return s;
				const others = s.zones.filter((z) => !ticked.includes(z));
				const zones = s.by_zone ? [...others, ...(on ? ticked : [])] : [];
				// A zone that was wiped again is not yet all of them.
				const whole = on && (!e.zone || all.every((z) => zones.includes(z)));
				return { ...s, zones, done: whole ? "here, waits to be sent" : null, again: whole ? null : s.again };
			});
		}
		if (e.what === "promoted" && pieces.some((p) => p.piece === e.piece)) {
			waits = true;
			const tacky = new Date(a.at + view.tacky_minutes * 60_000).toISOString();
			pieces = pieces.map((p) =>
				p.piece === e.piece ? { ...p, runs: p.runs.map((r) => (r.name === e.run ? { ...r, tacky } : r)) } : p,
			);
		}
	}
	return { view: { ...view, steps, pieces }, waits };
}

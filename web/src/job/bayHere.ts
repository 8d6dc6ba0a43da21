import type { Schemas } from "../api/client";
import type { Act } from "../api/outbox";

type Bay = Schemas["BayView"];

/** The hour of a moment on this device's clock: `14:05`. */
const hour = (at: number) =>
	new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

/**
 * A bay with what was put on here and waits to be sent: until it has flashed off heat waits, whether the shop knows of it or not. What the shop said was wet when the
 * signal went dries here too.
 */
export function withWaiting(bay: Bay, acts: readonly Act[], job: string, now: number): Bay {
	const here = acts.flatMap((a) => {
		if (a.what.kind !== "bay" || a.what.job !== job || a.refused || a.what.entry.what !== "wet") return [];
		const { wet, place } = a.what.entry;
		const minutes = bay.dries.find((d) => d.wet === wet)?.minutes ?? 0;
		const name = bay.wets.find((w) => w.value === wet)?.name ?? wet;
		const until = a.at + minutes * 60_000;
		return [{ wet, place, name, until: new Date(until).toISOString(), until_words: hour(until) }];
	});
	const wet = [...bay.wet, ...here];
	const still = wet.filter((w) => w.wet !== "flame" && Date.parse(w.until) > now);
	const [last] = still.sort((a, b) => Date.parse(b.until) - Date.parse(a.until));
	const known = last && bay.wet.includes(last) ? bay.heat_locked : null;
	return {
		...bay,
		wet,
		heat_locked: last
			? (known ??
				`No heat until ${hour(Date.parse(last.until))}: ${last.name} ${last.place.trim() ? `at ${last.place.trim()}` : "in this bay"} has not flashed off.`)
			: null,
	};
}

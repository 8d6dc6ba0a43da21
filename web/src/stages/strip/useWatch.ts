import { useState } from "react";
import { kept } from "../../job/Floor";

/** Longest stretch that counts as work on one part, seconds: above it somebody went away. */
const LONGEST = 4 * 3600;

/**
 * A watch that runs while old film comes off: every part that is done takes what passed since the one before. Kept on this machine, so that
 * it runs on when the page is loaded again.
 */
export function useWatch(old: string | undefined) {
	const key = `strip.watch.${old}`;
	const [, again] = useState(0);
	const since = old ? Number(kept.get(key)) || null : null;
	const set = (at: number | null) => {
		kept.set(key, at === null ? null : String(at));
		again((n) => n + 1);
	};
	return {
		since,
		start: () => set(Date.now()),
		stop: () => set(null),
		/** Seconds since the last part, where it runs; it goes on from now. */
		lap: (): number | null => {
			if (since === null) return null;
			const seconds = Math.round((Date.now() - since) / 1000);
			set(Date.now());
			return seconds >= 1 && seconds <= LONGEST ? seconds : null;
		},
	};
}

export type Watch = ReturnType<typeof useWatch>;

import type { Schemas } from "../api/client";
import { useActs } from "../api/outbox";
import { shopNow } from "../offline/signal";
import { withWaiting } from "./bayHere";
import { useNow } from "./useNow";

/** The bay as it stands on this device, second by second while anything is wet. */
export function useBayHere(job: string, bay: Schemas["BayView"] | undefined) {
	const acts = useActs();
	const runs =
		(bay?.wet.length ?? 0) > 0 || acts.some((a) => a.what.kind === "bay" && a.what.entry.what === "wet");
	useNow(runs);
	return bay && withWaiting(bay, acts, job, shopNow());
}

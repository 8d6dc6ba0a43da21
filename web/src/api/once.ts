import { freshKey, Trouble } from "./client";

/** Keys of one act that adds something: of what is added, and of the edit. */
export type Keys = { id: string; edit: string };

type Known = { keys: Keys; at: number; going: Promise<unknown> | null };

const known = new Map<string, Known>();
/** A second press within this is the first one's tremble, ms. */
const TREMBLE = 1200;

/** Whether nobody knows if the server did it: the same keys are sent again until that is known. */
const isOpen = (error: unknown) =>
	error instanceof Trouble && (error.problem.status === 0 || error.problem.status >= 500);

/**
 * Presses that mean one act make one: a second press while the first is under way, or right after it, gets the first one's answer; a
 * press after an answer that never came sends the same keys again. `what` names the act with everything that is in it.
 */
export function once<T>(what: string, make: (keys: Keys) => Promise<T>): Promise<T> {
	const before = known.get(what);
	if (before?.going && (before.at === 0 || Date.now() - before.at < TREMBLE))
		return before.going as Promise<T>;
	const act: Known = {
		keys: before && !before.going ? before.keys : { id: freshKey(), edit: freshKey() },
		at: 0,
		going: null,
	};
	known.set(what, act);
	const going = (async () => {
		try {
			return await make(act.keys);
		} catch (error) {
			// The network blinked: the same act once more, under the same keys, is done once.
			if (error instanceof Trouble && error.problem.status === 0) return await make(act.keys);
			throw error;
		}
	})();
	act.going = going;
	going.then(
		() => {
			act.at = Date.now();
			setTimeout(() => known.get(what) === act && known.delete(what), TREMBLE);
		},
		(error) => {
			if (isOpen(error)) act.going = null;
			else if (known.get(what) === act) known.delete(what);
		},
	);
	return going;
}

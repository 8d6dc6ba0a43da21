import { useCallback, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { told } from "./client";
import { Trial } from "./trial";

/** What a person is told of something that failed. */
export const inWords = (error: unknown) => (error === null ? null : told(error));

/**
 * Something that is tried while it moves and kept when it rests: a piece, a feature, strips of tape. What is shown follows the newest
 * wish; what is kept is the answer to the very last one, never an older one.
 */
export function useTrial<W, A>(ask: (wish: W) => Promise<A>, apart = 0) {
	const [wrong, setWrong] = useState<string | null>(null);
	const asks = useRef(ask);
	asks.current = ask;
	const trial = useMemo(
		() =>
			new Trial<W, A>(
				(wish) => asks.current(wish),
				(error) => setWrong(inWords(error)),
				apart,
			),
		[apart],
	);
	/** Keeps the answer to the last wish, and ends. */
	const settle = useCallback(
		async (keep: (wish: W, answer: A) => Promise<unknown> | undefined) => {
			const done = await trial.settled();
			try {
				if (done) await keep(done.wish, done.answer);
			} catch (error) {
				setWrong(inWords(error));
			}
			// Whoever took hold again meanwhile goes on.
			if (!done || trial.get()?.wish === done.wish) trial.end();
		},
		[trial],
	);
	return { trial, wrong, settle };
}

/** The trial as it goes on. Only what shows it is drawn anew with it. */
export const useTried = <W, A>(trial: Trial<W, A>) => useSyncExternalStore(trial.subscribe, trial.get);

import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { ofJob, ofPiece, ofSide } from "./kept";

/** All that is looked at of an answer: which rows it names. */
type Parts<Of extends string> = { [key in Of]: { id: string }[] };

/** The page's own questions come first, ms. */
const AFTER = 1500;
/** What was carried is carried anew at most so often, ms. */
const ANEW = 20_000;

const carried = new Map<string, number>();

/** Asks for what the floor needs of a job, one after the other: whatever stands between page and server keeps it. */
async function carry(job: string, gone: AbortSignal) {
	if (!navigator.serviceWorker?.controller) return;
	if (Date.now() - (carried.get(job) ?? 0) < ANEW) return;
	carried.set(job, Date.now());
	const take = async <T>(path: string): Promise<T | undefined> => {
		if (gone.aborted) return undefined;
		try {
			const answer = await fetch(path, { signal: gone });
			return answer.ok ? ((await answer.json()) as T) : undefined;
		} catch {
			return undefined;
		}
	};
	for (const path of ["/api/me", "/api/shop", "/api/jobs?page=0"]) await take(path);
	const page = await take<Parts<"sides">>(`/api/jobs/${job}`);
	for (const path of ofJob(job).slice(1)) await take(path);
	for (const side of page?.sides ?? []) {
		const view = await take<Parts<"pieces">>(`/api/sides/${side.id}`);
		for (const path of ofSide(side.id).slice(1)) await take(path);
		for (const piece of view?.pieces ?? []) for (const path of ofPiece(piece.id)) await take(path);
	}
	// Cut off in the middle, it is taken up the next time.
	if (gone.aborted) carried.delete(job);
}

/** Whether this device goes where there may be no signal: one on the floor, or one that is held in the hand. A desk stays. */
const goesOut = (floor: boolean) => floor || matchMedia("(any-pointer: coarse)").matches;

/** Carries the jobs that are named, and carries them anew when something of the shop was fetched anew. */
export function useCarry(jobs: readonly string[], floor: boolean) {
	const cache = useQueryClient();
	const all = goesOut(floor) ? jobs.join(" ") : "";
	useEffect(() => {
		const gone = new AbortController();
		let timer: ReturnType<typeof setTimeout> | undefined;
		const go = async () => {
			for (const job of all.split(" ").filter(Boolean)) await carry(job, gone.signal);
		};
		let due = Number.POSITIVE_INFINITY;
		const soon = (ms: number) => {
			// What is due earlier stays so.
			if (Date.now() + ms >= due) return;
			due = Date.now() + ms;
			clearTimeout(timer);
			timer = setTimeout(() => {
				due = Number.POSITIVE_INFINITY;
				void go();
			}, ms);
		};
		soon(AFTER);
		const stop = cache.getQueryCache().subscribe((event) => {
			if (event.type === "updated" && event.action.type === "invalidate") soon(ANEW);
		});
		// Controlled from now on, at the very first visit.
		const taken = () => soon(AFTER);
		navigator.serviceWorker?.addEventListener("controllerchange", taken);
		return () => {
			gone.abort();
			clearTimeout(timer);
			stop();
			navigator.serviceWorker?.removeEventListener("controllerchange", taken);
		};
	}, [all, cache]);
}

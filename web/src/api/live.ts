import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { ask, client, isOurs } from "./client";

/** What the server tells of a change. */
export type Told = {
	what: "job" | "shop" | "shelf" | "templates" | "here" | "missed";
	job?: string | null;
	id?: string | null;
};

/** What a thermometer showed just now, and since when it had sent nothing of it. */
export type Shown = {
	what: "heat";
	device: string;
	at: string;
	from: string;
	celsius: number;
	believed: boolean;
};

/** Told of each reading of a thermometer as it comes. */
export const thermometers = new Set<(shown: Shown) => void>();

/** Changes in a row are looked at together, ms. */
const TOGETHER = 120;
/** An ear that was shut is opened again after so long, ms. */
const AGAIN = 2000;

/** What a page shows was fetched within so long of its beginning, ms. */
const FETCHED = 3000;

/** What does not change by anything that is told here. */
const STAYS: ReadonlySet<unknown> = new Set([
	"me",
	"door",
	"set-words",
	"length",
	"sessions",
	"audit",
	"access",
]);
/** What follows from what is on the shelf. */
const OF_THE_SHELF: ReadonlySet<unknown> = new Set(["shelf", "supplies", "tapes", "film", "shop"]);
/** What shows every job. */
const ONE_JOB: ReadonlySet<unknown> = new Set(["jobs"]);

/**
 * Whether something that is shown may be another now. `open` is the job of the page at hand.
 */
export function concerns(key: readonly unknown[], told: Told, open: string | null): boolean {
	if (STAYS.has(key[0])) return false;
	if (key[0] === "here") return told.what === "missed" || (told.what === "here" && told.job === key[1]);
	if (told.what === "here") return false;
	if (told.what === "missed" || told.what === "shop") return true;
	if (told.what === "shelf") return OF_THE_SHELF.has(key[0]);
	if (told.what === "templates") return key[0] === "templates";
	// A job that is not open here stands in the yard alone.
	return ONE_JOB.has(key[0]) || told.job === open;
}

const jobAtHand = () => /\/jobs\/([0-9a-f-]+)/.exec(location.pathname)?.[1] ?? null;

/**
 * One page of a browser listens for all of them: a browser opens few connections to one server. What somebody has in hand, a piece that
 * is dragged, is not fetched from under them: it waits until they let go.
 */
export function useLive() {
	const cache = useQueryClient();
	useEffect(() => {
		const pages = "BroadcastChannel" in globalThis ? new BroadcastChannel("windrift-live") : null;
		const gone = new AbortController();
		let source: EventSource | null = null;
		let timer: ReturnType<typeof setTimeout> | undefined;
		let held = false;
		let before = false;
		const began = Date.now();
		let heard: Told[] = [];
		const look = () => {
			timer = undefined;
			if (held) return;
			const now = heard;
			heard = [];
			const open = jobAtHand();
			void cache.invalidateQueries({
				predicate: (q) => now.some((told) => concerns(q.queryKey, told, open)),
			});
		};
		const hear = (told: Told | Shown) => {
			if (told.what === "heat") {
				for (const look of thermometers) look(told);
				return;
			}
			// What this page did it has fetched already.
			if (told.id && isOurs(told.id)) return;
			heard.push(told);
			timer ??= setTimeout(look, TOGETHER);
		};
		const listen = () => {
			source = new EventSource("/api/live");
			source.onopen = () => {
				// Between two connections something may have been missed; on the first one what is shown was fetched a moment ago.
				const missed: Told = { what: "missed" };
				if (before || Date.now() - began > FETCHED) {
					pages?.postMessage(missed);
					hear(missed);
				}
				before = true;
			};
			source.onmessage = ({ data }) => {
				const told = JSON.parse(data) as Told | Shown;
				pages?.postMessage(told);
				hear(told);
			};
			source.onerror = () => {
				// Refused, as after signing out, a browser does not ask again by itself.
				if (source?.readyState === EventSource.CLOSED && !gone.signal.aborted) setTimeout(listen, AGAIN);
			};
		};
		pages?.addEventListener("message", ({ data }) => hear(data as Told | Shown));
		if (navigator.locks) {
			navigator.locks
				.request("windrift-live", { signal: gone.signal }, () => {
					listen();
					// Held until the page is left: then another one listens.
					return new Promise<void>((done) => gone.signal.addEventListener("abort", () => done()));
				})
				.catch(() => {});
		} else listen();
		const down = () => {
			held = true;
		};
		const up = () => {
			held = false;
			if (heard.length > 0) timer ??= setTimeout(look, TOGETHER);
		};
		addEventListener("pointerdown", down, true);
		for (const end of ["pointerup", "pointercancel"]) addEventListener(end, up, true);
		return () => {
			gone.abort();
			source?.close();
			pages?.close();
			clearTimeout(timer);
			removeEventListener("pointerdown", down, true);
			for (const end of ["pointerup", "pointercancel"]) removeEventListener(end, up, true);
		};
	}, [cache]);
}

/** Who else is at this job; says meanwhile where one is oneself. */
export function useHere(job: string, side: string | undefined, stage: string) {
	const here = useQuery({
		queryKey: ["here", job, side, stage],
		enabled: side !== undefined,
		refetchInterval: 15_000,
		staleTime: 0,
		queryFn: () =>
			ask(
				client.PUT("/api/jobs/{id}/here", {
					params: { path: { id: job } },
					body: { side: side ?? "", stage },
				}),
			),
	});
	useEffect(
		() => () => {
			client.POST("/api/left").catch(() => {});
		},
		[],
	);
	return here.data ?? [];
}

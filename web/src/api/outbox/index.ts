import { useCallback, useEffect, useRef, useSyncExternalStore } from "react";
import { shopNow } from "../../offline/signal";
import { ask, client, freshKey, type Schemas, sendFile, Trouble } from "../client";
import type { Act, What } from "./act";
import { BrowserBox } from "./box";
import { Outbox, type Outcome, Refused } from "./outbox";
import { SafeBox } from "./safe";

export type { Act, What } from "./act";
export type { Outcome } from "./outbox";

/** An entry of the walk round; lengths as they were typed. */
export type WalkEntry = Schemas["WalkEntry"];

/** Sends an act in the name of whoever recorded it, with the hour at which they did. */
function deliver({ id, at, who, what }: Act): Promise<unknown> {
	const headers = { "Crew-Id": who, "Read-At": new Date(at).toISOString() };
	if (what.kind === "photo") {
		const more = `${what.large ? "&large=true" : ""}${what.print ? "&print=true" : ""}`;
		return sendFile(`/api/jobs/${what.job}/photos?photo=${what.photo}${more}`, what.file, headers);
	}
	if (what.kind === "walk") {
		const params = { path: { id: what.job } };
		return ask(
			client.POST("/api/jobs/{id}/walk-round", { params, body: { id, entry: what.entry }, headers }),
		);
	}
	if (what.kind === "strip") {
		const params = { path: { id: what.job } };
		return ask(client.POST("/api/jobs/{id}/strip", { params, body: { id, entry: what.entry }, headers }));
	}
	if (what.kind === "prep") {
		const params = { path: { id: what.job } };
		return ask(client.POST("/api/jobs/{id}/prep", { params, body: { id, entry: what.entry }, headers }));
	}
	if (what.kind === "bay") {
		const params = { path: { id: what.job } };
		return ask(client.POST("/api/jobs/{id}/bay", { params, body: { id, entry: what.entry }, headers }));
	}
	if (what.kind === "audit") {
		const params = { path: { id: what.side } };
		const body = { id, read_back: what.read_back };
		return ask(client.POST("/api/sides/{id}/marking/record", { params, body, headers }));
	}
	const params = { path: { id: what.piece } };
	switch (what.kind) {
		case "heat":
			return ask(client.POST("/api/pieces/{id}/heat", { params, body: { id, entry: what.entry }, headers }));
		case "reading": {
			const body = { id, front_mm: what.front, rear_mm: what.rear, asked_mm: what.asked };
			return ask(client.POST("/api/pieces/{id}/readings", { params, body, headers }));
		}
		case "lock":
			return ask(client.POST("/api/pieces/{id}/lock", { params, body: { id }, headers }));
		case "upright": {
			const body = { id, top_mm: what.top, foot_mm: what.foot, settled: what.settled ?? null };
			return ask(client.POST("/api/pieces/{id}/upright", { params, body, headers }));
		}
		case "floor":
			return ask(client.POST("/api/pieces/{id}/floor", { params, body: { id, note: what.note }, headers }));
	}
}

let acts: Act[] = [];
const listeners = new Set<() => void>();
const arrivals = new Set<() => void>();
const pages = "BroadcastChannel" in globalThis ? new BroadcastChannel("windrift-outbox") : null;

const arrived = () => {
	for (const tell of arrivals) tell();
};

const changed = (now: Act[]) => {
	const differs = JSON.stringify(now) !== JSON.stringify(acts);
	acts = now;
	if (!differs) return;
	for (const tell of listeners) tell();
	pages?.postMessage("changed");
};

let keptHere = true;
const box = new SafeBox(new BrowserBox("windrift"), (pageAlone) => {
	keptHere = !pageAlone;
	for (const tell of listeners) tell();
});
const outbox = new Outbox(box, deliver, {
	freshKey,
	now: shopNow,
	// Two pages of one browser never send at the same time: what the one has sent the other finds gone.
	alone: async (work) => {
		if (navigator.locks) await navigator.locks.request("windrift-outbox", work);
		else await work();
	},
	changed,
	sent: () => {
		arrived();
		// Another page may have loaded its figures a moment before: it cannot see by what waits that something was taken.
		pages?.postMessage("sent");
	},
});

pages?.addEventListener("message", async ({ data }) => {
	if (data === "sent") {
		arrived();
		return;
	}
	acts = await box.all();
	for (const tell of listeners) tell();
});

/** Sends what waits; every page does so, again and again. */
export const drain = () => outbox.drain();
export const sendAgain = (id: string) => outbox.sendAgain(id);
export const leaveOut = (id: string) => outbox.leaveOut(id);

/** Calls `tell` whenever the server has taken something. */
export function onSent(tell: () => void) {
	arrivals.add(tell);
	return () => {
		arrivals.delete(tell);
	};
}

/** Acts that wait to be sent, and refused ones that wait for an answer. */
export const useActs = () =>
	useSyncExternalStore(
		(tell) => {
			listeners.add(tell);
			return () => listeners.delete(tell);
		},
		() => acts,
	);

/** Whether the browser keeps what waits; otherwise it is lost with the page. */
export const useKeptHere = () =>
	useSyncExternalStore(
		(tell) => {
			listeners.add(tell);
			return () => listeners.delete(tell);
		},
		() => keptHere,
	);

/** Said where something was recorded without a signal. */
export const KEPT_HERE = "Kept here; it goes out by itself when there is a signal.";

/** Who is chosen at the top. Kept where every page of this browser finds it. */
const whoNow = () => localStorage.getItem("windrift.crew");

const NOBODY = new Trouble({
	status: 401,
	code: "who",
	detail: "Choose who you are at the top, then do it again. Nothing was recorded yet.",
});

/**
 * Records acts from a form. A refusal is thrown to the form, which shows it and still has what was typed: then it has been seen. A form
 * that is no longer on the screen sees nothing, and the refusal waits in the strip at the top.
 */
export function useRecord() {
	const here = useRef(true);
	useEffect(() => {
		here.current = true;
		return () => {
			here.current = false;
		};
	}, []);
	return useCallback(async <T = unknown>(what: What): Promise<Outcome<T>> => {
		const who = whoNow();
		if (!who) throw NOBODY;
		try {
			return (await outbox.record(what, who)) as Outcome<T>;
		} catch (error) {
			if (error instanceof Refused && here.current) await outbox.leaveOut(error.act);
			throw error;
		}
	}, []);
}

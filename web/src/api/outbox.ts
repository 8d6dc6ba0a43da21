import { type DBSchema, openDB } from "idb";
import { useSyncExternalStore } from "react";
import { ask, client, type Problem, type Schemas, Trouble } from "./client";

/** Something the floor recorded: kept in the browser until the server has it, under an id made here. */
type Waiting =
	| {
			id: string;
			at: number;
			kind: "reading";
			piece: string;
			body: { id: string; front_mm: string; rear_mm: string };
	  }
	| { id: string; at: number; kind: "lock"; piece: string; body: { id: string } }
	| { id: string; at: number; kind: "floor"; piece: string; body: Schemas["NewFloorEntry"] }
	| { id: string; at: number; kind: "walk"; job: string; body: { id: string; entry: WalkEntry } };

/** An entry of the walk round; lengths as they were typed. */
export type WalkEntry = Schemas["WalkEntry"];

interface Box extends DBSchema {
	waiting: { key: string; value: Waiting; indexes: { at: number } };
}

const box = openDB<Box>("windrift", 1, {
	upgrade(db) {
		db.createObjectStore("waiting", { keyPath: "id" }).createIndex("at", "at");
	},
});

let count = 0;
const listeners = new Set<() => void>();
const setCount = (n: number) => {
	count = n;
	for (const tell of listeners) tell();
};

/** How many records wait to be sent. */
export const useWaiting = () =>
	useSyncExternalStore(
		(tell) => {
			listeners.add(tell);
			return () => listeners.delete(tell);
		},
		() => count,
	);

const isAway = (error: unknown) =>
	error instanceof Trouble && (error.problem.status === 0 || error.problem.status === 503);

function deliver(item: Waiting): Promise<unknown> {
	if (item.kind === "walk") {
		return ask(
			client.POST("/api/jobs/{id}/walk-round", { params: { path: { id: item.job } }, body: item.body }),
		);
	}
	const params = { path: { id: item.piece } };
	if (item.kind === "floor") return ask(client.POST("/api/pieces/{id}/floor", { params, body: item.body }));
	return item.kind === "reading"
		? ask(client.POST("/api/pieces/{id}/readings", { params, body: item.body }))
		: ask(client.POST("/api/pieces/{id}/lock", { params, body: item.body }));
}

async function send(item: Waiting): Promise<unknown> {
	const db = await box;
	await db.put("waiting", item);
	setCount(await db.count("waiting"));
	try {
		const answer = await deliver(item);
		await db.delete("waiting", item.id);
		return answer;
	} catch (error) {
		// Refused for good: it is told now and not sent again. Away: it stays and goes out later.
		if (!isAway(error)) await db.delete("waiting", item.id);
		throw error;
	} finally {
		setCount(await db.count("waiting"));
	}
}

/** Records readings of both flats; resolves with what to do. */
export const recordReading = (piece: string, id: string, front: string, rear: string) =>
	send({
		id,
		at: Date.now(),
		kind: "reading",
		piece,
		body: { id, front_mm: front, rear_mm: rear },
	}) as Promise<Schemas["RoundView"]>;

/** Records that the hinge was locked. */
export const recordLock = (piece: string, id: string) =>
	send({ id, at: Date.now(), kind: "lock", piece, body: { id } });

/** Records something of the floor about a piece: that it lies, a wait, a check, a trouble. */
export const recordFloor = (piece: string, id: string, note: Schemas["FloorNote"]) =>
	send({ id, at: Date.now(), kind: "floor", piece, body: { id, note } });

/** Records something of the walk round; resolves with how it stands then. */
export const recordWalk = (job: string, id: string, entry: WalkEntry) =>
	send({ id, at: Date.now(), kind: "walk", job, body: { id, entry } }) as Promise<Schemas["WalkRoundView"]>;

/** Sends what waits, oldest first. Stops at the first that cannot go out yet. */
export async function sendWaiting(onSent: () => void, onRefused: (problem: Problem) => void) {
	const db = await box;
	for (const item of await db.getAllFromIndex("waiting", "at")) {
		// What was written within the last moments is still on its own way.
		if (Date.now() - item.at < 4000) continue;
		try {
			await deliver(item);
		} catch (error) {
			if (isAway(error)) break;
			if (error instanceof Trouble) onRefused(error.problem);
		}
		await db.delete("waiting", item.id);
		onSent();
	}
	setCount(await db.count("waiting"));
}

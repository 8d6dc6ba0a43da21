import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Act, Box } from "./act";

interface Kept extends DBSchema {
	acts: { key: number; value: Act; indexes: { id: string } };
}

/** Where acts stand for the moment until the browser's database has them: it is written at once, a database some time later. */
const JOTTED = "windrift.jotted";

type Jot = Omit<Act, "n">;

const jotted = (): Jot[] => {
	try {
		return JSON.parse(localStorage.getItem(JOTTED) ?? "[]");
	} catch {
		return [];
	}
};

const keepJotted = (acts: Jot[]) => {
	if (acts.length) localStorage.setItem(JOTTED, JSON.stringify(acts));
	else localStorage.removeItem(JOTTED);
};

const strike = (id: string) => keepJotted(jotted().filter((a) => a.id !== id));

/** It is there already: another page of this browser has taken it in. */
const isThere = (error: unknown) => error instanceof DOMException && error.name === "ConstraintError";

/** Kept in the browser (IndexedDB): what was recorded survives a reload, a closed page and a flat battery. */
export class BrowserBox implements Box {
	private readonly db: Promise<IDBPDatabase<Kept>>;

	constructor(name: string) {
		this.db = openDB<Kept>(name, 2, {
			async upgrade(db, before, _, transaction) {
				const acts = db.createObjectStore("acts", { keyPath: "n", autoIncrement: true });
				acts.createIndex("id", "id", { unique: true });
				// An earlier release kept neither who nor in which order: a person decides about what it left.
				if (before === 1) {
					const old = transaction.objectStore("waiting" as never) as unknown as {
						getAll(): Promise<Record<string, unknown>[]>;
					};
					for (const item of await old.getAll()) await acts.add(ofFirstRelease(item) as Act);
					(db as unknown as IDBDatabase).deleteObjectStore("waiting");
				}
			},
		}).then(async (db) => {
			// What an earlier page was about to keep when it went. Where there is no room for it, it stays jotted: what is kept is seen all the same.
			for (const act of jotted()) await keep(db, act).catch(() => {});
			return db;
		});
	}

	jot(act: Jot) {
		// A photo is no text; it is kept as soon as the database has it.
		if (act.what.kind !== "photo") keepJotted([...jotted(), act]);
	}

	async add(act: Jot) {
		await keep(await this.db, act);
	}

	async all() {
		return (await this.db).getAll("acts");
	}

	async put(act: Act) {
		await (await this.db).put("acts", act);
	}

	async remove(id: string) {
		strike(id);
		const transaction = (await this.db).transaction("acts", "readwrite");
		const n = await transaction.store.index("id").getKey(id);
		if (n !== undefined) await transaction.store.delete(n);
		await transaction.done;
	}
}

async function keep(db: IDBPDatabase<Kept>, act: Jot) {
	try {
		await db.add("acts", act as Act);
	} catch (error) {
		if (!isThere(error)) throw error;
	}
	strike(act.id);
}

/** An act as the first release kept it, to be looked at by a person before it is sent. */
function ofFirstRelease(item: Record<string, unknown>): Omit<Act, "n"> {
	const body = item.body as Record<string, unknown>;
	const piece = item.piece as string;
	const what = {
		reading: { kind: "reading", piece, front: body.front_mm, rear: body.rear_mm },
		lock: { kind: "lock", piece },
		floor: { kind: "floor", piece, note: body.note },
		walk: { kind: "walk", job: item.job, entry: body.entry },
	}[item.kind as string] as Act["what"];
	return {
		id: item.id as string,
		at: item.at as number,
		who: localStorage.getItem("windrift.crew") ?? "",
		what,
		refused: {
			status: 401,
			code: "who",
			detail: "An earlier Windrift kept this without saying who recorded it. Send it if it was you.",
		},
	};
}

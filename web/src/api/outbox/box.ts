import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Act, Box } from "./act";

interface Kept extends DBSchema {
	acts: { key: number; value: Act; indexes: { id: string } };
}

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
		});
	}

	async add(act: Omit<Act, "n">) {
		await (await this.db).add("acts", act as Act);
	}

	async all() {
		return (await this.db).getAll("acts");
	}

	async put(act: Act) {
		await (await this.db).put("acts", act);
	}

	async remove(id: string) {
		const transaction = (await this.db).transaction("acts", "readwrite");
		const n = await transaction.store.index("id").getKey(id);
		if (n !== undefined) await transaction.store.delete(n);
		await transaction.done;
	}
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

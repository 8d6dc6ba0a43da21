import type { Problem, Schemas } from "../client";

/** What a person recorded on the floor or at the walk round. Lengths as they were typed. */
export type What =
	| { kind: "reading"; piece: string; front: string; rear: string; asked: [number, number]; ends?: string[] }
	| { kind: "lock"; piece: string }
	| { kind: "floor"; piece: string; note: Schemas["FloorNote"] }
	| { kind: "upright"; piece: string; top: string; foot: string; settled?: Schemas["TrueTo"] }
	| { kind: "walk"; job: string; entry: Schemas["WalkEntry"] }
	| { kind: "photo"; job: string; photo: string; file: Blob; large?: boolean; print?: boolean }
	| { kind: "audit"; side: string; read_back: boolean }
	| { kind: "strip"; job: string; entry: Schemas["StripEntry"] }
	| { kind: "prep"; job: string; entry: Schemas["PrepEntry"] }
	| { kind: "bay"; job: string; entry: Schemas["BayEntry"] }
	| { kind: "heat"; piece: string; entry: Schemas["HeatEntry"] };

/** One act of recording: what, by whom and when, under an id of its own. */
export type Act = {
	/** Place in the order of acts. */
	n: number;
	id: string;
	/** When it was read or seen, ms since 1970. */
	at: number;
	/** Key of whoever recorded it. */
	who: string;
	what: What;
	/** Why the server does not take it: it waits for a person's answer. */
	refused?: Problem;
	/** It came through, but whoever recorded it is not signed in on this device: it waits for them. */
	held?: boolean;
};

/** Where acts are kept until they are sent. */
export interface Box {
	/** Notes an act before anything is waited for: what was pressed a moment before the page goes away is found by the next one. */
	jot(act: Omit<Act, "n">): void;
	/** Keeps an act; what was jotted of it is struck out. */
	add(act: Omit<Act, "n">): Promise<void>;
	/** All acts in their order. */
	all(): Promise<Act[]>;
	put(act: Act): Promise<void>;
	remove(id: string): Promise<void>;
}

/** Answers that say for good that an act is not taken. Everything else means that it has not come through yet. */
export const REFUSALS: ReadonlySet<number> = new Set([400, 403, 404, 409, 413, 415, 422, 428]);

/** Whoever recorded it must first show on this device that it was them. */
export const HELD = 401;

/** Refusals of something that was recorded all the same: there is nothing to send again. */
export const RECORDED: ReadonlySet<string> = new Set(["readings_contradict"]);

import createClient from "openapi-fetch";
import { heard } from "../offline/signal";
import type { components, paths } from "./generated/schema";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];

/** What went wrong, with the sentence that the server says about it. */
export class Trouble extends Error {
	constructor(readonly problem: Problem) {
		super(problem.detail);
	}
}

/** What went wrong, as a person is told it: the server's own sentence, never an error's name or a parser's words. */
export const told = (error: unknown): string => {
	if (error instanceof SyntaxError) return "This file cannot be read. Choose one that Windrift wrote.";
	return error instanceof Error ? error.message : String(error);
};

const AWAY: Problem = {
	status: 0,
	code: "server_away",
	detail:
		"Windrift cannot be reached just now. What you typed is still here: do it once more when there is a signal.",
};

/** What may still be on its way from a page that is left, bytes: browsers refuse more than 64 KiB of it altogether (Fetch standard, in-flight keep-alive bytes). */
const MOST_KEPT_ALIVE = 60_000;
let keptAlive = 0;

/** How long the body is that was written last, bytes, until its request is made in the same turn. */
let written = 0;
/** How long the body of a request is, bytes. */
const bodies = new WeakMap<Request, number>();

/** Sends a call so that a change still arrives when its page is loaded again, left or shut right after the press: nothing is waited for before. */
function send(request: Request): Promise<Response> {
	if (request.method === "GET") return fetch(request);
	const bytes = bodies.get(request) ?? 0;
	if (keptAlive + bytes > MOST_KEPT_ALIVE) return fetch(request);
	keptAlive += bytes;
	return fetch(request, { keepalive: true }).finally(() => {
		keptAlive -= bytes;
	});
}

export const client = createClient<paths>({
	baseUrl: "",
	fetch: send,
	bodySerializer: (body) => {
		const text = JSON.stringify(body);
		written = new TextEncoder().encode(text).length;
		return text;
	},
});

/** Told when the server says that nobody is signed in on this device. */
export const signedOut = new Set<() => void>();

/** The answer of a call, or a Trouble with the server's own sentence. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
	const { data, error, response } = await call.catch(() => {
		throw new Trouble(AWAY);
	});
	if (response.ok && data !== undefined) return data;
	if (error && typeof error === "object" && "detail" in error) {
		const problem = error as Problem;
		// The question who is signed in is not asked again for its own answer.
		if (problem.code === "signed_out" && !response.url.endsWith("/api/me"))
			for (const tell of signedOut) tell();
		throw new Trouble(problem);
	}
	throw new Trouble({ ...AWAY, status: response.status });
}

let crewId: string | null = null;

/** Whoever was chosen at the top: goes with every change. */
export function setCrew(id: string | null) {
	crewId = id;
}

/** When what is on its way was asked for, ms, by the call's own key. */
const asked = new Map<string, number>();

client.use({
	onResponse({ response, id }) {
		const now = Date.now();
		heard(response, asked.get(id) ?? now);
		asked.delete(id);
	},
	onError({ id }) {
		asked.delete(id);
	},
	onRequest({ request, id }) {
		bodies.set(request, written);
		written = 0;
		asked.set(id, Date.now());
		// What was recorded by somebody else is sent in their name.
		if (crewId && !request.headers.has("Crew-Id")) request.headers.set("Crew-Id", crewId);
	},
});

/** Sends a file as it is; the server decides by its content what it is. */
export async function sendFile<T>(path: string, file: Blob, more: Record<string, string> = {}): Promise<T> {
	const headers: Record<string, string> = { "Content-Type": "application/octet-stream" };
	if (crewId) headers["Crew-Id"] = crewId;
	const call = fetch(path, { method: "POST", headers: { ...headers, ...more }, body: file }).then(
		async (response) => {
			const body = await response.json();
			return response.ok ? { data: body as T, response } : { error: body as unknown, response };
		},
	);
	return ask<T>(call);
}

/** Keys that this page made last: what comes back under one of them was done here. */
const ours = new Set<string>();
const MOST_OURS = 2000;

export const isOurs = (key: string) => ours.has(key);

/** A fresh key in the order of time (UUID version 7, RFC 9562). */
export function freshKey(): string {
	const bytes = crypto.getRandomValues(new Uint8Array(16));
	let time = Date.now();
	for (let n = 5; n >= 0; n--) {
		bytes[n] = time % 256;
		time = Math.floor(time / 256);
	}
	bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x70;
	bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
	const hex = Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
	const key = `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
	ours.add(key);
	const [oldest] = ours.size > MOST_OURS ? ours : [];
	if (oldest) ours.delete(oldest);
	return key;
}

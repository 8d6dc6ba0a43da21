import { expect, test } from "vitest";
import type { Schemas } from "../api/client";
import type { Act } from "../api/outbox";
import { withWaiting } from "./bayHere";

const NOW = Date.parse("2026-03-02T08:00:00Z");
const BAY = {
	name: "Bay",
	others: [],
	wet: [],
	heat_locked: null,
	wets: [
		{ value: "alcohol", name: "alcohol" },
		{ value: "flame", name: "torch work" },
	],
	dries: [
		{ wet: "alcohol", minutes: 5 },
		{ wet: "flame", minutes: 60 },
	],
	sensors: [],
	air: null,
} as unknown as Schemas["BayView"];

const wet = (what: Schemas["Wet"], minutesAgo: number, job = "j", refused = false): Act => ({
	n: 1,
	id: "a",
	at: NOW - minutesAgo * 60_000,
	who: "w",
	what: { kind: "bay", job, entry: { what: "wet", wet: what, place: "curb side", bay: "" } },
	...(refused ? { refused: { status: 422, code: "x", detail: "no" } } : {}),
});

test("what was wiped here and waits to be sent locks heat here until it has flashed off", () => {
	expect(withWaiting(BAY, [wet("alcohol", 4)], "j", NOW).heat_locked).toMatch(
		/^No heat until \d\d:\d\d: alcohol at curb side has not flashed off\.$/,
	);
	expect(withWaiting(BAY, [wet("alcohol", 4)], "j", NOW).wet).toHaveLength(1);
	for (const acts of [
		[wet("alcohol", 5)],
		[wet("alcohol", 1, "another")],
		[wet("alcohol", 1, "j", true)],
		// A flame's watch is a duty of its own.
		[wet("flame", 1)],
	])
		expect(withWaiting(BAY, acts, "j", NOW).heat_locked).toBeNull();
});

test("what the shop said was wet dries here too, and its own sentence stands as long as it holds", () => {
	const said = (until: string) => ({
		...BAY,
		wet: [{ wet: "alcohol", name: "alcohol", place: "bow", until } as Schemas["WetView"]],
		heat_locked: "No heat until 08:03: alcohol at bow has not flashed off.",
	});
	expect(withWaiting(said("2026-03-02T08:03:00Z"), [], "j", NOW).heat_locked).toContain("at bow");
	expect(withWaiting(said("2026-03-02T07:59:00Z"), [], "j", NOW).heat_locked).toBeNull();
	// What was put on here later counts longer.
	expect(withWaiting(said("2026-03-02T08:03:00Z"), [wet("alcohol", 1)], "j", NOW).heat_locked).toContain(
		"curb side",
	);
});

import { expect, test } from "vitest";
import { isKept, ofJob, ofPiece, ofSide } from "./kept";
import { clockOffBy } from "./signal";

const kept = (path: string) => isKept(new URL(path, "http://shop.example"));

test("what the floor needs is kept, what concerns who may come in never is", () => {
	for (const path of [
		...ofJob("j"),
		...ofSide("s"),
		...ofPiece("p"),
		"/api/me",
		"/api/shop",
		"/api/photos/x",
	])
		expect([path, kept(path)]).toEqual([path, true]);
	for (const path of [
		"/api/live",
		"/api/audit?before=3",
		"/api/sessions",
		"/api/crew/access",
		"/api/door",
		"/api/plans/p/packet.pdf?paper=a4",
		"/api/jobs/j/bundle.zip",
		"/assets/index.js",
	])
		expect([path, kept(path)]).toEqual([path, false]);
});

test("a device whose clock is off by more than five seconds is told by how much", () => {
	const now = Date.parse("2026-03-02T08:00:00Z");
	for (const [date, off] of [
		["Mon, 02 Mar 2026 08:00:04 GMT", 0],
		["Mon, 02 Mar 2026 07:59:20 GMT", -40_000],
		["Mon, 02 Mar 2026 09:00:00 GMT", 3_600_000],
		["Sun, 01 Mar 2026 08:00:00 GMT", -86_400_000],
		["no date", 0],
		[null, 0],
	] as const)
		expect([date, clockOffBy(date, now)]).toEqual([date, off]);
});

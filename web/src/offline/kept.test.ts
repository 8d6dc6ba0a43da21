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
		["Mon, 02 Mar 2026 07:59:20 GMT", -39_500],
		["Mon, 02 Mar 2026 09:00:00 GMT", 3_600_500],
		["Sun, 01 Mar 2026 08:00:00 GMT", -86_399_500],
		["no date", 0],
		[null, 0],
	] as const)
		expect([date, clockOffBy(date, now, now)]).toEqual([date, off]);
});

test("an answer that was long on its way says nothing against the clock, and a known difference stays", () => {
	const now = Date.parse("2026-03-02T08:00:00Z");
	// Written at once, heard nine seconds later by a page that was busy: the clocks agree all the same.
	expect(clockOffBy("Mon, 02 Mar 2026 08:00:00 GMT", now, now + 9000)).toBe(0);
	// Asked for at once, written nine seconds later by a shop that was busy.
	expect(clockOffBy("Mon, 02 Mar 2026 08:00:09 GMT", now, now + 9000)).toBe(0);
	// A clock that is 20 s ahead keeps its difference through answers quick and slow, and loses it once it is set right.
	const off = clockOffBy("Mon, 02 Mar 2026 07:59:40 GMT", now, now + 50);
	expect(off).toBe(-19_525);
	expect(clockOffBy("Mon, 02 Mar 2026 07:59:41 GMT", now + 1000, now + 1900, off)).toBe(off);
	expect(clockOffBy("Mon, 02 Mar 2026 07:59:42 GMT", now + 1000, now + 6000, off)).toBe(off);
	expect(clockOffBy("Mon, 02 Mar 2026 08:00:02 GMT", now + 2000, now + 2100, off)).toBe(0);
});

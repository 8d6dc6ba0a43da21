import { expect, test } from "vitest";
import { isKept, ofJob, ofPiece, ofSide } from "./kept";

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

import { expect, test } from "vitest";
import { concerns } from "./live";

test("a change reaches what it concerns and nothing else", () => {
	const job = { what: "job", job: "a", id: "x" } as const;
	// [what is shown, the job that is open, whether it is fetched anew]
	for (const [key, open, wanted] of [
		[["side", "s"], "a", true],
		[["side", "s"], "b", false],
		[["jobs", 0, ""], "b", true],
		[["jobs", 0, ""], null, true],
		[["me"], "a", false],
		[["here", "a"], "a", false],
	] as const)
		expect([key, open, concerns(key, job, open)]).toEqual([key, open, wanted]);
	expect(concerns(["shop"], job, "b")).toBe(false);
	expect(concerns(["shop"], { what: "shop" }, "b")).toBe(true);
	// A roll that is cut elsewhere makes nobody's side be worked out anew.
	expect(concerns(["side", "s"], { what: "shelf" }, "a")).toBe(false);
	expect(concerns(["shelf"], { what: "shelf" }, "a")).toBe(true);
	// The colours that film comes in.
	expect(concerns(["shop"], { what: "shelf" }, "a")).toBe(true);
	expect(concerns(["templates"], { what: "templates" }, "a")).toBe(true);
	expect(concerns(["here", "a", "s"], { what: "here", job: "a" }, "a")).toBe(true);
	expect(concerns(["here", "b", "s"], { what: "here", job: "a" }, "a")).toBe(false);
	expect(concerns(["side", "s"], { what: "here", job: "a" }, "a")).toBe(false);
	// Something may have been missed: all that is shown of the shop is fetched anew.
	expect(concerns(["side", "s"], { what: "missed" }, "b")).toBe(true);
	expect(concerns(["me"], { what: "missed" }, "b")).toBe(false);
});

import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import type { Act } from "../../api/outbox";
import { withTicks } from "./here";

const VIEW = {
	side: "s",
	tacky_minutes: 10,
	steps: [
		{ key: "wash", done: null, again: null, by_zone: true, zones: [] },
		{ key: "alcohol", done: "08:00", again: "wipe again", by_zone: true, zones: [1, 2] },
	],
	zones: [{ number: 1 }, { number: 2 }],
	pieces: [{ piece: "p", runs: [{ name: "front edge", tacky: null }] }],
} as unknown as Schemas["PrepView"];

const AT = Date.parse("2026-03-02T08:00:00Z");
const act = (entry: Schemas["PrepEntry"]): Act => ({
	n: 1,
	id: "a",
	at: AT,
	who: "w",
	what: { kind: "prep", job: "j", entry },
});

test("what was ticked here stands here, in its order, and nothing of another side", () => {
	const cleaned = act({ what: "cleaned", side: "s", step: "wash" });
	const now = withTicks(VIEW, [cleaned, act({ what: "cleaned", side: "s", step: "alcohol" })]);
	expect(now.waits).toBe(true);
	expect(now.view.steps.map((s) => [s.done, s.again])).toEqual([
		["here, waits to be sent", null],
		["here, waits to be sent", null],
	]);
	const back = withTicks(VIEW, [cleaned, act({ what: "not_cleaned", side: "s", step: "wash" })]);
	expect(back.view.steps[0]?.done).toBeNull();
	const other = withTicks(VIEW, [act({ what: "cleaned", side: "another", step: "wash" })]);
	expect([other.waits, other.view.steps[0]?.done]).toEqual([false, null]);
});

test("promoter that was put on here has its timer here", () => {
	const on = withTicks(VIEW, [act({ what: "promoted", piece: "p", run: "front edge" })]);
	expect(on.view.pieces[0]?.runs[0]?.tacky).toBe("2026-03-02T08:10:00.000Z");
});

test("zones that were ticked here are a step once all of them are", () => {
	const zone = (number: number) => ({ number, of: 2 });
	const first = act({ what: "cleaned", side: "s", step: "wash", zone: zone(1) });
	const one = withTicks(VIEW, [first]);
	expect([one.view.steps[0]?.zones, one.view.steps[0]?.done]).toEqual([[1], null]);
	const second = act({ what: "cleaned", side: "s", step: "wash", zone: zone(2) });
	expect(withTicks(VIEW, [first, second]).view.steps[0]?.done).toContain("here");
	const back = act({ what: "not_cleaned", side: "s", step: "wash", zone: zone(1) });
	const again = withTicks(VIEW, [first, second, back]);
	expect([again.view.steps[0]?.zones, again.view.steps[0]?.done]).toEqual([[2], null]);
});

import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import type { Act } from "../../api/outbox";
import { withTicks } from "./here";

const VIEW = {
	side: "s",
	tacky_minutes: 10,
	steps: [
		{ key: "wash", done: null, again: null },
		{ key: "alcohol", done: "08:00", again: "wipe again" },
	],
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

import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import { judgedAhead } from "./ahead";

/** Three marks at each flat: right in the middle, one too low, one too high. */
const AHEAD: Schemas["Ahead"] = {
	asked_mm: [609.6, 609.6],
	marks: [
		[["23 15/16", "23.9375", "1' 11 15/16"], ["24", "2' 0"], ["24 1/16"]],
		[["23 15/16"], ["24"], ["24 1/16", "24.0625", "2' 1/16"]],
	],
	rounds: [0, 1].map((rounds_moved) => ({
		rounds_moved,
		says: [
			[3, 1, 3],
			[1, 0, rounds_moved + 1],
			[3, 1, 3],
		],
	})),
	answers: [
		{ do: "lock", sentence: "Lock it." },
		{ do: "move", sentence: "Rear tape up." },
		{ do: "move", sentence: "Rear tape up, a little." },
		{ do: "read_again", sentence: "Read again." },
	],
};
const WANTED: [number, number] = [609.6, 609.6];

test("a pair is told what was worked out for it, however it is typed", () => {
	for (const [front, rear, says] of [
		["24", "24", "Lock it."],
		["2' 0", ' 24 " ', "Lock it."],
		["2'0", "24 in", "Lock it."],
		["24", "24-1/16", "Rear tape up."],
		["24", "24,0625", "Rear tape up."],
		["24", "2′ 1/16", "Rear tape up."],
		["1' 11 15/16", "23 15/16", "Read again."],
	] as const)
		expect([front, rear, judgedAhead(AHEAD, WANTED, [{ front, rear }])?.sentence]).toEqual([
			front,
			rear,
			says,
		]);
});

test("a later pair is judged as one after the moves that were told", () => {
	const off = { front: "24", rear: "24 1/16" };
	expect(judgedAhead(AHEAD, WANTED, [off, off])?.sentence).toBe("Rear tape up, a little.");
	// More rounds than were worked out.
	expect(judgedAhead(AHEAD, WANTED, [off, off, off])).toBeNull();
});

test("a misreading is followed by one that is judged", () => {
	const misread = { front: "24", rear: "25" };
	const right = { front: "24", rear: "24" };
	expect(judgedAhead(AHEAD, WANTED, [misread])).toBeNull();
	expect(judgedAhead(AHEAD, WANTED, [misread, right])?.sentence).toBe("Lock it.");
	expect(judgedAhead(AHEAD, WANTED, [right, misread])).toBeNull();
});

test("what nobody worked out is not made up", () => {
	expect(judgedAhead(AHEAD, WANTED, [{ front: "30", rear: "24" }])).toBeNull();
	expect(judgedAhead(AHEAD, WANTED, [{ front: "nonsense", rear: "" }])).toBeNull();
	// The piece was moved since.
	expect(judgedAhead(AHEAD, [609.6, 612], [{ front: "24", rear: "24" }])).toBeNull();
});

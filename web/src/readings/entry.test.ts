import fc from "fast-check";
import { expect, test } from "vitest";
import { entryOf, MARKS_32, marked, pressed, stepped, textOf } from "./entry";

const keys = (presses: string[], start = "") => presses.reduce(pressed, start);

test("keys and marks make the text of a reading", () => {
	expect(keys(["2", "7"])).toBe("27");
	expect(marked(keys(["2", "7"]), 24)).toBe("27 3/4");
	expect(keys(["1"], "27 3/4")).toBe("271 3/4");
	expect(marked("27 3/4", 0)).toBe("27");
	expect(marked("", 26)).toBe("13/16");
	expect(keys(["1", "6", "feet", "6"])).toBe("16' 6");
	expect(marked(keys(["1", "6", "feet"]), 8)).toBe("16' 1/4");
});

test("the last key is taken back: fraction, then figures, then feet", () => {
	expect(keys(["back"], "16' 27 3/4")).toBe("16' 27");
	expect(keys(["back", "back"], "16' 27")).toBe("16'");
	expect(keys(["back"], "16'")).toBe("");
	expect(keys(["back"])).toBe("");
});

test("marks stay on the inch, and every mark comes back from its text", () => {
	expect(marked("5", 40)).toBe("5 31/32");
	expect(marked("5", -3)).toBe("5");
	for (let mark = 0; mark < 32; mark++) {
		expect(entryOf(textOf({ feet: "", whole: "27", mark }))).toEqual({ feet: "", whole: "27", mark });
		const [above = 0, below = 1] = (MARKS_32[mark] || "0/1").split("/").map(Number);
		expect((above / below) * 32).toBe(mark);
	}
});

test("what else was typed is left to the server, and a key begins anew", () => {
	expect(entryOf("27.75 in")).toBeNull();
	expect(entryOf("27 3/7")).toBeNull();
	expect(keys(["2"], "abc")).toBe("2");
	expect(keys(["1", "2", "3", "4", "5", "6"])).toBe("12345");
});

test("a step carries over whole inches and feet, and stops at the zero of the tape", () => {
	expect(stepped("27 31/32", 1)).toBe("28");
	expect(stepped("28", -1)).toBe("27 31/32");
	expect(stepped("5' 11 1/2", 32)).toBe("6' 0 1/2");
	expect(stepped("1/32", -32)).toBe("0");
	fc.assert(
		fc.property(fc.integer({ min: 100, max: 9000 }), fc.integer({ min: -64, max: 64 }), (at, by) => {
			const text = textOf({ feet: "", whole: String(Math.floor(at / 32)), mark: at % 32 });
			expect(stepped(stepped(text, by), -by)).toBe(stepped(text, 0));
		}),
	);
});

import { QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { Shown } from "./shown";

test("what is fetched for the first time while something is written is fetched again", async () => {
	const shown = new Shown();
	let kept = "before";
	const answers: (() => void)[] = [];
	const side = new QueryObserver(shown, {
		queryKey: ["side", "starboard"],
		queryFn: () => {
			const read = kept;
			return new Promise<string>((come) => answers.push(() => come(read)));
		},
	});
	const leave = side.subscribe(() => {});
	// It has been read, and has not come in yet, when the writing ends.
	kept = "after";
	const anew = shown.invalidateQueries({ queryKey: ["side"] });
	answers[0]?.();
	await expect.poll(() => answers.length).toBe(2);
	answers[1]?.();
	await anew;
	expect(side.getCurrentResult().data).toBe("after");
	leave();
});

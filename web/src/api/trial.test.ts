import fc from "fast-check";
import { expect, test, vi } from "vitest";
import { Trial } from "./trial";

/** A server that answers when it is told to. */
function slow() {
	const open: { wish: number; answer: (ok: boolean) => void }[] = [];
	const ask = (wish: number) =>
		new Promise<string>((answer, fail) => {
			open.push({ wish, answer: (ok) => (ok ? answer(`answer to ${wish}`) : fail(new Error(`no ${wish}`))) });
		});
	return { open, ask };
}

const turn = () => new Promise((r) => setTimeout(r));

test("one question is under way, wishes made meanwhile wait, and the newest wins", async () => {
	const { open, ask } = slow();
	const trial = new Trial(ask);
	trial.want(1);
	trial.want(2);
	trial.want(3);
	expect(open.map((o) => o.wish)).toEqual([1]);
	open[0]?.answer(true);
	await turn();
	expect(open.map((o) => o.wish)).toEqual([1, 3]);
	// The older answer stands meanwhile, and is said to be older.
	expect(trial.get()).toEqual({ wish: 3, answer: "answer to 1", behind: true });
	open[1]?.answer(true);
	expect(await trial.settled()).toEqual({ wish: 3, answer: "answer to 3" });
});

test("what is kept is the answer to the last wish, however slow, and nothing where that failed", async () => {
	const { open, ask } = slow();
	const wrong = vi.fn();
	const trial = new Trial(ask, wrong);
	trial.want(1);
	open[0]?.answer(true);
	await turn();
	trial.want(2);
	const kept = trial.settled();
	await new Promise((r) => setTimeout(r, 30));
	open[1]?.answer(false);
	expect(await kept).toBeNull();
	expect(wrong).toHaveBeenLastCalledWith(new Error("no 2"));
	// The next wish is asked for all the same.
	trial.want(3);
	open[2]?.answer(true);
	expect(await trial.settled()).toEqual({ wish: 3, answer: "answer to 3" });
});

test("an answer that comes after the end, or for another thing, is dropped", async () => {
	const { open, ask } = slow();
	const trial = new Trial(ask);
	trial.want(1);
	trial.end();
	open[0]?.answer(true);
	await turn();
	expect(trial.get()).toBeNull();
	trial.want(2);
	trial.want(7, false);
	open[1]?.answer(true);
	await turn();
	expect(trial.get()).toEqual({ wish: 7, answer: null, behind: true });
});

test("however wishes and answers fall, the last wish is what settles", async () => {
	const steps = fc.array(fc.oneof(fc.nat(99), fc.constant("answer" as const)), {
		minLength: 1,
		maxLength: 30,
	});
	await fc.assert(
		fc.asyncProperty(steps, async (steps) => {
			const { open, ask } = slow();
			const trial = new Trial(ask);
			let [last, answered] = [-1, 0];
			for (const step of steps) {
				if (step !== "answer") {
					trial.want(step);
					last = step;
				} else if (open[answered]) open[answered++]?.answer(true);
				await turn();
				// Never two at once.
				expect(open.length - answered).toBeLessThanOrEqual(1);
			}
			if (last < 0) {
				expect(trial.get()).toBeNull();
				return;
			}
			const settled = trial.settled();
			for (let n = 0; n < 3; n++) {
				if (open[answered]) open[answered++]?.answer(true);
				await turn();
			}
			expect(await settled).toEqual({ wish: last, answer: `answer to ${last}` });
		}),
		{ numRuns: 40 },
	);
});

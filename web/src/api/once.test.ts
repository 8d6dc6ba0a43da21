import { beforeEach, expect, test, vi } from "vitest";
import { Trouble } from "./client";
import { type Keys, once } from "./once";

beforeEach(() => {
	vi.useRealTimers();
});

const away = new Trouble({ status: 0, code: "server_away", detail: "away" });
let name = 0;
const fresh = () => `act ${++name}`;

test("a second press while the first is under way is the first", async () => {
	const sent: Keys[] = [];
	const what = fresh();
	const make = async (keys: Keys) => {
		sent.push(keys);
		await new Promise((r) => setTimeout(r, 5));
		return keys.id;
	};
	const [a, b] = await Promise.all([once(what, make), once(what, make)]);
	expect(sent).toHaveLength(1);
	expect(a).toBe(b);
	// And right after it: fingers tremble for longer than servers take.
	expect(await once(what, make)).toBe(a);
	expect(sent).toHaveLength(1);
});

test("after an answer that never came the same keys are sent again", async () => {
	const sent: Keys[] = [];
	const what = fresh();
	let up = false;
	const make = async (keys: Keys) => {
		sent.push(keys);
		if (!up) throw away;
		return keys.id;
	};
	await expect(once(what, make)).rejects.toBe(away);
	up = true;
	const id = await once(what, make);
	expect(new Set(sent.map((k) => `${k.id} ${k.edit}`)).size).toBe(1);
	expect(sent[0]?.id).toBe(id);
});

test("a press some time later, or after a refusal, is a new act", async () => {
	vi.useFakeTimers();
	const sent: string[] = [];
	const what = fresh();
	const make = async (keys: Keys) => {
		sent.push(keys.id);
	};
	await once(what, make);
	vi.advanceTimersByTime(2000);
	await once(what, make);
	expect(new Set(sent).size).toBe(2);
	const refused = fresh();
	const no = async (keys: Keys) => {
		sent.push(keys.id);
		throw new Trouble({ status: 422, code: "place", detail: "no" });
	};
	await once(refused, no).catch(() => undefined);
	await once(refused, no).catch(() => undefined);
	expect(new Set(sent).size).toBe(4);
});

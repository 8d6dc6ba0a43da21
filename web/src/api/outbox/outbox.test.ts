import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { type Problem, Trouble } from "../client";
import type { Act, Box, What } from "./act";
import { Outbox, Refused } from "./outbox";
import { SafeBox } from "./safe";

/** A browser's box that outlives the pages that use it. */
class Memory implements Box {
	acts: Act[] = [];
	jotted: Omit<Act, "n">[] = [];
	private n = 0;
	jot(act: Omit<Act, "n">) {
		this.jotted.push(structuredClone(act));
	}
	async add(act: Omit<Act, "n">) {
		this.acts.push({ ...structuredClone(act), n: ++this.n });
		this.jotted = this.jotted.filter((a) => a.id !== act.id);
	}
	async all() {
		return structuredClone(this.acts);
	}
	async put(act: Act) {
		this.acts = this.acts.map((a) => (a.n === act.n ? structuredClone(act) : a));
	}
	async remove(id: string) {
		this.acts = this.acts.filter((a) => a.id !== id);
		this.jotted = this.jotted.filter((a) => a.id !== id);
	}
}

const trouble = (status: number, code = "x") =>
	new Trouble({ status, code, detail: `${status}` } satisfies Problem);

/** A server that records each id once, and a network that does as it is told. */
class World {
	box = new Memory();
	record: Act[] = [];
	/** What the next requests meet: `ok`; `lost`, taken but the answer is lost; or a status. */
	weather: ("ok" | "lost" | number)[] = [];
	always: "ok" | "lost" | number = "ok";
	/** Who is not signed in on this device. */
	absent = new Set<string>();
	clock = 1_000_000;
	private keys = 0;
	private lock: Promise<unknown> = Promise.resolve();

	page() {
		return new Outbox(this.box, (act) => this.request(act), {
			freshKey: () => `key-${++this.keys}`,
			now: () => this.clock,
			alone: (work) => {
				const turn = this.lock.then(work, work);
				this.lock = turn.catch(() => undefined);
				return turn;
			},
			changed: () => {},
			sent: () => {},
		});
	}

	private async request(act: Act) {
		const meets = this.weather.shift() ?? this.always;
		await Promise.resolve();
		if (typeof meets === "number") throw trouble(meets);
		if (this.absent.has(act.who)) throw trouble(401, "who");
		if (!this.record.some((a) => a.id === act.id)) this.record.push(structuredClone(act));
		if (meets === "lost") throw trouble(0);
		return { seq: this.record.length };
	}

	/** Later: pages that were left are gone, and a new one sends what waits. */
	async later() {
		this.clock += 10_000;
		const page = this.page();
		await page.drain();
		return page;
	}
}

const reading = (front: string, piece = "p"): What => ({
	kind: "reading",
	piece,
	front,
	rear: front,
	asked: [1, 1],
});
const found = (note: string): What =>
	({ kind: "walk", job: "j", entry: { what: "paint_doubt", side: "s", note } }) as unknown as What;
const lies: What = { kind: "floor", piece: "p", note: { what: "laid", strokes: 3 } };
const fronts = (world: World) => world.record.map((a) => (a.what as { front: string }).front);

describe("what the floor records without a signal", () => {
	test("a second reading of the same form is a second act", async () => {
		const world = new World();
		world.always = 0;
		const page = world.page();
		expect(await page.record(reading("27"), "odd")).toEqual({ sent: false });
		expect(await page.record(reading("27 1/8"), "odd")).toEqual({ sent: false });
		world.always = "ok";
		await page.drain();
		expect(fronts(world)).toEqual(["27", "27 1/8"]);
		expect(new Set(world.record.map((a) => a.id)).size).toBe(2);
	});

	test("who recorded it is told of a refusal that another page met", { timeout: 2000 }, async () => {
		const world = new World();
		world.weather = [409];
		const [mine, other] = [world.page(), world.page()];
		const recorded = mine.record(reading("27"), "odd");
		other.drain();
		await expect(recorded).rejects.toBeInstanceOf(Refused);
		expect(world.box.acts.map((a) => a.refused?.status)).toEqual([409]);
	});

	test("nothing but a listed refusal takes an act away, and that one waits for a person", async () => {
		for (const status of [0, 302, 401.5, 408, 421, 425, 429, 499, 500, 502, 503, 504, 511]) {
			const world = new World();
			world.always = status;
			await world.page().record(reading("27"), "odd");
			await world.later();
			expect(world.box.acts.map((a) => a.refused)).toEqual([undefined]);
			world.always = "ok";
			await world.later();
			expect([fronts(world), world.box.acts]).toEqual([["27"], []]);
		}
		for (const status of [400, 403, 404, 409, 413, 415, 422, 428]) {
			const world = new World();
			world.always = 0;
			await world.page().record(reading("27"), "odd");
			world.always = status;
			const page = await world.later();
			expect(world.box.acts.map((a) => a.refused?.status)).toEqual([status]);
			// It is not sent again by itself; a person sends it, or lets it go.
			world.always = "ok";
			await page.drain();
			expect(world.record).toEqual([]);
			await page.sendAgain(world.box.acts[0]?.id ?? "");
			expect([fronts(world), world.box.acts]).toEqual([["27"], []]);
		}
	});

	test("what somebody recorded who is not signed in here waits for them, in its order; what others recorded goes on", async () => {
		const world = new World();
		world.always = 0;
		const page = world.page();
		for (const [front, who] of [
			["1", "pella"],
			["2", "odd"],
			["3", "pella"],
			["4", "odd"],
		])
			await page.record(reading(front ?? ""), who ?? "");
		world.always = "ok";
		world.absent.add("pella");
		await world.later();
		expect(fronts(world)).toEqual(["2", "4"]);
		expect(world.box.acts.map((a) => [a.who, a.refused, a.held])).toEqual([
			["pella", undefined, true],
			["pella", undefined, undefined],
		]);
		world.absent.clear();
		await world.later();
		expect([fronts(world), world.box.acts]).toEqual([["2", "4", "1", "3"], []]);
	});

	test("a browser that keeps nothing, or has no room, loses nothing while the page is open, and says so", async () => {
		const world = new World();
		const full = new Memory();
		full.add = () => Promise.reject(new DOMException("full", "QuotaExceededError"));
		full.all = () => Promise.reject(new DOMException("none", "InvalidStateError"));
		const told: boolean[] = [];
		world.box = new SafeBox(full, (alone) => told.push(alone)) as unknown as Memory;
		world.always = 0;
		const page = world.page();
		expect(await page.record(reading("27"), "odd")).toEqual({ sent: false });
		expect(await page.record(reading("28"), "odd")).toEqual({ sent: false });
		expect(told).toEqual([true, true]);
		world.always = "ok";
		await page.drain();
		expect([fronts(world), await world.box.all(), told.at(-1)]).toEqual([["27", "28"], [], false]);
	});

	test("what is recorded while the one before is on its way has an answer of its own", async () => {
		const answers: ((answer: unknown) => void)[] = [];
		let keys = 0;
		const page = new Outbox(new Memory(), () => new Promise((answer) => answers.push(answer)), {
			freshKey: () => `key-${++keys}`,
			now: () => 1_000_000,
			alone: (work) => work(),
			changed: () => {},
			sent: () => {},
		});
		const soon = () => new Promise((on) => setTimeout(on, 5));
		const first = page.record(reading("12"), "maren");
		await soon();
		const second = page.record(reading("13"), "maren");
		await soon();
		answers.shift()?.(1);
		expect(await first).toEqual({ sent: true, answer: 1 });
		await soon();
		answers.shift()?.(2);
		// Not told that it is only kept: its answer is on its way.
		expect(await second).toEqual({ sent: true, answer: 2 });
	});

	test("a refusal is told to whoever waits, and kept until it was seen", async () => {
		const world = new World();
		world.always = 422;
		const page = world.page();
		const refused = await page.record(reading("x"), "odd").catch((e: unknown) => e);
		expect(refused).toBeInstanceOf(Refused);
		expect(world.box.acts).toHaveLength(1);
		await page.leaveOut((refused as Refused).act);
		expect(world.box.acts).toEqual([]);
	});

	test("each act keeps who did it and when, whoever is chosen when it is sent", async () => {
		const world = new World();
		world.always = 0;
		const page = world.page();
		await page.record(reading("27"), "odd");
		world.clock += 60_000;
		await page.record(reading("28"), "pella");
		world.always = "ok";
		await world.later();
		expect(world.record.map((a) => [a.who, a.at])).toEqual([
			["odd", 1_000_000],
			["pella", 1_060_000],
		]);
	});

	test("a reading made when the signal is back comes after the older one", async () => {
		const world = new World();
		world.always = 0;
		const page = world.page();
		await page.record(reading("27"), "odd");
		world.always = "ok";
		await page.record(reading("27 1/8"), "odd");
		expect(fronts(world)).toEqual(["27", "27 1/8"]);
	});

	test("a press that trembles is one act, with a signal and without", async () => {
		for (const always of ["ok", 0, "lost"] as const) {
			const world = new World();
			world.always = always;
			const page = world.page();
			await Promise.all([page.record(found("dull"), "odd"), page.record(found("dull"), "odd")]);
			world.clock += 500;
			await page.record(found("dull"), "odd");
			world.always = "ok";
			await world.later();
			expect(world.record).toHaveLength(1);
		}
	});

	test("done, taken back and done again within a moment is three acts", async () => {
		const world = new World();
		const page = world.page();
		for (const kind of ["dull", "bright", "dull"]) await page.record(found(kind), "odd");
		expect(world.record).toHaveLength(3);
	});

	test("that a piece lies is recorded once, however often it is pressed while it waits", async () => {
		const world = new World();
		world.always = 0;
		for (let n = 0; n < 3; n++) {
			await world.page().record(lies, "odd");
			world.clock += 30_000;
		}
		world.always = "ok";
		await world.later();
		expect(world.record).toHaveLength(1);
	});

	test("an answer that was lost does not record twice", async () => {
		const world = new World();
		world.weather = ["lost", "lost"];
		await world.page().record(reading("27"), "odd");
		await world.later();
		await world.later();
		expect([fronts(world), world.box.acts]).toEqual([["27"], []]);
	});

	test("two pages send what waits once, in its order", async () => {
		const world = new World();
		world.always = 0;
		const [one, two] = [world.page(), world.page()];
		for (const front of ["1", "2", "3", "4"]) {
			await (Number(front) % 2 ? one : two).record(reading(front), "odd");
		}
		world.always = "ok";
		await Promise.all([one.drain(), two.drain(), one.drain()]);
		expect(fronts(world)).toEqual(["1", "2", "3", "4"]);
	});

	test("what stops on the way keeps its place: nothing overtakes it", async () => {
		const world = new World();
		world.always = 0;
		const page = world.page();
		for (const front of ["1", "2", "3"]) await page.record(reading(front), "odd");
		world.weather = ["ok", 502];
		world.always = "ok";
		await page.drain();
		expect(fronts(world)).toEqual(["1"]);
		await page.drain();
		expect(fronts(world)).toEqual(["1", "2", "3"]);
	});

	test("a refused act does not hold up the others", async () => {
		const world = new World();
		world.always = 0;
		const page = world.page();
		for (const front of ["1", "2", "3"]) await page.record(reading(front), "odd");
		world.weather = ["ok", 409];
		world.always = "ok";
		await page.drain();
		expect(fronts(world)).toEqual(["1", "3"]);
		expect(world.box.acts.map((a) => a.refused?.status)).toEqual([409]);
	});
});

/** Whatever happens, in whatever order: recorded once each, in order, with its own person and hour, or waiting for somebody. */
test("a random walk loses nothing, doubles nothing and mixes nothing up", async () => {
	const step = fc.oneof(
		fc.record({ do: fc.constant("record" as const), who: fc.constantFrom("odd", "pella"), page: fc.nat(1) }),
		fc.record({
			do: fc.constant("weather" as const),
			is: fc.constantFrom<"ok" | "lost" | number>("ok", "lost", 0, 400, 401, 404, 409, 422, 500, 502, 503),
		}),
		fc.record({ do: fc.constant("drain" as const), page: fc.nat(1) }),
		fc.record({ do: fc.constant("reload" as const), page: fc.nat(1) }),
		fc.record({ do: fc.constant("answer" as const), again: fc.boolean() }),
	);
	await fc.assert(
		fc.asyncProperty(fc.array(step, { maxLength: 40 }), async (steps) => {
			const world = new World();
			const pages = [world.page(), world.page()];
			const made: { front: string; who: string; at: number }[] = [];
			const dropped = new Set<string>();
			for (const s of steps) {
				world.clock += 5000;
				const page = "page" in s ? (pages[s.page] as Outbox) : (pages[0] as Outbox);
				if (s.do === "record") {
					const front = String(made.length);
					made.push({ front, who: s.who, at: world.clock });
					await page.record(reading(front), s.who).catch(() => undefined);
				} else if (s.do === "weather") world.always = s.is;
				else if (s.do === "drain") await page.drain();
				else if (s.do === "reload") pages[s.page] = world.page();
				else {
					const refused = world.box.acts.find((a) => a.refused);
					if (refused && s.again) await page.sendAgain(refused.id);
					else if (refused) {
						dropped.add((refused.what as { front: string }).front);
						await page.leaveOut(refused.id);
					}
				}
			}
			world.always = "ok";
			const page = await world.later();
			const told = (acts: Act[]) =>
				acts.map((a) => ({ front: (a.what as { front: string }).front, who: a.who, at: a.at }));
			const recorded = told(world.record);
			const kept = told(world.box.acts);
			expect(world.box.acts.every((a) => a.refused)).toBe(true);
			// Once each, and each as it was made.
			expect(new Set(recorded.map((r) => r.front)).size).toBe(recorded.length);
			for (const act of [...recorded, ...kept]) expect(made).toContainEqual(act);
			const there = new Set([...recorded, ...kept].map((r) => r.front));
			for (const act of made) expect(there.has(act.front) || dropped.has(act.front)).toBe(true);
			// What a person sends again comes through as well.
			for (const act of world.box.acts) await page.sendAgain(act.id);
			expect(world.box.acts).toEqual([]);
		}),
		{ numRuns: 400 },
	);
});

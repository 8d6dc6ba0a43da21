import fc from "fast-check";
import { expect, test } from "vitest";
import { differences, followed, merged, type Spec } from "./merge";

const field = fc.constantFrom("a", "b", "c");
const flat: fc.Arbitrary<Spec> = fc.record({ a: fc.nat(2), b: fc.nat(2), c: fc.nat(2) });
const nested: fc.Arbitrary<Spec> = fc.record({ name: fc.nat(3), art: flat, place: flat });

test("who changed nothing takes what the other left; who was alone keeps his own", () => {
	fc.assert(
		fc.property(nested, nested, (base, other) => {
			expect(merged(base, base, other)).toEqual(other);
			expect(merged(base, other, base)).toEqual(other);
		}),
	);
});

test("changes to different fields are both kept, whichever came first", () => {
	fc.assert(
		fc.property(nested, field, field, fc.constantFrom("art", "place"), (base, mine, theirs, group) => {
			fc.pre(mine !== theirs);
			const change = (key: string, to: number): Spec => ({
				...base,
				[group]: { ...(base[group] as Spec), [key]: to },
			});
			const both = merged(base, change(mine, 77), change(theirs, 88));
			expect(both[group]).toMatchObject({ [mine]: 77, [theirs]: 88 });
			expect(merged(base, change(theirs, 88), change(mine, 77))).toEqual(both);
		}),
	);
});

test("the same field changed by both is the later writer's, and nothing else of theirs is lost", () => {
	const base = { art: { text: "A", colour: "red" }, order: 0 };
	const mine = { art: { text: "B", colour: "red" }, order: 0 };
	const theirs = { art: { text: "C", colour: "blue" }, order: 4 };
	expect(merged(base, mine, theirs)).toEqual({ art: { text: "B", colour: "blue" }, order: 4 });
});

test("fields that say one thing together are never mixed", () => {
	const base = { place: { along: { rule: "from_front", distance_mm: 10, to: "first" } } };
	const mine = { place: { along: { rule: "from_front", distance_mm: 18, to: "first" } } };
	const theirs = { place: { along: { rule: "from_front", distance_mm: 10, to: "last" } } };
	// 18 in to the first letter is not 18 in to the last one.
	expect(merged(base, mine, theirs)).toEqual(mine);
	// One person's own quick changes belong together all the same.
	expect(followed(base, mine, theirs)).toEqual({
		place: { along: { rule: "from_front", distance_mm: 18, to: "last" } },
	});
});

test("a group of another kind is taken whole", () => {
	const base = { form: { shape: "circle", across: 4 } };
	const mine = { form: { shape: "circle", across: 5 } };
	const theirs = { form: { shape: "box", wide: 2, high: 3 } };
	expect(merged(base, mine, theirs)).toEqual(mine);
	expect(merged(base, theirs, mine)).toEqual(theirs);
});

test("nothing of what is handed in is changed", () => {
	fc.assert(
		fc.property(nested, nested, nested, (base, mine, theirs) => {
			const before = JSON.stringify([base, mine, theirs]);
			merged(base, mine, theirs);
			expect(JSON.stringify([base, mine, theirs])).toBe(before);
		}),
	);
});

test("what differs is told figure by figure, and as a whole only where the kinds differ", () => {
	const mine = {
		order: 1,
		place: { along: { rule: "from_front", distance_mm: 18 }, down: { rule: "from_datum", distance_mm: 5 } },
		art: { bands: [{ width: 4 }, { width: 2 }] },
	};
	const theirs = {
		order: 1,
		place: { along: { rule: "from_front", distance_mm: 30 }, down: { rule: "centred", from: "a", to: "b" } },
		art: { bands: [{ width: 4 }, { width: 3 }] },
	};
	expect(differences(mine, theirs)).toEqual([
		{ path: ["place", "along", "distance_mm"], mine: 18, theirs: 30 },
		{ path: ["place", "down"], mine: mine.place.down, theirs: theirs.place.down },
		{ path: ["art", "bands", "1", "width"], mine: 2, theirs: 3 },
	]);
	expect(differences(mine, structuredClone(mine))).toEqual([]);
});

test("whatever is put where it differs makes the other version", () => {
	fc.assert(
		fc.property(nested, nested, (mine, theirs) => {
			const made = structuredClone({ all: mine }) as Spec;
			for (const { path, theirs: next } of differences({ all: mine }, { all: theirs })) {
				const parents = path.slice(0, -1);
				const parent = parents.reduce<Spec>((at, key) => at[key] as Spec, made);
				parent[path.at(-1) ?? ""] = structuredClone(next);
			}
			expect(made).toEqual({ all: theirs });
		}),
	);
});

test("one person's quick changes follow each other in lists too, entry by entry", () => {
	const row = (from: unknown, to: unknown, unread: object) => ({ from, to, unread });
	const base = { read: [row(0, 10, { from: true, to: true }), row(20, 30, { from: true, to: true })] };
	const mine = { read: [base.read[0], row(20, "31", { from: true, to: false })] };
	// What has come back of the change before it, with a field that the server adds.
	const newer = { read: [base.read[0], { ...row(21, 30, { from: false, to: true }), split: null }] };
	expect(followed(base, mine, newer)).toEqual({
		read: [base.read[0], { ...row(21, "31", { from: false, to: false }), split: null }],
	});
	expect(followed(base, { read: [] }, newer)).toEqual({ read: [] });
	// A press that trembled adds one.
	const more = { read: [...base.read, row(40, 50, {})] };
	expect(followed(base, more, more)).toEqual(more);
	fc.assert(
		fc.property(nested, nested, (base, other) => {
			expect(followed(base, base, other)).toEqual(other);
			expect(followed(base, other, base)).toEqual(other);
		}),
	);
});

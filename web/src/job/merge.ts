/** A row's specification: what the server keeps of a side, a feature or a piece. */
export type Spec = Record<string, unknown>;

export const isGroup = (value: unknown): value is Spec =>
	typeof value === "object" && value !== null && !Array.isArray(value);

/** Something that two people have otherwise: where it stands, and as each has it. */
export type Difference = { path: string[]; mine: unknown; theirs: unknown };

/** Fields that say of which kind a group is: two kinds have nothing that could be held against each other. */
const KINDS = ["is", "by", "rule", "form", "shape", "seam", "of", "edge", "height"];

/** Nothing is nothing, said or left away. */
const known = (value: unknown) => value ?? null;

/** What differs between two versions, as deep as both are of one kind: one figure of a rule, not the whole rule. */
export function differences(mine: unknown, theirs: unknown, path: string[] = []): Difference[] {
	if (same(known(mine), known(theirs))) return [];
	const lists = Array.isArray(mine) && Array.isArray(theirs) && mine.length === theirs.length;
	const groups =
		isGroup(mine) && isGroup(theirs) && KINDS.every((k) => isGroup(mine[k]) || mine[k] === theirs[k]);
	if (lists || groups) {
		const [own, there] = [mine as Spec, theirs as Spec];
		const keys = new Set([...Object.keys(own), ...Object.keys(there)]);
		return [...keys].flatMap((key) => differences(own[key], there[key], [...path, key]));
	}
	return [{ path, mine, theirs }];
}

/** Groups whose fields say one thing together: 18 in to the first letter is not 18 in to the last one. */
const WHOLE = new Set(["along", "down", "angle", "size", "arch", "outline", "shadow", "second", "hinge"]);

export const NOTHING: ReadonlySet<string> = new Set();

export const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
const sameFields = (a: Spec, b: Spec) => same(Object.keys(a).sort(), Object.keys(b).sort());

/** What somebody else left, with what was changed from `base` to `mine` on it, field by field however deep. */
export function merged(base: Spec, mine: Spec, theirs: Spec, whole: ReadonlySet<string> = WHOLE): Spec {
	const result = structuredClone(theirs);
	for (const [key, now] of Object.entries(mine)) {
		const [was, there] = [base[key], theirs[key]];
		if (same(was, now)) continue;
		// Groups with other fields are of another kind: they are not mixed.
		const mixes = isGroup(was) && isGroup(now) && isGroup(there) && !whole.has(key);
		result[key] =
			mixes && sameFields(was, now) && sameFields(now, there) ? merged(was, now, there, whole) : now;
	}
	return result;
}

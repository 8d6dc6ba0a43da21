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

export const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
const sameFields = (a: Spec, b: Spec) => same(Object.keys(a).sort(), Object.keys(b).sort());

/** Whether two groups are of one kind, whatever one of them leaves away. */
const ofOneKind = (a: Spec, b: Spec) => KINDS.every((k) => isGroup(a[k]) || known(a[k]) === known(b[k]));

/** What somebody else left, with what was changed from `base` to `mine` on it, field by field however deep. */
export function merged(base: Spec, mine: Spec, theirs: Spec): Spec {
	const result = structuredClone(theirs);
	for (const [key, now] of Object.entries(mine)) {
		const [was, there] = [base[key], theirs[key]];
		if (same(was, now)) continue;
		// Groups with other fields are of another kind: they are not mixed.
		const mixes = isGroup(was) && isGroup(now) && isGroup(there) && !WHOLE.has(key);
		result[key] = mixes && sameFields(was, now) && sameFields(now, there) ? merged(was, now, there) : now;
	}
	return result;
}

/** The same for one person's own quick changes, which belong together however near they lie: in lists too, entry by entry. */
export function followed(base: unknown, mine: unknown, newer: unknown): unknown {
	if (same(base, mine)) return newer;
	if (Array.isArray(base) && Array.isArray(mine) && Array.isArray(newer)) {
		// Where something was taken out, the list is as it was last said.
		if (mine.length < base.length || newer.length < base.length) return mine;
		const both = base.map((was, n) => followed(was, mine[n], newer[n]));
		// One more, said twice before the first has come back, is a press that trembled.
		const added = newer.length > base.length ? newer : mine;
		return [...both, ...added.slice(base.length)];
	}
	if (isGroup(base) && isGroup(mine) && isGroup(newer) && ofOneKind(base, mine) && ofOneKind(mine, newer)) {
		const keys = new Set([...Object.keys(newer), ...Object.keys(mine)]);
		return Object.fromEntries([...keys].map((key) => [key, followed(base[key], mine[key], newer[key])]));
	}
	return mine;
}

/** The lowest and highest of what was read within each column of pixels; nothing where nothing was. Readings are in their order. */
export function columns<R extends { ms: number }>(
	readings: readonly R[],
	of: (r: R) => number | null | undefined,
	start: number,
	end: number,
	width: number,
): ({ low: number; high: number } | null)[] {
	const found: ({ low: number; high: number } | null)[] = Array.from(
		{ length: Math.max(0, Math.floor(width)) },
		() => null,
	);
	if (found.length === 0) return found;
	const per = (end - start) / found.length;
	// The first within the span, by halving: a week holds sixty thousand.
	let [from, to] = [0, readings.length];
	while (from < to) {
		const middle = (from + to) >> 1;
		if ((readings[middle]?.ms ?? 0) < start) from = middle + 1;
		else to = middle;
	}
	for (let n = from; n < readings.length; n++) {
		const r = readings[n];
		if (!r || r.ms > end) break;
		const value = of(r);
		if (value == null) continue;
		const x = Math.min(found.length - 1, Math.floor((r.ms - start) / per));
		const c = found[x];
		if (!c) found[x] = { low: value, high: value };
		else {
			c.low = Math.min(c.low, value);
			c.high = Math.max(c.high, value);
		}
	}
	return found;
}

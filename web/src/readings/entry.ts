/** What the keys and the drawn inch make of a reading: only text. The server reads it. */

/** Names of the marks of an inch in 32nds, as a tape calls them. */
export const MARKS_32 = [
	"",
	"1/32",
	"1/16",
	"3/32",
	"1/8",
	"5/32",
	"3/16",
	"7/32",
	"1/4",
	"9/32",
	"5/16",
	"11/32",
	"3/8",
	"13/32",
	"7/16",
	"15/32",
	"1/2",
	"17/32",
	"9/16",
	"19/32",
	"5/8",
	"21/32",
	"11/16",
	"23/32",
	"3/4",
	"25/32",
	"13/16",
	"27/32",
	"7/8",
	"29/32",
	"15/16",
	"31/32",
] as const;

export type Entry = { feet: string; whole: string; mark: number };
export const EMPTY: Entry = { feet: "", whole: "", mark: 0 };

/** The entry behind a text, or null where the text is something else that was typed. */
export function entryOf(text: string): Entry | null {
	const found = /^(?:(\d+)' ?)?(\d*)(?:(?:^| )(\d+\/\d+))?$/.exec(text.trim());
	if (!found) return null;
	const mark = found[3] ? MARKS_32.indexOf(found[3] as (typeof MARKS_32)[number]) : 0;
	return mark < 0 ? null : { feet: found[1] ?? "", whole: found[2] ?? "", mark };
}

export function textOf({ feet, whole, mark }: Entry): string {
	return [feet && `${feet}'`, whole || (mark && !feet ? "" : whole), MARKS_32[mark]]
		.filter(Boolean)
		.join(" ");
}

/** The text after a key of the keypad: a digit, `feet`, or `back`. */
export function pressed(text: string, key: string): string {
	const entry = entryOf(text) ?? EMPTY;
	if (key === "back") {
		if (entry.mark) return textOf({ ...entry, mark: 0 });
		if (entry.whole) return textOf({ ...entry, whole: entry.whole.slice(0, -1) });
		return textOf({ ...entry, feet: "" });
	}
	if (key === "feet") {
		return entry.feet || !entry.whole ? text : textOf({ feet: entry.whole, whole: "", mark: entry.mark });
	}
	return entry.whole.length >= 5 ? text : textOf({ ...entry, whole: entry.whole + key });
}

/** The text with this mark of the inch. */
export const marked = (text: string, mark: number) =>
	textOf({ ...(entryOf(text) ?? EMPTY), mark: Math.max(0, Math.min(31, mark)) });

/** The text so many 32nds further along the tape, carried over whole inches; never before its zero. */
export function stepped(text: string, by: number): string {
	const { feet, whole, mark } = entryOf(text) ?? EMPTY;
	const total = Math.max(0, (Number(feet) * 12 + Number(whole)) * 32 + mark + by);
	const inches = Math.floor(total / 32);
	const parts = feet
		? { feet: String(Math.floor(inches / 12)), whole: String(inches % 12) }
		: { feet: "", whole: String(inches) };
	return textOf({ ...parts, mark: total % 32 });
}

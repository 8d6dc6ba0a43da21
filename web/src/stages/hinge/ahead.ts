import type { Schemas } from "../../api/client";

type Ahead = Schemas["Ahead"];
export type AheadAnswer = Schemas["AheadAnswer"];
export type TypedPair = { front: string; rear: string };

/** What somebody typed, in the form in which marks are named: `2' 4-1/4"` is `2' 4 1/4`. */
function named(text: string): string {
	return text
		.trim()
		.replace(/["″”]|\b(in|mm)\b\.?$/g, "")
		.replace(/[′’]|\bft\b/g, "'")
		.replace(/(\d)-(?=\d+\/)/g, "$1 ")
		.replace(/(\d),(?=\d)/g, "$1.")
		.replace(/'\s*/g, "' ")
		.replace(/\s+/g, " ")
		.trim();
}

/** The same place: figures as core printed them, mm. */
const SAME_MM = 0.05;

/**
 * What core worked out ahead for the last of these pairs, each read after the one before was answered. Nothing where the piece is wanted elsewhere by
 * now, where a figure is none of the marks near what is wanted, or where more was moved than was worked out: then the shop says what to do. A pair that
 * nothing was said to moved nothing, so those after it are judged.
 */
export function judgedAhead(
	ahead: Ahead,
	wanted: [number, number],
	pairs: readonly TypedPair[],
): AheadAnswer | null {
	if (ahead.asked_mm.some((mm, n) => Math.abs(mm - (wanted[n] ?? Number.NaN)) > SAME_MM)) return null;
	let moved = ahead.rounds[0]?.rounds_moved ?? 0;
	let told: AheadAnswer | null = null;
	for (const pair of pairs) {
		const mark = (end: 0 | 1, text: string) =>
			(ahead.marks[end] ?? []).findIndex((texts) => texts.includes(named(text)));
		const [front, rear] = [mark(0, pair.front), mark(1, pair.rear)];
		const round = ahead.rounds.find((r) => r.rounds_moved === moved);
		const number = round?.says[front]?.[rear];
		told = number === undefined ? null : (ahead.answers[number] ?? null);
		if (told?.do === "move") moved += 1;
	}
	return told;
}

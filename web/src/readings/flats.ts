import type { Schemas } from "../api/client";

export type End = "front" | "rear";
type Flats = Schemas["Flats"];

export const ENDS = ["front", "rear"] as const;

/** What an end of this piece is called: `front`, `street`, `port`. */
export const endName = (flats: Flats, end: End): string => flats.ends?.[end === "front" ? 0 : 1] ?? end;

/** The same, as the beginning of a sentence. */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** What the tape is read to. */
const READ_TO: Record<Flats["at"], [one: string, both: string]> = {
	tops: ["flat", "flats"],
	feet: ["flat", "flats"],
	trim_marks: ["mark", "marks"],
	marks: ["mark", "marks"],
	corners: ["corner", "corners"],
	box_corners: ["corner", "corners"],
};

/** What the tape reads at the two flats; one figure only where it is one. */
export const atFlats = (flats: Flats): string =>
	flats.front.wanted.text === flats.rear.wanted.text
		? `${flats.front.wanted.text} at both ${READ_TO[flats.at][1]}`
		: `${flats.front.wanted.text} at the ${endName(flats, "front")} ${READ_TO[flats.at][0]}, ${flats.rear.wanted.text} at the ${endName(flats, "rear")}`;

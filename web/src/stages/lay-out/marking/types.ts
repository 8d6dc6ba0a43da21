import type { Schemas } from "../../../api/client";

export type View = Schemas["MarkingView"];
export type Found = Schemas["MarkingFound"];
export type FaceMarking = Schemas["FaceMarking"];
export type Strip = Schemas["Strip"];
export type ReadStrip = Schemas["ReadStrip"];
export type Vehicle = Schemas["VehicleMarking"];
export type Colour = Schemas["TapeColour"];
export type Element = Schemas["Element"];

/** Saves a part of a row; rejects with the server's sentence. */
export type SaveFace = (change: Partial<FaceMarking>) => Promise<unknown>;

/** The same from a button or a choice: what is wrong is told above, nothing rejects. */
export type Reflectors = Schemas["Reflectors"];
export type SettleFace = (change: Partial<FaceMarking>) => void;

export const INK: Record<Colour, string> = {
	red: "var(--color-strip-red)",
	white: "var(--color-sheet)",
	yellow: "var(--color-strip-yellow)",
};

export const AUDITED: Record<Schemas["Audited"], string> = {
	pass: "✓ kept",
	fail: "✗ not kept",
	reason_needed: "~ reason needed",
	reasoned: "≈ as close as practicable",
	figure_uncertain: "? figure uncertain",
	look: "◌ look",
};

export const ANSWER: Record<Schemas["Required"], string> = {
	yes: "Marking is required.",
	no: "Marking is not required. It may be marked voluntarily.",
	cannot_tell: "Cannot tell whether marking is required.",
	prohibited: "Marking is prohibited.",
};

/** Whether the face that is shown must be marked. */
export function answerOf(found: Found): string {
	const vehicle = found.applies.required === "yes";
	if (vehicle && (found.here === "no" || found.elements.length === 0)) {
		return "Marking is required, but not on this face.";
	}
	if (vehicle && found.here === "cannot_tell") {
		return "Marking is required. Whether on this face too hangs on what is not known yet.";
	}
	return ANSWER[found.applies.required];
}

/** How sure what a finding rests on is, as recalled. */
export const SURE: Record<Schemas["Confidence"], string> = {
	sure: "recalled as sure",
	probable: "probably right",
	lead: "a lead only",
};

export const FIELD = "h-11 w-full min-w-0 rounded border border-soft bg-white px-3";

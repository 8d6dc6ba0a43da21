import type { Schemas } from "../api/client";

export type Stage = Schemas["Stage"];

/** The nine stages in the order of the work, the question each answers, and its address. */
export const STAGES: Record<Stage, { name: string; question: string; path: string }> = {
	look_over: { name: "Look over", question: "What is it, how big, what is in the way?", path: "look-over" },
	lay_out: {
		name: "Lay out",
		question: "Where does each piece go, read off what, how far?",
		path: "lay-out",
	},
	film: { name: "Film", question: "Which film, how much of which roll?", path: "film" },
	strip: { name: "Strip", question: "How does the old film come off here?", path: "strip" },
	prep: { name: "Prep", question: "Clean, prime, acclimatise: in what order?", path: "prep" },
	hinge: { name: "Hinge", question: "Where does the tape go; read both ends and lock.", path: "hinge" },
	lay_down: {
		name: "Lay down",
		question: "In what order do the strokes go so that no air is shut in?",
		path: "lay-down",
	},
	heat_and_seal: {
		name: "Heat & seal",
		question: "What must reach which temperature, what gets sealed?",
		path: "heat-seal",
	},
	hand_over: { name: "Hand over", question: "What was done, with proof?", path: "hand-over" },
};

export const stagePath = (job: string, stage: Stage) => `/jobs/${job}/${STAGES[stage].path}`;

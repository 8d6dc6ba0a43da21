import type { Schemas } from "../../api/client";

export type Feature = Schemas["Feature"];
export type Kind = Feature["kind"];

export type Field = {
	key: string;
	label: string;
	type: "length" | "count" | "colour";
};

const length = (key: string, label: string): Field => ({ key, label, type: "length" });
const count = (key: string, label: string): Field => ({ key, label, type: "count" });

/** What is measured of each kind of feature, in the order in which a fitter measures it, and what it starts from. */
export const KINDS: Record<Kind, { name: string; fields: Field[]; start: Record<string, unknown> }> = {
	panel_seams: {
		name: "Panel seams",
		fields: [
			length("first_mm", "Front edge to the first"),
			length("pitch_mm", "Seam to seam"),
			count("count", "How many"),
		],
		start: { first_mm: "4' 0", pitch_mm: "4' 0", count: 1 },
	},
	rivet_columns: {
		name: "Rivet columns",
		fields: [
			length("first_mm", "Front edge to the first"),
			length("pitch_mm", "Column to column"),
			count("count", "How many columns"),
			length("first_rivet_mm", "Rail to the first rivet"),
			length("rivet_pitch_mm", "Rivet to rivet"),
			count("rivets", "Rivets in a column"),
			length("head_mm", "Across a head"),
		],
		start: {
			first_mm: "46 3/4 in",
			pitch_mm: "4' 0",
			count: 1,
			first_rivet_mm: "4 in",
			rivet_pitch_mm: "6 in",
			rivets: 8,
			head_mm: "1/2 in",
		},
	},
	locker_door: {
		name: "Locker door",
		fields: [
			length("back_mm", "Front edge to the door"),
			length("drop_mm", "Rail to its top"),
			length("width_mm", "Width"),
			length("height_mm", "Height"),
			length("clearance_mm", "Film keeps off it by"),
		],
		start: {
			back_mm: "5' 0",
			drop_mm: "36 in",
			width_mm: "24 in",
			height_mm: "24 in",
			clearance_mm: "1/2",
		},
	},
	lamp_row: {
		name: "Lamp row",
		fields: [
			length("first_mm", "Front edge to the first, middle"),
			length("drop_mm", "Rail to the middle"),
			length("pitch_mm", "Lamp to lamp"),
			count("count", "How many"),
			length("width_mm", "Width of a lamp"),
			length("height_mm", "Height of a lamp"),
			{ key: "colour", label: "Lens", type: "colour" },
			length("clearance_mm", "Film keeps off it by"),
		],
		start: {
			first_mm: "6 in",
			drop_mm: "66 in",
			pitch_mm: "5' 0",
			count: 2,
			width_mm: "4 in",
			height_mm: "2 in",
			colour: "amber",
			clearance_mm: "1/2",
		},
	},
	wheel_arch: {
		name: "Wheel arch",
		fields: [
			length("centre_mm", "Front edge to its middle"),
			length("width_mm", "Width at the bottom"),
			length("height_mm", "Height"),
			length("clearance_mm", "Film keeps off it by"),
		],
		start: { centre_mm: "8' 0", width_mm: "30 in", height_mm: "14 in", clearance_mm: "1 in" },
	},
};

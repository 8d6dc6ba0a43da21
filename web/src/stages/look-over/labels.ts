import type { Schemas } from "../../api/client";
import type { PathIn } from "../../readings/bound";

export type Body = Schemas["Body"];

/** Where it stands in what is measured, what it is called, and what it is where it is no length. */
type Field<T> = readonly [at: PathIn<T, [0]>, label: string];
type Fields<T> = readonly Field<T>[];

/** What is measured of each shape, in the order in which a fitter measures it. */
export const BODIES: Record<Body["shape"], { name: string; fields: Fields<Body> }> = {
	box: {
		name: "Box body",
		fields: [
			["/length_mm", "Length along the top rail"],
			["/height_mm", "Height at the front edge"],
			["/fall_mm", "Rail falls, front to rear"],
		],
	},
	travel_trailer: {
		name: "Travel trailer",
		fields: [
			["/length_mm", "Length, foremost to rearmost"],
			["/height_mm", "Roof to bottom edge"],
			["/nose_mm", "Nose leans back by"],
			["/nose_height_mm", "Roof down to the nose"],
			["/tail_mm", "Tail leans in by"],
			["/undercut_mm", "Undercut below the nose"],
		],
	},
	van: {
		name: "Van or car",
		fields: [
			["/length_mm", "Nose to rear edge"],
			["/height_mm", "Roof to sill"],
			["/bonnet_mm", "Nose to the foot of the screen"],
			["/bonnet_height_mm", "Sill to the bonnet at the nose"],
			["/screen_mm", "Screen leans back by"],
			["/tail_mm", "Roof ends before the rear edge by"],
		],
	},
	panel: {
		name: "Panel with four edges",
		fields: [
			["/top_mm", "Along the upper edge"],
			["/bottom_mm", "Along the lower edge"],
			["/height_mm", "Upper to lower edge"],
			["/bottom_starts_mm", "Lower edge begins after the upper by"],
			["/corner_mm", "Radius of the corners"],
			["/top_bow_mm", "Upper edge bows out by"],
			["/bottom_bow_mm", "Lower edge bows out by"],
		],
	},
	hull: {
		name: "Boat's side",
		fields: [
			["/length_mm", "Stem head to transom head"],
			["/bow_mm", "Bottom to the sheer at the bow"],
			["/middle_mm", "Bottom to the sheer in the middle"],
			["/stern_mm", "Bottom to the sheer at the stern"],
			["/stem_rake_mm", "Foot of the stem behind its head"],
			["/transom_rake_mm", "Foot of the transom before its head"],
		],
	},
	transom: {
		name: "Transom",
		fields: [
			["/width_mm", "Across the top"],
			["/chine_width_mm", "Across at the chines"],
			["/side_height_mm", "Top corner to chine"],
			["/vee_mm", "Vee below the chines"],
			["/crown_mm", "Top rises in the middle by"],
		],
	},
	tank: {
		name: "Lying tank",
		fields: [
			["/length_mm", "End to end"],
			["/height_mm", "Top to bottom"],
			["/end_mm", "Each end bulges by"],
		],
	},
	readings: { name: "Outline by readings", fields: [] },
	drawn: { name: "Outline from a file", fields: [] },
};

export const FORM_NAMES: Record<Schemas["FormKind"], string> = {
	heads: "heads in rows and columns",
	upright: "upright, the whole height",
	straight: "straight between two readings",
	open_path: "a line by readings",
	outline: "an outline by readings",
	rectangle: "rectangle",
	round: "round",
	arch: "arch on the bottom edge",
};

export const CLASS_NAMES: Record<Schemas["FeatureClass"], string> = {
	heads: "Rivets and fasteners",
	line: "Seams, gaps, lines",
	keep_off: "What film keeps off",
	zone: "Where film behaves otherwise",
};

/** What a measure of a feature is called, by its path: the name of its field in the sentence. */
export function labelOf({ said }: Schemas["FeatureView"], path: string): string {
	const point = path.match(/^\/form\/points\/(\d+)\/(back|drop)_mm$/);
	if (point) return `Point ${Number(point[1]) + 1}, ${point[2] === "back" ? "back" : "down"}`;
	const field = said.find((part) => part.part !== "words" && part.at === path);
	return (field?.part !== "words" && field?.label) || path;
}

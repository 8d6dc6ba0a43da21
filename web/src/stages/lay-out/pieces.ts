import type { Schemas } from "../../api/client";

export type Spec = Schemas["Piece"];
export type Art = Spec["art"];
export type Lettering = Extract<Art, { is: "lettering" }>;
export type Stripe = Extract<Art, { is: "stripe" }>;
export type Drawing = Extract<Art, { is: "drawing" }>;
export type Panel = Extract<Art, { is: "panel" }>;
export type Place = Spec["place"];
export type Rules = Extract<Place, { by: "rules" }>;

export type Editable = {
	id: string;
	revision: number;
	spec: unknown;
	printed: Record<string, string>;
	said: Schemas["Said"][];
};
export type OnSave = (piece: Editable, spec: unknown) => Promise<unknown>;

/** What a piece is called, planned or not. */
export function calledOf(spec: Spec): string {
	return spec.art.is === "lettering" ? spec.art.text.split(/\s+/).join(" ") : spec.art.name;
}

/** What the tab about a piece's own form is called. */
export const FORM_NAMES: Record<Art["is"], string> = {
	lettering: "Words and size",
	stripe: "Stripe",
	drawing: "Kit piece",
	panel: "Panel",
};

/** Where a new piece begins: a foot and a half from the front, whichever way the side faces. */
function firstPlace(side: Schemas["SideView"]): Rules {
	return {
		by: "rules",
		along: {
			rule: "from_front",
			distance_mm: "18 in",
			to: side.spec.front === "right" ? "last_letter" : "first_letter",
		},
		down: { rule: "from_datum", distance_mm: "12 in", to: "cap_line" },
		angle: { rule: "along_datum" },
	};
}

/** New pieces to begin with; everything about them is then changed. */
export function firstPiece(kind: "lettering" | "stripe" | "panel", side: Schemas["SideView"]): Spec {
	const place = firstPlace(side);
	switch (kind) {
		case "lettering":
			return {
				art: {
					is: "lettering",
					text: "NEW LETTERING",
					typeface: "barlow-condensed",
					size: { by: "capital_height", height_mm: "8 in" },
					colour: "#14524d",
				},
				place,
				order: 0,
			};
		case "stripe":
			return {
				art: {
					is: "stripe",
					name: "stripe",
					bands: [{ gap_mm: 0, front_width_mm: "3 in", rear_width_mm: "3 in" }],
					colour: "#8c1d18",
					length_mm: "6 ft",
					parted: true,
					margin_mm: "1/8 in",
					clearance_mm: "1/4 in",
					wrap_mm: 0,
				},
				place: {
					...place,
					along: {
						rule: "same_gap",
						from: { edge: "front_edge" },
						to: { edge: "rear_edge" },
						gap_mm: "2 in",
					},
				},
				order: 0,
			};
		case "panel":
			return {
				art: {
					is: "panel",
					name: "printed panel",
					width_mm: "4 ft",
					height_mm: "2 ft",
					bleed_mm: "2 in",
					colour: "#23405c",
					keys: [],
				},
				place,
				order: 0,
			};
	}
}

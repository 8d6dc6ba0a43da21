import { ask, client, type Schemas } from "../../api/client";
import { once } from "../../api/once";
import type { Editing } from "../../api/queries";

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
	art_said: Schemas["Said"][][];
	seam?: Schemas["SeamAsLaid"] | null;
	picture?: Schemas["PictureView"] | null;
};
export type OnSave = (piece: Editable, spec: unknown) => Promise<unknown>;

/** What a piece is called, planned or not. */
export function calledOf(spec: Spec): string {
	if (spec.art.is !== "lettering") return spec.art.name;
	const words = spec.art.text.split(/\s+/).join(" ");
	return layerOf(spec) ? `${words}, ${spec.art.only?.replace("_", " ")}` : words;
}

/** The lettering that this is a layer of, by its key; nothing where it is no layer. */
export function layerOf(spec: Spec): string | undefined {
	const { art, place } = spec;
	const layer = art.is === "lettering" && art.only != null && art.only !== "face";
	return layer && place.by === "marks" ? place.of : undefined;
}

/** What the tab about a piece's own form is called. */
export const FORM_NAMES: Record<Art["is"], string> = {
	lettering: "Words and size",
	stripe: "Stripe",
	drawing: "Kit piece",
	panel: "Panel",
};

/** Adds a piece of this kind as it fits the side; everything about it is then changed. Pressed twice it is added once. */
export function addFirst(side: string, kind: Schemas["FirstKind"], editing: Editing) {
	return once(`first ${kind} ${side}`, async () => {
		const init = { params: { path: { id: side } }, body: { kind } };
		return editing.add("piece", side, await ask(client.POST("/api/sides/{id}/first-piece", init)));
	});
}

/** A stripe to begin with; its bands are added to it. */
export const PLAIN_STRIPE = {
	name: "stripe",
	colour: "#8c1d18",
	length_mm: "6 ft",
	parted: true,
	margin_mm: "1/8 in",
	clearance_mm: "1/4 in",
	wrap_mm: 0,
};

import { useState } from "react";
import { freshKey, type Schemas } from "../../api/client";

export type Film = Schemas["FilmView"];
export type Roll = Schemas["RollView"];

/** Sends a change of the shelf: the answer is the shelf as it stands then. */
export type Send = (call: Promise<Schemas["ShelfView"]>) => Promise<void>;

/** A client-made key for one thing that is added: pressed twice, it is one. */
export const useKey = () => useState(freshKey)[0];

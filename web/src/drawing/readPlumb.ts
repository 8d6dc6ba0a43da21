import type { Schemas } from "../api/client";
import type { Point } from "./frame";

/** A touched place as a tape would read it: back along the datum and plumb down from it, as text in mm. */
export function readPlumb(drawing: Schemas["SideDrawing"], at: Point) {
	const [zero, end] = drawing.datum as [[number, number], [number, number]];
	const run = end[0] - zero[0];
	const slope = (end[1] - zero[1]) / run;
	const back = Math.abs((at[0] - zero[0]) / Math.cos(Math.atan2(end[1] - zero[1], Math.abs(run))));
	const down = at[1] - zero[1] - slope * (at[0] - zero[0]);
	return { back: `${back.toFixed(0)} mm`, drop: `${down.toFixed(0)} mm` };
}

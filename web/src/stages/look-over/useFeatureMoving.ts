import { useCallback } from "react";
import { ask, client, type Schemas } from "../../api/client";
import type { Trial } from "../../api/trial";
import { useTrial } from "../../api/useTrial";
import type { Grab } from "../../drawing/Viewport";
import { useArrowKeys } from "../../job/moving";

type Feature = Schemas["FeatureView"];
/** A feature wished aside from where it was measured, mm in the picture; whether it takes to what it nearly lines up with. */
export type Wish = { base: Feature; right: number; down: number; lineUp: boolean };
export type FeatureTrial = Trial<Wish, Schemas["MovedFeatureView"]>;

/** Questions are at least this far apart, ms: the picture follows the pointer by itself. */
const APART = 90;
/** Keys rest this long before the move is kept, ms. */
const REST = 700;

/**
 * Moving a measured feature by mouse, touch or keys. The browser draws it where the pointer is; the server answers with the readings
 * of the nearest step, or of what it lines up with.
 */
export function useFeatureMoving(
	side: Schemas["SideView"],
	keep: (feature: Feature, spec: Schemas["Feature"]) => Promise<unknown>,
) {
	const { trial, wrong, settle } = useTrial(
		({ base, right, down, lineUp }: Wish) =>
			ask(
				client.POST("/api/sides/{id}/features/move", {
					params: { path: { id: side.id } },
					body: { id: base.id, spec: base.spec, right_mm: right, down_mm: down, line_up: lineUp },
				}),
			),
		APART,
	);

	const by = useCallback(
		(base: Feature, right: number, down: number, lineUp: boolean) => {
			const before = trial.get()?.wish.base;
			const same = before?.id === base.id;
			trial.want({ base: same ? before : base, right, down, lineUp }, same);
		},
		[trial],
	);
	const rested = useCallback(
		() => settle(({ base }, answer) => keep(base, answer.moved.feature)),
		[settle, keep],
	);
	const cancel = useCallback(() => trial.end(), [trial]);

	const grab = useCallback(
		(feature: Feature): Grab => ({
			move: (right, down) => by(feature, right, down, true),
			end: (kept) => (kept ? rested() : cancel()),
		}),
		[by, rested, cancel],
	);

	const step = side.step_mm;
	const bySteps = useCallback(
		(feature: Feature, right: number, down: number) => {
			const wish = trial.get()?.wish;
			const from = wish?.base.id === feature.id ? wish : { right: 0, down: 0 };
			by(feature, from.right + right * step, from.down + down * step, false);
		},
		[trial, by, step],
	);
	const onKey = useArrowKeys(REST, bySteps, rested, cancel);
	return { trial, wrong, grab, onKey };
}

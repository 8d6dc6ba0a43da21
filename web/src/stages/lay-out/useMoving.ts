import { type PointerEvent, useCallback } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useTrial, useTried } from "../../api/useTrial";
import { useArrowKeys } from "../../job/moving";

type Piece = Schemas["PieceView"];
/** A piece wished aside from where it was, mm in the picture. */
type Wish = { base: Piece; right: number; down: number };

/** Keys rest this long before the move is kept, ms. */
const REST = 600;

/**
 * Moving a piece by mouse, touch or keys. The browser only draws it aside; the server answers with the rule and the readings of
 * the nearest step.
 */
export function useMoving(
	side: Schemas["SideView"],
	keep: (base: Piece, spec: Piece["spec"]) => Promise<unknown>,
) {
	const { trial, wrong, settle } = useTrial(async ({ base, right, down }: Wish) => {
		const answer = await ask(
			client.POST("/api/sides/{id}/evaluate", {
				params: { path: { id: side.id } },
				body: {
					only_tried: true,
					pieces: [{ id: base.id, spec: base.spec, nudge: { right_mm: right, down_mm: down } }],
				},
			}),
		);
		return { piece: answer.pieces[0], refused: answer.failed[0]?.problem.detail ?? null };
	});
	const now = useTried(trial);

	const by = useCallback(
		(piece: Piece, right: number, down: number) => {
			const before = trial.get()?.wish.base;
			const same = before?.id === piece.id;
			trial.want({ base: same ? before : piece, right, down }, same);
		},
		[trial],
	);

	const rested = useCallback(
		() =>
			settle(({ base }, { piece }) =>
				piece && JSON.stringify(piece.spec.place) !== JSON.stringify(base.spec.place)
					? keep(base, piece.spec)
					: undefined,
			),
		[settle, keep],
	);
	const cancel = useCallback(() => trial.end(), [trial]);

	const step = side.step_mm;
	const bySteps = useCallback(
		(piece: Piece, right: number, down: number) => {
			const wish = trial.get()?.wish;
			const from = wish?.base.id === piece.id ? wish : { right: 0, down: 0 };
			by(piece, from.right + right * step, from.down + down * step);
		},
		[trial, by, step],
	);
	const onKey = useArrowKeys(REST, bySteps, rested, cancel);

	const onPointerDown = useCallback(
		(piece: Piece, event: PointerEvent<SVGGElement>, scale: number) => {
			const target = event.currentTarget;
			const [x0, y0] = [event.clientX, event.clientY];
			const onMove = (e: globalThis.PointerEvent) =>
				by(piece, (e.clientX - x0) / scale, (e.clientY - y0) / scale);
			const onEnd = (e: globalThis.PointerEvent) => {
				target.removeEventListener("pointermove", onMove);
				target.removeEventListener("pointerup", onEnd);
				target.removeEventListener("pointercancel", onEnd);
				if (e.type === "pointercancel") cancel();
				else rested();
			};
			try {
				target.setPointerCapture(event.pointerId);
			} catch {
				// The pointer is gone already: there is nothing to follow.
			}
			target.addEventListener("pointermove", onMove);
			target.addEventListener("pointerup", onEnd);
			target.addEventListener("pointercancel", onEnd);
		},
		[by, cancel, rested],
	);

	const moving = now && {
		id: now.wish.base.id,
		...now.wish,
		tried: now.answer?.piece ?? null,
		behind: now.behind,
	};
	return { moving, wrong: wrong ?? now?.answer?.refused ?? null, onKey, onPointerDown };
}

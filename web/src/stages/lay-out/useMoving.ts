import { type PointerEvent, useCallback, useEffect, useRef, useState } from "react";
import { ask, client, type Schemas, Trouble } from "../../api/client";

type Piece = Schemas["PieceView"];
type Moving = {
	id: string;
	/** Where it was when the move began. */
	base: Piece;
	/** Asked for, mm in the picture. */
	right: number;
	down: number;
	/** The newest answer. */
	tried: Piece | null;
	/** Whether the readings are older than the picture. */
	behind: boolean;
};

const STEP = { inch_sixteenth: 25.4 / 16, inch_thirty_second: 25.4 / 16, millimetre: 1 } as const;
/** Keys rest this long before the move is kept, ms. */
const REST = 600;

/**
 * Moving a piece by mouse, touch or keys. The browser only draws it aside; the server answers with the rule and the readings of
 * the nearest step. One question is under way at a time and the newest wins.
 */
export function useMoving(
	side: Schemas["SideView"],
	keep: (base: Piece, spec: Piece["spec"]) => Promise<unknown>,
) {
	const [moving, setMoving] = useState<Moving | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const now = useRef<Moving | null>(null);
	const busy = useRef(false);
	const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
	now.current = moving;

	const change = useCallback((next: Moving | null) => {
		now.current = next;
		setMoving(next);
	}, []);

	const evaluate = useCallback(async () => {
		if (busy.current) return;
		busy.current = true;
		try {
			while (now.current?.behind) {
				const asked = now.current;
				const answer = await ask(
					client.POST("/api/sides/{id}/evaluate", {
						params: { path: { id: side.id } },
						body: {
							only_tried: true,
							pieces: [
								{
									id: asked.id,
									spec: asked.base.spec,
									nudge: { right_mm: asked.right, down_mm: asked.down },
								},
							],
						},
					}),
				);
				const current = now.current;
				if (!current || current.id !== asked.id) break;
				const newest = current.right === asked.right && current.down === asked.down;
				change({ ...current, tried: answer.pieces[0] ?? current.tried, behind: !newest });
				setWrong(answer.failed[0]?.problem.detail ?? null);
			}
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
			if (now.current) change({ ...now.current, behind: false });
		} finally {
			busy.current = false;
		}
	}, [side.id, change]);

	const by = useCallback(
		(piece: Piece, right: number, down: number) => {
			change({
				...(now.current?.id === piece.id ? now.current : { id: piece.id, base: piece, tried: null }),
				right,
				down,
				behind: true,
			});
			evaluate();
		},
		[change, evaluate],
	);

	/** Keeps the move once the newest answer is there. */
	const settle = useCallback(async () => {
		clearTimeout(rest.current);
		for (let n = 0; n < 100 && now.current?.behind; n++) await new Promise((r) => setTimeout(r, 30));
		const done = now.current;
		if (!done) return;
		if (done.tried && JSON.stringify(done.tried.spec.place) !== JSON.stringify(done.base.spec.place)) {
			try {
				await keep(done.base, done.tried.spec);
			} catch (error) {
				setWrong(error instanceof Trouble ? error.message : String(error));
			}
		}
		change(null);
	}, [keep, change]);

	const cancel = useCallback(() => {
		clearTimeout(rest.current);
		change(null);
	}, [change]);

	const onKey = useCallback(
		(piece: Piece, key: string, far: boolean) => {
			const step = STEP[side.unit] * (far ? 16 : 1);
			const [right, down] = (
				{ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const
			)[key] ?? [0, 0];
			if (key === "Escape") cancel();
			if (right === 0 && down === 0) return false;
			const before = now.current?.id === piece.id ? now.current : { right: 0, down: 0, base: piece };
			by(before.base, before.right + right * step, before.down + down * step);
			clearTimeout(rest.current);
			rest.current = setTimeout(settle, REST);
			return true;
		},
		[side.unit, by, cancel, settle],
	);

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
				else settle();
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
		[by, cancel, settle],
	);

	useEffect(() => () => clearTimeout(rest.current), []);
	return { moving, wrong, onKey, onPointerDown };
}

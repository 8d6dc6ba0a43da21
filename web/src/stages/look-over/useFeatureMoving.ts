import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { ask, client, type Schemas, Trouble } from "../../api/client";
import type { Grab } from "../../drawing/Viewport";

type Feature = Schemas["FeatureView"];
export type Moving = {
	base: Feature;
	right: number;
	down: number;
	tried: Schemas["MovedFeatureView"] | null;
	behind: boolean;
};

const STEP = { inch_sixteenth: 25.4 / 16, inch_thirty_second: 25.4 / 16, millimetre: 1 } as const;
/** A move as it goes on. Kept beside the screen's own state: only what shows the move is drawn anew with it. */
export type MovingStore = { get: () => Moving | null; subscribe: (tell: () => void) => () => void };

export const useMovingNow = (store: MovingStore) => useSyncExternalStore(store.subscribe, store.get);

/** Questions are at least this far apart, ms: the picture follows the pointer by itself. */
const APART = 90;
/** Keys rest this long before the move is kept, ms. */
const REST = 700;

/**
 * Moving a measured feature by mouse, touch or keys. The browser draws it where the pointer is; the server answers with the readings
 * of the nearest step, or of what it lines up with. One question is under way at a time and the newest wins.
 */
export function useFeatureMoving(
	side: Schemas["SideView"],
	keep: (feature: Feature, spec: Schemas["Feature"]) => Promise<unknown>,
) {
	const [wrong, setWrong] = useState<string | null>(null);
	const now = useRef<Moving | null>(null);
	const busy = useRef(false);
	const asked_ = useRef(0);
	const rest = useRef<ReturnType<typeof setTimeout>>(undefined);

	const listeners = useRef(new Set<() => void>());
	const change = useCallback((next: Moving | null) => {
		now.current = next;
		for (const tell of listeners.current) tell();
	}, []);
	const store = useMemo(
		(): MovingStore => ({
			get: () => now.current,
			subscribe: (tell) => {
				listeners.current.add(tell);
				return () => listeners.current.delete(tell);
			},
		}),
		[],
	);

	const ask_ = useCallback(
		async (lineUp: boolean) => {
			if (busy.current) return;
			busy.current = true;
			try {
				while (now.current?.behind) {
					const wait = asked_.current + APART - Date.now();
					if (wait > 0) await new Promise((r) => setTimeout(r, wait));
					asked_.current = Date.now();
					const asked = now.current;
					if (!asked) break;
					const answer = await ask(
						client.POST("/api/sides/{id}/features/move", {
							params: { path: { id: side.id } },
							body: {
								id: asked.base.id,
								spec: asked.base.spec,
								right_mm: asked.right,
								down_mm: asked.down,
								line_up: lineUp,
							},
						}),
					);
					const current = now.current;
					if (!current || current.base.id !== asked.base.id) break;
					const newest = current.right === asked.right && current.down === asked.down;
					change({ ...current, tried: answer, behind: !newest });
					setWrong(null);
				}
			} catch (error) {
				setWrong(error instanceof Trouble ? error.message : String(error));
				if (now.current) change({ ...now.current, behind: false });
			} finally {
				busy.current = false;
			}
		},
		[side.id, change],
	);

	const by = useCallback(
		(base: Feature, right: number, down: number, lineUp: boolean) => {
			const same = now.current?.base.id === base.id ? now.current : { base, tried: null };
			change({ ...same, base: same.base, right, down, behind: true });
			ask_(lineUp);
		},
		[change, ask_],
	);

	const settle = useCallback(async () => {
		clearTimeout(rest.current);
		for (let n = 0; n < 100 && now.current?.behind; n++) await new Promise((r) => setTimeout(r, 30));
		const done = now.current;
		if (done?.tried) {
			try {
				await keep(done.base, done.tried.moved.feature);
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

	const grab = useCallback(
		(feature: Feature): Grab => ({
			move: (right, down) => by(feature, right, down, true),
			end: (kept) => (kept ? settle() : cancel()),
		}),
		[by, settle, cancel],
	);

	const onKey = useCallback(
		(feature: Feature, key: string, far: boolean) => {
			const way = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[
				key
			];
			if (key === "Escape") cancel();
			if (!way) return key === "Escape";
			const step = STEP[side.unit] * (far ? 16 : 1);
			const before = now.current?.base.id === feature.id ? now.current : { right: 0, down: 0, base: feature };
			by(before.base, before.right + way[0] * step, before.down + way[1] * step, false);
			clearTimeout(rest.current);
			rest.current = setTimeout(settle, REST);
			return true;
		},
		[side.unit, by, cancel, settle],
	);

	useEffect(() => () => clearTimeout(rest.current), []);
	return { store, wrong, grab, onKey };
}

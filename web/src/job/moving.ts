import { useCallback, useEffect, useRef } from "react";

const WAYS: Record<string, readonly [number, number]> = {
	ArrowLeft: [-1, 0],
	ArrowRight: [1, 0],
	ArrowUp: [0, -1],
	ArrowDown: [0, 1],
};

/**
 * Moving by arrow keys: `by` hears each step as marks of the tape to the right and down, with Shift sixteen at once; `rested` is called
 * when the keys have rested, `cancel` at Escape. What a mark is in millimetres the server knows.
 */
export function useArrowKeys<T>(
	rest: number,
	by: (what: T, right: number, down: number) => void,
	rested: () => void,
	cancel: () => void,
) {
	const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
	useEffect(() => () => clearTimeout(timer.current), []);
	return useCallback(
		(what: T, key: string, far: boolean) => {
			if (key === "Escape") {
				clearTimeout(timer.current);
				cancel();
				return true;
			}
			const way = WAYS[key];
			if (!way) return false;
			const step = far ? 16 : 1;
			by(what, way[0] * step, way[1] * step);
			clearTimeout(timer.current);
			timer.current = setTimeout(rested, rest);
			return true;
		},
		[rest, by, rested, cancel],
	);
}

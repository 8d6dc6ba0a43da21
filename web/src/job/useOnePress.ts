import { useRef } from "react";

/** Two presses within this are one that trembled, ms. */
const TREMBLE = 700;

/**
 * Whether a press counts: the second one of a trembling hand does not, also where the first has put another button, or nothing, in its place.
 * For what asks `if (!pressed()) return` first.
 */
export function useOnePress(within = TREMBLE) {
	const last = useRef(0);
	return () => {
		const now = Date.now();
		if (now - last.current < within) return false;
		last.current = now;
		return true;
	};
}

import { useEffect, useRef } from "react";

/** Both hands are full: while somebody walks any key is a mark, of a pedal or a helper's keyboard, where nobody types. */
export function useMarkKey(walking: boolean, mark: () => void) {
	const last = useRef(mark);
	last.current = mark;
	useEffect(() => {
		if (!walking) return;
		const key = (e: KeyboardEvent) => {
			const typing = e.target instanceof HTMLElement && e.target.matches("input, select, button");
			if (!typing && !e.repeat) last.current();
		};
		addEventListener("keydown", key);
		return () => removeEventListener("keydown", key);
	}, [walking]);
}

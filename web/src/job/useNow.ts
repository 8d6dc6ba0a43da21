import { useEffect, useState } from "react";

/** The hour, ms since 1970, renewed each second while something runs. */
export function useNow(runs: boolean): number {
	const [now, setNow] = useState(Date.now());
	useEffect(() => {
		setNow(Date.now());
		if (!runs) return;
		const timer = setInterval(() => setNow(Date.now()), 1000);
		return () => clearInterval(timer);
	}, [runs]);
	return now;
}

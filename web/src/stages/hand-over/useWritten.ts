import { useEffect, useState } from "react";
import { freshKey } from "../../api/client";

/** How often it is looked whether a packet is written, and for how long at most, ms. */
const LOOKED = 250;
const LONGEST = 120_000;

/**
 * A packet that opens in a tab of its own: since when it is being written, s. A page cannot see what another tab gets, so the server says in a cookie of this key
 * that it has answered.
 */
export function useWritten() {
	const [key, setKey] = useState(freshKey);
	const [since, setSince] = useState<number | null>(null);
	const [now, setNow] = useState(0);
	useEffect(() => {
		if (since === null) return;
		const timer = setInterval(() => {
			setNow(Date.now());
			const done = document.cookie.split("; ").some((c) => c.startsWith(`packet-${key}=`));
			if (!done && Date.now() - since < LONGEST) return;
			setSince(null);
			// The next one is another one.
			setKey(freshKey());
		}, LOOKED);
		return () => clearInterval(timer);
	}, [since, key]);
	return {
		key,
		begin: () => {
			setNow(Date.now());
			setSince(Date.now());
		},
		seconds: since === null ? null : Math.max(0, Math.floor((now - since) / 1000)),
	};
}

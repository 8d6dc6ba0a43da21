import { useEffect, useState } from "react";

/** What was typed here is still there after the page was loaded again, or left and come back to, in this tab. */
export function useTyped(what: string) {
	const key = `windrift.typed.${what}`;
	const [words, setWords] = useState(() => sessionStorage.getItem(key) ?? "");
	useEffect(() => {
		if (words === "") sessionStorage.removeItem(key);
		else sessionStorage.setItem(key, words);
	}, [words, key]);
	return [words, setWords] as const;
}

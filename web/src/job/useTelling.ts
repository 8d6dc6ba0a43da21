import { useState } from "react";
import { Trouble } from "../api/client";

/** Does something and keeps the sentence that says what went wrong. */
export function useTelling() {
	const [wrong, setWrong] = useState<string | null>(null);
	/** Resolves with whether it was done. */
	const tell = async (work: Promise<unknown>) => {
		try {
			await work;
			setWrong(null);
			return true;
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
			return false;
		}
	};
	return { wrong, tell };
}

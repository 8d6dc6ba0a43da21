import { useState } from "react";
import { told } from "../api/client";

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
			setWrong(told(error));
			return false;
		}
	};
	/** Lets the sentence go: it was read. */
	const settle = () => setWrong(null);
	return { wrong, tell, settle };
}

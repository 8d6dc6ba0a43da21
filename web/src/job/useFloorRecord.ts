import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, told } from "../api/client";
import { useRecord } from "../api/outbox";

/** Records entries of Strip, Prep and the bay; says what went wrong, and whether something waits for a signal. */
export function useFloorRecord(job: string) {
	const cache = useQueryClient();
	const send = useRecord();
	const [wrong, setWrong] = useState<string | null>(null);
	const [waits, setWaits] = useState(false);
	const record = async (work: () => ReturnType<typeof send>) => {
		try {
			const outcome = await work();
			setWaits(!outcome.sent);
			setWrong(null);
			return outcome;
		} catch (error) {
			setWrong(told(error));
			return null;
		} finally {
			await Promise.all([
				cache.invalidateQueries({ queryKey: ["prep"] }),
				cache.invalidateQueries({ queryKey: ["job", job] }),
				cache.invalidateQueries({ queryKey: ["record", job] }),
			]);
		}
	};
	const strip = async (entry: Schemas["StripEntry"]) => {
		const outcome = await record(async () => {
			const outcome = await send({ kind: "strip", job, entry });
			// At once: once other figures are fetched anew, this answer may be older than what is shown by then.
			if (outcome.sent) cache.setQueryData(["strip", job], outcome.answer);
			return outcome;
		});
		return outcome !== null;
	};
	const prep = async (entry: Schemas["PrepEntry"]) =>
		(await record(() => send({ kind: "prep", job, entry }))) !== null;
	const bay = async (entry: Schemas["BayEntry"]) => {
		const outcome = await record(() => send({ kind: "bay", job, entry }));
		await Promise.all(["strip", "bay"].map((key) => cache.invalidateQueries({ queryKey: [key, job] })));
		return outcome !== null;
	};
	return { strip, prep, bay, wrong, setWrong, waits };
}

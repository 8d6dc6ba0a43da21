import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, told } from "../api/client";
import { useRecord, type WalkEntry } from "../api/outbox";

type Walk = Schemas["WalkRoundView"];

/** Records an entry of the walk round and shows how it stands then. */
export function useWalkRecord(job: string) {
	const cache = useQueryClient();
	const [wrong, setWrong] = useState<string | null>(null);
	const [kept, setKept] = useState(false);
	const send = useRecord();
	const record = async (entry: unknown) => {
		try {
			const outcome = await send<Walk>({ kind: "walk", job, entry: entry as WalkEntry });
			if (outcome.sent) cache.setQueryData(["walk", job], outcome.answer);
			await cache.invalidateQueries({ queryKey: ["record", job] });
			setKept(!outcome.sent);
			setWrong(null);
			return true;
		} catch (error) {
			setWrong(told(error));
			return false;
		}
	};
	return { record, wrong, setWrong, kept };
}

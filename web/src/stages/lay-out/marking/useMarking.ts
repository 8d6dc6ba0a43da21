import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import { ask, client } from "../../../api/client";
import { useTrial, useTried } from "../../../api/useTrial";
import type { FaceMarking, Found, View } from "./types";

/** The marking of a side. */
export function useMarking(side: string, wanted: boolean, readBack: boolean) {
	const found = useQuery({
		queryKey: ["marking", side, readBack],
		enabled: wanted,
		// What nobody waits for any more is broken off: layouts are worked out one after the other for each person.
		queryFn: ({ signal }) =>
			ask(
				client.GET("/api/sides/{id}/marking", {
					params: { path: { id: side }, query: { read_back: readBack } },
					signal,
				}),
			),
		placeholderData: (before) => before,
	});
	const view: View | undefined = found.data;
	return { view, error: found.error };
}

/** Strips moved by hand: while they move, the newest wish is tried and audited; when they rest it is kept. */
export function useTryStrips(view: View | undefined, side: string) {
	const marking = view?.marking;
	const { trial, wrong } = useTrial(async (own: NonNullable<FaceMarking["own"]>): Promise<Found | null> => {
		if (!marking) return null;
		return ask(
			client.POST("/api/sides/{id}/marking", {
				params: { path: { id: side } },
				body: { marking: { ...marking, own }, read_back: false },
			}),
		);
	});
	const now = useTried(trial);
	// What was tried stands until what was kept has come back.
	// biome-ignore lint/correctness/useExhaustiveDependencies: a new revision ends a trial
	useEffect(() => trial.end(), [view?.revision, trial]);
	const attempt = useCallback((own: NonNullable<FaceMarking["own"]>) => trial.want(own), [trial]);
	/** The newest wish, even one that is not drawn yet. */
	const wanted = useCallback(() => trial.get()?.wish ?? null, [trial]);
	const tried = now && { own: now.wish, found: now.answer, behind: now.behind };
	return { tried, wrong, attempt, wanted };
}

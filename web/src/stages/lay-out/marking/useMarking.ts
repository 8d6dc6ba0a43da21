import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import { ask, client } from "../../../api/client";
import { useTrial, useTried } from "../../../api/useTrial";
import type { FaceMarking, Found, View } from "./types";

/**
 * The marking of a side. Where the first answer is not proven best, the whole proof goes on behind it and takes its place when it is
 * done.
 */
export function useMarking(side: string, wanted: boolean, readBack: boolean) {
	const fetchOf = (whole: boolean) => () =>
		ask(
			client.GET("/api/sides/{id}/marking", {
				params: { path: { id: side }, query: { read_back: readBack, whole } },
			}),
		);
	const first = useQuery({
		queryKey: ["marking", side, readBack, false],
		enabled: wanted,
		queryFn: fetchOf(false),
		placeholderData: (before) => before,
	});
	const unproven = first.data?.found?.proven === false;
	const whole = useQuery({
		queryKey: ["marking", side, readBack, true, first.data?.revision, first.data?.vehicle_revision],
		enabled: wanted && unproven && !first.isPlaceholderData,
		queryFn: fetchOf(true),
	});
	const view: View | undefined = unproven && whole.data ? whole.data : first.data;
	return { view, error: first.error, proving: unproven && whole.isFetching };
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

import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ask, client, type Schemas, Trouble } from "../../../api/client";
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

type Tried = { own: FaceMarking["own"]; found: Found | null; behind: boolean };

/** Strips moved by hand: while they move, the newest wish is tried and audited; when they rest it is kept. */
export function useTryStrips(view: View | undefined, side: string) {
	const [tried, setTried] = useState<Tried | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const now = useRef<Tried | null>(null);
	const busy = useRef(false);
	const change = useCallback((next: Tried | null) => {
		now.current = next;
		setTried(next);
	}, []);
	const marking = view?.marking;
	// What was tried stands until what was kept has come back.
	// biome-ignore lint/correctness/useExhaustiveDependencies: a new revision ends a trial
	useEffect(() => change(null), [view?.revision, change]);
	const run = useCallback(async () => {
		if (busy.current || !marking) return;
		busy.current = true;
		try {
			while (now.current?.behind) {
				const asked = now.current;
				const found: Schemas["MarkingFound"] = await ask(
					client.POST("/api/sides/{id}/marking", {
						params: { path: { id: side } },
						body: { marking: { ...marking, own: asked.own }, read_back: false },
					}),
				);
				if (!now.current) break;
				change({ ...now.current, found, behind: now.current.own !== asked.own });
				setWrong(null);
			}
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
			if (now.current) change({ ...now.current, behind: false });
		} finally {
			busy.current = false;
		}
	}, [marking, side, change]);
	const attempt = useCallback(
		(own: NonNullable<FaceMarking["own"]>) => {
			change({ own, found: now.current?.found ?? null, behind: true });
			void run();
		},
		[change, run],
	);
	/** The newest wish, even one that is not drawn yet. */
	const wanted = useCallback(() => now.current?.own ?? null, []);
	return { tried, wrong, attempt, wanted };
}

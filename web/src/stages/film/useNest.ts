import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ask, client, freshKey, type Schemas, Trouble, told } from "../../api/client";

/** Each answer goes on with the layout for so long, ms. */
const GO_ON = 500;
/** Between two answers, at first, and at most, ms. */
const PAUSE = [250, 8000] as const;

/** Everything of one film on its rolls: it keeps looking for a shorter layout for as long as somebody looks at it. */
export function useNest(job: string, film: string | null, seen: boolean) {
	const [found, setFound] = useState<Schemas["NestView"] | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	// Why it was not cut: it stays while the layout is shown anew.
	const [refused, setRefused] = useState<string | null>(null);
	const refusedOf = useRef(film);
	const [looking, setLook] = useState(true);
	const setLooking = (on: boolean) => {
		setRefused(null);
		setLook(on);
	};
	const [cutting, setCutting] = useState(false);
	const cache = useQueryClient();
	const act = useRef(freshKey());
	const flight = useRef<Promise<unknown>>(Promise.resolve());
	useEffect(() => {
		let gone = false;
		setFound((n) => (n?.film === film ? n : null));
		setWrong(null);
		if (refusedOf.current !== film) setRefused(null);
		refusedOf.current = film;
		const go = async (film: string) => {
			let [pause, shortest]: [number, number] = [PAUSE[0], Number.POSITIVE_INFINITY];
			for (let n = 0; !gone; n++) {
				try {
					// What is still under way may find a shorter one yet: that is shown, not what was before.
					if (!looking) await flight.current;
					const asked = ask(
						client.POST("/api/jobs/{id}/nest", {
							params: { path: { id: job } },
							// Once it was stopped it stays what it is: what is seen is what is cut.
							body: { film, milliseconds: looking ? (n === 0 ? 100 : GO_ON) : 0 },
						}),
					);
					flight.current = asked.catch(() => undefined);
					const now = await asked;
					if (gone) return;
					setFound(now);
					setWrong(null);
					if (now.done || !looking || now.rolls.length === 0) return;
					// The longer nothing is gained, the less often it is asked; a page that nobody sees asks for nothing.
					pause = now.used.mm < shortest ? PAUSE[0] : Math.min(pause * 1.3, PAUSE[1]);
					shortest = Math.min(shortest, now.used.mm);
				} catch (error) {
					if (!gone) setWrong(told(error));
					return;
				}
				do {
					await new Promise((on) => setTimeout(on, pause));
				} while (document.hidden && !gone);
			}
		};
		if (seen && film && !cutting) void go(film);
		return () => {
			gone = true;
		};
	}, [job, film, seen, looking, cutting]);

	const cut = useCallback(async () => {
		if (!found) return;
		setCutting(true);
		setRefused(null);
		// Where it became shorter since it was shown, that is said, and it becomes no shorter until it is looked at.
		setLook(false);
		try {
			await flight.current;
			const rolls = found.rolls.map((r) => ({ id: r.id, revision: r.revision, used_mm: r.used.mm }));
			const now = await ask(
				client.POST("/api/jobs/{id}/cut", {
					params: { path: { id: job } },
					body: { id: act.current, film: found.film, rolls },
				}),
			);
			act.current = freshKey();
			setFound(now);
			setWrong(null);
			setLook(true);
			await Promise.all(
				["film", "shelf", "record"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
			);
		} catch (error) {
			// Where no answer came it may be cut all the same: pressed again, it is the same cut.
			const known = error instanceof Trouble && error.problem.status > 0 && error.problem.status < 500;
			if (known) act.current = freshKey();
			setRefused(told(error));
		} finally {
			setCutting(false);
		}
	}, [found, job, cache]);

	/** Puts what is left of a cut on the shelf, under the key that it has whoever does so. */
	const keepOffcut = useCallback(
		async (lot: string, offcut: Schemas["CutAlready"]["offcut"]) => {
			if (!found || !offcut) return;
			try {
				const roll = {
					lot,
					width_mm: offcut.width.mm,
					length_mm: offcut.length.mm,
					place: "offcuts",
					offcut: true,
				};
				await ask(client.POST("/api/rolls", { body: { id: offcut.id, film: found.film, roll } }));
				const body = { film: found.film, milliseconds: 0 };
				setFound(await ask(client.POST("/api/jobs/{id}/nest", { params: { path: { id: job } }, body })));
				setWrong(null);
				await cache.invalidateQueries({ queryKey: ["shelf"] });
			} catch (error) {
				setWrong(told(error));
			}
		},
		[found, job, cache],
	);

	return { found, wrong: refused ?? wrong, looking, setLooking, cutting, cut, keepOffcut };
}

export type Nesting = ReturnType<typeof useNest>;

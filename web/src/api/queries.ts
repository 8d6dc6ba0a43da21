import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { ask, client, freshKey, type Schemas, sendFile, Trouble } from "./client";
import { once } from "./once";

export const useShop = () =>
	useQuery({ queryKey: ["shop"], queryFn: () => ask(client.GET("/api/shop")), staleTime: 60_000 });

/** Who is signed in on this device; an error with status 401 where nobody is. */
export const useMe = () =>
	useQuery({
		queryKey: ["me"],
		queryFn: () => ask(client.GET("/api/me")),
		staleTime: 60_000,
		// Without a signal it is asked again until there is one.
		refetchInterval: (q) =>
			q.state.error instanceof Trouble && q.state.error.problem.status === 0 ? 3000 : false,
	});

/** What a page needs before anybody is signed in. */
export const useDoor = (wanted: boolean) =>
	useQuery({ queryKey: ["door"], queryFn: () => ask(client.GET("/api/door")), enabled: wanted });

export const useJobs = (page: number, find: string, finished: boolean) =>
	useQuery({
		queryKey: ["jobs", page, find, finished],
		placeholderData: keepPreviousData,
		queryFn: () =>
			ask(
				client.GET("/api/jobs", {
					params: { query: find ? { page, find } : finished ? { page, finished } : { page } },
				}),
			),
	});

/** The same words in every typeface. */
export const useSetWords = (words: string) =>
	useQuery({
		queryKey: ["set-words", words],
		staleTime: 600_000,
		placeholderData: keepPreviousData,
		queryFn: () => ask(client.GET("/api/typefaces", { params: { query: { words } } })),
	});

export const useJob = (id: string) =>
	useQuery({
		queryKey: ["job", id],
		queryFn: () => ask(client.GET("/api/jobs/{id}", { params: { path: { id } } })),
	});

export const useSide = (id: string | undefined) =>
	useQuery({
		queryKey: ["side", id],
		enabled: id !== undefined,
		queryFn: () => ask(client.GET("/api/sides/{id}", { params: { path: { id: id ?? "" } } })),
	});

export const useHinge = (piece: string | undefined) =>
	useQuery({
		queryKey: ["hinge", piece],
		enabled: piece !== undefined,
		queryFn: () => ask(client.GET("/api/pieces/{id}/hinge", { params: { path: { id: piece ?? "" } } })),
	});

export const useHang = (piece: string | undefined) =>
	useQuery({
		queryKey: ["hang", piece],
		enabled: piece !== undefined,
		queryFn: () => ask(client.GET("/api/pieces/{id}/hang", { params: { path: { id: piece ?? "" } } })),
	});

export const useLayDown = (piece: string | undefined) =>
	useQuery({
		queryKey: ["lay-down", piece],
		enabled: piece !== undefined,
		queryFn: () => ask(client.GET("/api/pieces/{id}/lay-down", { params: { path: { id: piece ?? "" } } })),
	});

export const useRemedies = (piece: string, heated: boolean) =>
	useQuery({
		queryKey: ["remedies", piece, heated],
		queryFn: () =>
			ask(client.GET("/api/pieces/{id}/remedies", { params: { path: { id: piece }, query: { heated } } })),
	});

export const useWalk = (job: string) =>
	useQuery({
		queryKey: ["walk", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/walk-round", { params: { path: { id: job } } })),
	});

export const useTemplates = () =>
	useQuery({ queryKey: ["templates"], queryFn: () => ask(client.GET("/api/templates")) });

/** Reads an outline from a drawing file; nothing is saved by it. */
export function readOutline(
	side: string,
	file: File,
	unit: string,
	measured: string,
): Promise<Schemas["OutlineFile"]> {
	const query = new URLSearchParams({ unit, name: file.name, measured });
	return sendFile(`/api/sides/${side}/outline-file?${query}`, file);
}

/** Presses of undo and redo whose answer never came, by job. */
const openSteps = new Map<string, string>();
let lastStep: Promise<unknown> = Promise.resolve();

/** The key so many places after a key: the last eight digits count on. */
function nextKey(key: string, n: number): string {
	const low = (Number.parseInt(key.slice(-8), 16) + n) % 0x1_0000_0000;
	return key.slice(0, -8) + low.toString(16).padStart(8, "0");
}

export type RowKind = "side" | "feature" | "piece" | "marked_vehicle" | "marking";
export type Seen = {
	kind: RowKind;
	id: string;
	revision: number;
	/** The job or side, for what it has one of. */
	parent?: string;
};

/** What is being written of a row, until everything is fetched anew: what follows from several rows is offered by this, not by the state of before. */
export const beingWritten = new Map<string, unknown>();

/** Changes to a job's rows, each with the revision that was seen and a fresh id. A stale one rejects with what stands now. */
export function useEditing(job: string) {
	const cache = useQueryClient();
	const refresh = useCallback(async () => {
		await Promise.all([
			cache.invalidateQueries({ queryKey: ["side"] }),
			cache.invalidateQueries({ queryKey: ["job", job] }),
			cache.invalidateQueries({ queryKey: ["hinge"] }),
			cache.invalidateQueries({ queryKey: ["marking"] }),
			cache.invalidateQueries({ queryKey: ["hang"] }),
			cache.invalidateQueries({ queryKey: ["film"] }),
			cache.invalidateQueries({ queryKey: ["lay-down"] }),
			cache.invalidateQueries({ queryKey: ["remedies"] }),
			cache.invalidateQueries({ queryKey: ["walk", job] }),
			cache.invalidateQueries({ queryKey: ["strip", job] }),
			cache.invalidateQueries({ queryKey: ["prep"] }),
			cache.invalidateQueries({ queryKey: ["heat"] }),
			cache.invalidateQueries({ queryKey: ["care", job] }),
			cache.invalidateQueries({ queryKey: ["final-look"] }),
		]);
	}, [cache, job]);

	const send = useCallback(
		/** `what` names the act with everything in it: presses that mean the same are one act. */
		async <T>(
			what: unknown,
			make: (headers: Record<string, string>, id: string) => Promise<T>,
			/** Told as soon as the server has written it, before everything that follows from it is fetched anew. */
			written?: (answer: T) => void,
		): Promise<T> => {
			try {
				const answer = await once(JSON.stringify([job, what]), ({ id, edit }) =>
					make({ "Edit-Id": edit }, id),
				);
				written?.(answer);
				return answer;
			} finally {
				await refresh();
			}
		},
		[job, refresh],
	);

	const add = (kind: "feature" | "piece", side: string, spec: unknown) => {
		return send<Schemas["EditedRow"]>(["add", kind, side, spec], (headers, id) => {
			const init = { params: { path: { id: side } }, body: { id, spec }, headers };
			return ask(
				kind === "feature"
					? client.POST("/api/sides/{id}/features", init)
					: client.POST("/api/sides/{id}/pieces", init),
			);
		});
	};

	const replace = (seen: Seen, spec: unknown, written?: (row: Schemas["EditedRow"]) => void) => {
		const put = (edit: Record<string, string>) => {
			const init = {
				params: { path: { id: seen.id } },
				body: { spec },
				headers: { ...edit, "If-Match": `"${seen.revision}"` },
			};
			const ofParent = { ...init, params: { path: { id: seen.parent ?? "" } } };
			if (seen.kind === "marking") return ask(client.PUT("/api/sides/{id}/marking", ofParent));
			if (seen.kind === "marked_vehicle") return ask(client.PUT("/api/jobs/{id}/marked-vehicle", ofParent));
			if (seen.kind === "side") return ask(client.PUT("/api/sides/{id}", init));
			if (seen.kind === "feature") return ask(client.PUT("/api/features/{id}", init));
			return ask(client.PUT("/api/pieces/{id}", init));
		};
		beingWritten.set(seen.id, spec);
		return send<Schemas["EditedRow"]>(["replace", seen, spec], put, written).finally(() => {
			if (beingWritten.get(seen.id) === spec) beingWritten.delete(seen.id);
		});
	};

	const remove = (seen: Seen, anyway = false) =>
		send<Schemas["EditedRow"]>(["remove", seen, anyway], (edit) => {
			const headers = { ...edit, "If-Match": `"${seen.revision}"` };
			const init = { params: { path: { id: seen.id } }, headers };
			if (seen.kind === "feature") {
				const params = { path: { id: seen.id }, query: { anyway } };
				return ask(client.DELETE("/api/features/{id}", { params, headers }));
			}
			if (seen.kind === "marking") {
				const params = { path: { id: seen.parent ?? "" } };
				return ask(client.DELETE("/api/sides/{id}/marking", { params, headers }));
			}
			if (seen.kind === "side") return ask(client.DELETE("/api/sides/{id}", init));
			const params = { path: { id: seen.id }, query: { anyway } };
			return ask(client.DELETE("/api/pieces/{id}", { params, headers }));
		});

	const addSide = (start: Omit<Schemas["NewSide"], "id">) => {
		return send<Schemas["EditedRow"]>(["side", start], (headers, id) =>
			ask(
				client.POST("/api/jobs/{id}/sides", {
					params: { path: { id: job } },
					body: { id, ...start },
					headers,
				}),
			),
		);
	};

	/** Copies a feature to the side that mirrors its own. */
	const mirror = (feature: string) => {
		return send<Schemas["EditedRow"]>(["mirror", feature], (headers, id) =>
			ask(
				client.POST("/api/features/{id}/mirror", {
					params: { path: { id: feature } },
					body: { id },
					headers,
				}),
			),
		);
	};

	/** Adds several pieces in one go. */
	const addPieces = (side: string, specs: unknown[]) =>
		send<Schemas["EditedRow"]>(["several", side, specs], (headers, first) => {
			// Keys follow from the first one's, so that sent again they are the same.
			const pieces = specs.map((spec, n) => ({ id: n === 0 ? first : nextKey(first, n), spec }));
			return ask(
				client.POST("/api/sides/{id}/pieces/several", {
					params: { path: { id: side } },
					body: { pieces: pieces as Schemas["NewPiece"][] },
					headers,
				}),
			);
		});

	/** Moves pieces together; one undo takes all back. */
	const movePieces = (
		side: string,
		pieces: Schemas["SeenPiece"][],
		by: { right_mm: number; down_mm: number },
	) =>
		send<Schemas["EditedRow"]>(["move", side, pieces, by], (headers) =>
			ask(
				client.POST("/api/sides/{id}/pieces/move", {
					params: { path: { id: side } },
					body: { pieces, right_mm: by.right_mm, down_mm: by.down_mm },
					headers,
				}),
			),
		);

	/** Lays the pieces of a side out on the side that mirrors it. */
	const mirrorPieces = (side: string) =>
		send<Schemas["EditedRow"]>(["mirror pieces", side], (headers) =>
			ask(
				client.POST("/api/sides/{id}/pieces/mirror", {
					params: { path: { id: side } },
					body: { pieces: [] },
					headers,
				}),
			),
		);

	/** Makes a print into its panels, each a piece of its own; one undo takes all back. */
	const intoPanels = (piece: { id: string; revision: number }) =>
		send<Schemas["EditedRow"]>(["into panels", piece], (edit) =>
			ask(
				client.POST("/api/pieces/{id}/into-panels", {
					params: { path: { id: piece.id } },
					headers: { ...edit, "If-Match": `"${piece.revision}"` },
				}),
			),
		);

	/** The film of a piece for the others of its side that have none yet and can take it; one undo takes all back. */
	const sameFilm = (piece: string) =>
		send<Schemas["EditedRow"]>(["same film", piece], (headers) =>
			ask(client.POST("/api/pieces/{id}/same-film", { params: { path: { id: piece } }, headers })),
		);

	/** Takes shape, surface and features over from the side across the vehicle. */
	const takeOver = (side: string, body: Schemas["TakeOver"]) =>
		send<Schemas["EditedRow"]>(["take over", side, body], (headers) =>
			ask(client.POST("/api/sides/{id}/same", { params: { path: { id: side } }, body, headers })),
		);

	/** One stripe over several body parts. */
	const stripeRun = (body: Schemas["StripeRun"]) =>
		send<Schemas["EditedRow"]>(["stripe run", body], (headers) =>
			ask(client.POST("/api/jobs/{id}/stripe-run", { params: { path: { id: job } }, body, headers })),
		);

	const step = (what: "undo" | "redo", in_the_way?: Schemas["InTheWay"]) => {
		const init = (headers: Record<string, string>) => ({
			params: { path: { id: job }, query: { in_the_way } },
			headers,
		});
		const name = `${job} ${what}`;
		const press = async () => {
			// Each press is an act of its own; one whose answer never came is sent again under its own id.
			const key = openSteps.get(name) ?? freshKey();
			openSteps.set(name, key);
			try {
				const row = await send<Schemas["EditedRow"]>([what, in_the_way, key], (headers) => {
					const edit = { ...headers, "Edit-Id": key };
					return ask(
						what === "undo"
							? client.POST("/api/jobs/{id}/undo", init(edit))
							: client.POST("/api/jobs/{id}/redo", init(edit)),
					);
				});
				openSteps.delete(name);
				return row;
			} catch (error) {
				const known = error instanceof Trouble && error.problem.status > 0 && error.problem.status < 500;
				if (known) openSteps.delete(name);
				throw error;
			}
		};
		// Presses follow each other: the second of two quick ones takes the edit before.
		const next = lastStep.then(press, press);
		lastStep = next.catch(() => undefined);
		return next;
	};
	const undo = (in_the_way?: Schemas["InTheWay"]) => step("undo", in_the_way);
	const redo = (in_the_way?: Schemas["InTheWay"]) => step("redo", in_the_way);

	return {
		add,
		addPieces,
		addSide,
		intoPanels,
		sameFilm,
		mirror,
		mirrorPieces,
		movePieces,
		replace,
		remove,
		stripeRun,
		takeOver,
		undo,
		redo,
		refresh,
	};
}

export type Editing = ReturnType<typeof useEditing>;

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { ask, client, freshKey, type Schemas, sendFile, Trouble } from "./client";

export const useShop = () =>
	useQuery({ queryKey: ["shop"], queryFn: () => ask(client.GET("/api/shop")), staleTime: 60_000 });

export const useJobs = (page: number) =>
	useQuery({
		queryKey: ["jobs", page],
		queryFn: () => ask(client.GET("/api/jobs", { params: { query: { page } } })),
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

/** Takes in a photo and answers its key. */
export async function sendPhoto(job: string, file: File): Promise<string> {
	const photo = freshKey();
	await sendFile(`/api/jobs/${job}/photos?photo=${photo}`, file);
	return photo;
}

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

export type RowKind = "side" | "feature" | "piece" | "marked_vehicle" | "marking";
export type Seen = {
	kind: RowKind;
	id: string;
	revision: number;
	/** The job or side, for what it has one of. */
	parent?: string;
};

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
			cache.invalidateQueries({ queryKey: ["lay-down"] }),
			cache.invalidateQueries({ queryKey: ["remedies"] }),
			cache.invalidateQueries({ queryKey: ["walk", job] }),
		]);
	}, [cache, job]);

	const send = useCallback(
		async <T>(make: (headers: Record<string, string>) => Promise<T>): Promise<T> => {
			const headers = { "Edit-Id": freshKey() };
			try {
				return await make(headers);
			} catch (error) {
				// The network blinked: the same edit once more, under the same id, is recorded once.
				if (error instanceof Trouble && error.problem.status === 0) return await make(headers);
				throw error;
			} finally {
				await refresh();
			}
		},
		[refresh],
	);

	const add = (kind: "feature" | "piece", side: string, spec: unknown) => {
		const id = freshKey();
		const init = (headers: Record<string, string>) => ({
			params: { path: { id: side } },
			body: { id, spec },
			headers,
		});
		return send<Schemas["EditedRow"]>((headers) =>
			ask(
				kind === "feature"
					? client.POST("/api/sides/{id}/features", init(headers))
					: client.POST("/api/sides/{id}/pieces", init(headers)),
			),
		);
	};

	const replace = (seen: Seen, spec: unknown) =>
		send<Schemas["EditedRow"]>((edit) => {
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
		});

	const remove = (seen: Seen, anyway = false) =>
		send<Schemas["EditedRow"]>((edit) => {
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
			return ask(client.DELETE("/api/pieces/{id}", init));
		});

	const addSide = (start: Omit<Schemas["NewSide"], "id">) => {
		const id = freshKey();
		return send<Schemas["EditedRow"]>((headers) =>
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
		const id = freshKey();
		return send<Schemas["EditedRow"]>((headers) =>
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
	const addPieces = (side: string, pieces: { id: string; spec: unknown }[]) =>
		send<Schemas["EditedRow"]>((headers) =>
			ask(
				client.POST("/api/sides/{id}/pieces/several", {
					params: { path: { id: side } },
					body: { pieces: pieces as Schemas["NewPiece"][] },
					headers,
				}),
			),
		);

	/** Moves pieces together; one undo takes all back. */
	const movePieces = (
		side: string,
		pieces: Schemas["SeenPiece"][],
		by: { right_mm: number; down_mm: number },
	) =>
		send<Schemas["EditedRow"]>((headers) =>
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
		send<Schemas["EditedRow"]>((headers) =>
			ask(
				client.POST("/api/sides/{id}/pieces/mirror", {
					params: { path: { id: side } },
					body: { pieces: [] },
					headers,
				}),
			),
		);

	const undo = () => send(() => ask(client.POST("/api/jobs/{id}/undo", { params: { path: { id: job } } })));
	const redo = () => send(() => ask(client.POST("/api/jobs/{id}/redo", { params: { path: { id: job } } })));

	return {
		add,
		addPieces,
		addSide,
		mirror,
		mirrorPieces,
		movePieces,
		replace,
		remove,
		undo,
		redo,
		refresh,
	};
}

export type Editing = ReturnType<typeof useEditing>;

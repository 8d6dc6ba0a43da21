import { useQueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext } from "react";
import { ask, client } from "../api/client";
import { drain } from "../api/outbox";
import { forgetKept } from "../offline/signal";

/** Who works at this screen. */
export const WhoContext = createContext<{ who: string | null; choose: (id: string) => void }>({
	who: null,
	choose: () => {},
});

export const useWho = () => useContext(WhoContext);

/** Signs somebody in on this device beside those who are: with a PIN on the floor, with a passphrase anywhere. */
export function useJoin() {
	const cache = useQueryClient();
	return useCallback(
		async (crew: string, secret: string) => {
			const me = await ask(client.POST("/api/me/people", { body: { crew, secret } }));
			cache.setQueryData(["me"], me);
			await drain();
		},
		[cache],
	);
}

/** Signs the device out; what waits to be sent stays on it. */
export function useSignOut() {
	const cache = useQueryClient();
	return useCallback(async () => {
		await ask(client.POST("/api/sign-out"));
		// Nothing that was fetched for somebody stays for the next one.
		cache.clear();
		await forgetKept();
		location.assign("/");
	}, [cache]);
}

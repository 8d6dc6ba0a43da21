import { useQueryClient } from "@tanstack/react-query";
import { ask, client, type Schemas } from "./client";
import { useShop } from "./queries";

/** The shop's own figures, and how they are changed; a stale change shows what stands now. */
export function useSettings() {
	const shop = useShop();
	const cache = useQueryClient();
	const settings = shop.data?.settings;
	const save = async (next: Partial<Schemas["WorkSettings"]>) => {
		if (!settings) return;
		try {
			const headers = { "If-Match": `"${shop.data?.settings_revision}"` };
			await ask(client.PUT("/api/shop/settings", { body: { ...settings, ...next }, headers }));
		} finally {
			// Also where somebody else was quicker: then their figures are shown.
			await Promise.all(
				["shop", "side", "record", "walk", "film"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
			);
		}
	};
	return { settings, save };
}

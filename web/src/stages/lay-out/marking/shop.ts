import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { told } from "../../../api/client";

/** Changes something of the shop's; what it answers takes the place of what was fetched under that key. */
export function useShopSend(key: string) {
	const cache = useQueryClient();
	const [wrong, setWrong] = useState<string | null>(null);
	const send = async (call: Promise<unknown>): Promise<boolean> => {
		try {
			cache.setQueryData([key], await call);
			setWrong(null);
			await cache.invalidateQueries({ queryKey: ["marking"] });
			return true;
		} catch (error) {
			setWrong(told(error));
			// Somebody else may have changed it: show what stands.
			await cache.invalidateQueries({ queryKey: [key] });
			return false;
		}
	};
	return { wrong, send };
}

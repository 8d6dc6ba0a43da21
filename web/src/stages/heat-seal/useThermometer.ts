import { useEffect, useState } from "react";
import { type Shown, thermometers } from "../../api/live";
import { shopNow } from "../../offline/signal";

/** A thermometer that says nothing for so long is silent, ms. */
const SILENT = 3000;
/** What comes so long after it was read, or before, has no place: marks are stamped by the shop's clock, ms. */
const LATE = 5000;

/** What a thermometer shows as it comes, and whether it fell silent. */
export function useThermometer(device: string | null) {
	const [shown, setShown] = useState<{
		of: string;
		celsius: number;
		believed: boolean;
		heard: number;
		/** When the oldest of what came was read, by the shop's clock, ms. */
		from: number;
		late: number | null;
	} | null>(null);
	const [now, setNow] = useState(0);
	useEffect(() => {
		if (!device) return;
		const look = (told: Shown) => {
			if (told.device !== device) return;
			const late = shopNow() - Date.parse(told.at);
			setShown({
				of: device,
				celsius: told.celsius,
				believed: told.believed,
				heard: Date.now(),
				from: Date.parse(told.from),
				late: Math.abs(late) > LATE ? Math.round(late / 1000) : null,
			});
			setNow(Date.now());
		};
		thermometers.add(look);
		const timer = setInterval(() => setNow(Date.now()), 1000);
		return () => {
			thermometers.delete(look);
			clearInterval(timer);
		};
	}, [device]);
	if (!shown || shown.of !== device) return null;
	const silent = now - shown.heard > SILENT ? Math.round((now - shown.heard) / 1000) : null;
	return { ...shown, silent };
}

import { useSyncExternalStore } from "react";
import { KEPT_AT, KEPT_IN } from "./kept";

let keptAt: string | null = null;
let newer: ServiceWorker | null = null;
const listeners = new Set<() => void>();
const tell = () => {
	for (const listener of listeners) listener();
};
const listen = (listener: () => void) => {
	listeners.add(listener);
	return () => listeners.delete(listener);
};

/** A clock that is off by less than this is believed, ms: the shop tells the time in whole seconds, and a mark beside a thermometer's readings must not be later. */
const CLOCK = 5000;
const OFF_BY = "windrift.clock-off-by";

/** What the known difference may be off by and is kept, ms: it would jump with every answer otherwise, and two marks with it. */
const KEPT = 1000;

/**
 * By how much the shop's clock is ahead of this device's, ms, from an answer's Date and when it was asked for and came: the shop wrote its Date in whole seconds,
 * at some moment between. An answer that was long on its way says little.
 */
export function clockOffBy(date: string | null, asked: number, came: number, known = 0): number {
	const there = date ? Date.parse(date) : Number.NaN;
	if (Number.isNaN(there)) return known;
	const [least, most] = [there - came, there + 1000 - asked];
	const within = (off: number, slack: number) => least - slack <= off && off <= most + slack;
	if (known !== 0 && within(known, KEPT)) return known;
	return within(0, CLOCK) ? 0 : Math.round((least + most) / 2);
}

/** Now, by the shop's clock as far as it is known: a device whose clock is off stamps what it records all the same. */
export function shopNow(): number {
	return Date.now() + knownOffBy();
}

function knownOffBy(): number {
	try {
		return Number(localStorage.getItem(OFF_BY) ?? 0);
	} catch {
		return 0;
	}
}

/** Hears of every answer whether it came from the shop or was kept here; `asked` is when it was asked for, ms. */
export function heard(response: Response, asked: number) {
	const at = response.headers.get(KEPT_AT);
	if (!at && response.headers.has("Date")) {
		const off = clockOffBy(response.headers.get("Date"), asked, Date.now(), knownOffBy());
		try {
			if (off) localStorage.setItem(OFF_BY, String(off));
			else localStorage.removeItem(OFF_BY);
		} catch {
			// A browser that keeps nothing.
		}
	}
	if (at === keptAt) return;
	// The oldest of what is on the screen is what counts, until the shop itself answers again.
	keptAt = at && keptAt && keptAt < at ? keptAt : at;
	tell();
}

/** Since when what is shown is not the newest; nothing where the shop answers. */
export const useKeptAt = () => useSyncExternalStore(listen, () => keptAt);

/** A newer application that waits to take over. */
export const useNewer = () => useSyncExternalStore(listen, () => newer);

export function takeOver() {
	newer?.postMessage("take over");
}

/** Nothing of the shop stays on a device that is signed out. */
export const forgetKept = () => ("caches" in globalThis ? caches.delete(KEPT_IN) : Promise.resolve(false));

/** Registers what keeps the application on the device, where the browser can. */
export async function beReadyForNoSignal() {
	if (!("serviceWorker" in navigator) || !import.meta.env.PROD) return;
	try {
		let asked = false;
		const controlled = navigator.serviceWorker.controller !== null;
		const registration = await navigator.serviceWorker.register("/worker.js");
		const waits = () => {
			if (registration.waiting && controlled) {
				newer = registration.waiting;
				tell();
			}
		};
		waits();
		registration.addEventListener("updatefound", () =>
			registration.installing?.addEventListener("statechange", waits),
		);
		navigator.serviceWorker.addEventListener("controllerchange", () => {
			// The first one only takes up its work; a newer one comes with pages of its own.
			if (!controlled || asked) return;
			asked = true;
			location.reload();
		});
		// A page may stay open for days.
		setInterval(() => void registration.update().catch(() => {}), 3_600_000);
	} catch {
		// A private window, or a browser without: the application works as it does with a signal.
	}
}

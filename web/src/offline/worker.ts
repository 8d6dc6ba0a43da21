/**
 * Keeps the application, and what the floor needs of the jobs at hand, on the device: both load and reload without a signal. What is
 * recorded meanwhile waits in the outbox, not here.
 */
import { clientsClaim } from "workbox-core";
import { ExpirationPlugin } from "workbox-expiration";
import { createHandlerBoundToURL, type PrecacheEntry, precacheAndRoute } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";
import { NetworkFirst } from "workbox-strategies";
import { isKept, KEPT_AT, KEPT_FOR_S, KEPT_IN, MOST_KEPT } from "./kept";

/** The files of the application, written in when it is built. */
declare const __SHELL__: PrecacheEntry[];

precacheAndRoute(__SHELL__);
registerRoute(new NavigationRoute(createHandlerBoundToURL("/index.html"), { denylist: [/^\/api\//] }));
// From the first visit on: a phone is opened in the shop once.
clientsClaim();

registerRoute(
	({ url, sameOrigin }) => sameOrigin && isKept(url),
	new NetworkFirst({
		cacheName: KEPT_IN,
		// A signal that is there by name only.
		networkTimeoutSeconds: 8,
		plugins: [
			{
				fetchDidSucceed: async ({ request, response }) => {
					const own = response.headers.get("Content-Type")?.includes("json");
					// Somebody's sign-on page, or a gateway whose server is away: not the shop's own answer.
					const foreign = response.ok ? request.url.includes("/api/") && isPage(response) : !own;
					if (foreign) throw new Error("not the shop's server");
					// Signed out: nothing of the shop stays on the device.
					if (response.status === 401 && new URL(request.url).pathname === "/api/me")
						await caches.delete(KEPT_IN);
					return response;
				},
				cacheWillUpdate: async ({ response }) => {
					if (response.status !== 200) return null;
					const headers = new Headers(response.headers);
					headers.set(KEPT_AT, new Date().toISOString());
					return new Response(await response.blob(), { status: 200, headers });
				},
			},
			new ExpirationPlugin({ maxAgeSeconds: KEPT_FOR_S, maxEntries: MOST_KEPT, purgeOnQuotaError: true }),
		],
	}),
);

const isPage = (response: Response) => response.headers.get("Content-Type")?.includes("html") ?? false;

// A newer application waits until somebody says so, or until every page of the older one is closed: nothing is swapped under a hand.
addEventListener("message", (event) => {
	if ((event as MessageEvent).data === "take over")
		void (globalThis as unknown as { skipWaiting(): Promise<void> }).skipWaiting();
});

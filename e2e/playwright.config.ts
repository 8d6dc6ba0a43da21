import { defineConfig } from "@playwright/test";
import { CHROMIUM } from "./browser.mjs";

/** PostgreSQL is stopped under everybody in this one: it runs when the others are done. */
const STOPS_POSTGRESQL = /database-away/;

export default defineConfig({
	testDir: "tests",
	// One for each core. A file's walks run one after the other; what they change of the shop itself stands in one file each.
	workers: 2,
	fullyParallel: false,
	timeout: 90_000,
	// Two cores share the walks with everything else that is tested: how fast an answer is, benchmarks say.
	expect: { timeout: 25_000 },
	reporter: "list",
	outputDir: "test-results",
	use: {
		baseURL: process.env.WINDRIFT_URL,
		viewport: { width: 1280, height: 800 },
		// What is kept on the device is walked where it is meant: routes that a walk cuts off are not seen behind it.
		serviceWorkers: "block",
		launchOptions: CHROMIUM,
	},
	projects: [
		{ name: "walks", testIgnore: STOPS_POSTGRESQL },
		{ name: "database away", testMatch: STOPS_POSTGRESQL, dependencies: ["walks"] },
	],
});

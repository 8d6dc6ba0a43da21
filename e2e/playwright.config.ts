import { defineConfig } from "@playwright/test";
import { CHROMIUM } from "./browser.mjs";

export default defineConfig({
	testDir: "tests",
	workers: 1,
	fullyParallel: false,
	timeout: 60_000,
	expect: { timeout: 10_000 },
	reporter: "list",
	outputDir: "test-results",
	use: {
		baseURL: process.env.WINDRIFT_URL,
		viewport: { width: 1280, height: 800 },
		launchOptions: CHROMIUM,
	},
});

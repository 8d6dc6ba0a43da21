import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import tailwind from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { build, defineConfig, type Plugin } from "vite";

/** Files below a folder, by their path there. */
const below = (folder: string): string[] =>
	readdirSync(folder, { recursive: true, withFileTypes: true })
		.filter((f) => f.isFile())
		.map((f) => join(f.parentPath, f.name).slice(folder.length + 1));

/** What keeps the application on a device, built after it with the list of its files. */
function keptOnTheDevice(): Plugin {
	return {
		name: "kept-on-the-device",
		apply: "build",
		async closeBundle() {
			const files = below("dist").filter((f) => f !== "worker.js" && !f.startsWith("."));
			const shell = files.map((f) => ({
				url: `/${f}`,
				// Names under assets carry a hash of what is in them.
				revision: f.startsWith("assets/")
					? null
					: createHash("sha256")
							.update(readFileSync(join("dist", f)))
							.digest("hex")
							.slice(0, 16),
			}));
			await build({
				configFile: false,
				publicDir: false,
				logLevel: "warn",
				define: { __SHELL__: JSON.stringify(shell), "process.env.NODE_ENV": JSON.stringify("production") },
				build: {
					emptyOutDir: false,
					outDir: "dist",
					rollupOptions: {
						input: "src/offline/worker.ts",
						output: { format: "iife", entryFileNames: "worker.js" },
					},
				},
			});
		},
	};
}

export default defineConfig({
	plugins: [react(), tailwind(), keptOnTheDevice()],
	build: { chunkSizeWarningLimit: 1200 },
	server: { proxy: { "/api": "http://127.0.0.1:8123" } },
});

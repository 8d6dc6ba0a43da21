/// <reference types="vite/client" />
import { expect, test } from "vitest";

/** Colours of film are data: what stands on the shelf, what a new piece begins with. */
const DATA = ["FilmColour.tsx", "pieces.ts", "Words.tsx"];

const sources: Record<string, string> = import.meta.glob("../**/*.{ts,tsx}", {
	query: "?raw",
	import: "default",
	eager: true,
});
test("no colour is written out in a component: each names a token of the style sheet", () => {
	const components = Object.entries(sources).filter(
		([f]) => !f.includes(".test.") && !f.includes("/generated/") && !DATA.some((d) => f.endsWith(d)),
	);
	expect(components.length).toBeGreaterThan(60);
	const written = components.flatMap(([f, text]) =>
		[...text.matchAll(/["'[(]#[0-9a-f]{3,8}\b/gi)].map((m) => `${f} ${m[0]}`),
	);
	expect(written).toEqual([]);
	const named = components.flatMap(([f, text]) =>
		[...text.matchAll(/var\((--color-[a-z-]+)\)/g)].map((m) => [f, m[1]] as const),
	);
	expect(named.length).toBeGreaterThan(50);
});

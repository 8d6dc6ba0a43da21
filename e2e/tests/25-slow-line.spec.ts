import { connect, createServer, type Server, type Socket } from "node:net";
import { expect, test } from "@playwright/test";
import { asCrew, startJob } from "./shop";

/** What a press sends is this long on its way, ms. */
const LATE = 700;

/** A line on which everything arrives late; what its sender gives up meanwhile never arrives. */
function slowLine(to: URL, late: () => number): Promise<Server> {
	const line = createServer((here: Socket) => {
		const there = connect(Number(to.port), to.hostname);
		const waiting = new Set<NodeJS.Timeout>();
		here.on("data", (bytes) => {
			const timer = setTimeout(() => {
				waiting.delete(timer);
				if (!there.destroyed) there.write(bytes);
			}, late());
			waiting.add(timer);
		});
		there.on("data", (bytes) => here.destroyed || here.write(bytes));
		for (const end of [here, there]) {
			end.on("error", () => {});
			end.on("close", () => {
				for (const timer of waiting) clearTimeout(timer);
				here.destroy();
				there.destroy();
			});
		}
	});
	return new Promise((ready) => line.listen(0, "127.0.0.1", () => ready(line)));
}

test("on a slow line, what was pressed right before the tab is shut is kept", async ({
	browser,
	baseURL,
}) => {
	let late = 0;
	const line = await slowLine(new URL(baseURL ?? ""), () => late);
	const { port } = line.address() as { port: number };
	const context = await browser.newContext({ baseURL: `http://127.0.0.1:${port}`, serviceWorkers: "block" });
	try {
		const page = await context.newPage();
		await asCrew(page);
		await startJob(page, "Sandpiper Slowly");
		await page.getByRole("tab", { name: "Surface" }).click();
		const skin = page.getByLabel("The clear protective skin is still on");
		await expect(skin).not.toBeChecked();
		late = LATE;
		// It has left the page, and is still on its way when that is shut.
		const sent = page.waitForRequest((r) => r.method() === "PUT" && r.url().includes("/api/sides/"));
		await skin.click({ noWaitAfter: true });
		await sent;
		const where = page.url();
		await page.close();
		late = 0;
		const again = await context.newPage();
		await expect(async () => {
			await again.goto(where);
			await again.getByRole("tab", { name: "Surface" }).click();
			await expect(again.getByLabel("The clear protective skin is still on")).toBeChecked({ timeout: 1000 });
		}).toPass({ timeout: 20_000 });
	} finally {
		await context.close();
		line.close();
	}
});

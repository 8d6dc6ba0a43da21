import { type AddressInfo, connect, createServer, type Server, type Socket } from "node:net";
import { type Browser, expect, type Page, test } from "@playwright/test";
import { addLettering, asCrew, chooseWho, intoBay, nextMove, startJob } from "./shop";

/** The way to the shop's server, which can be cut: the browser's own switch does not reach what a service worker asks. */
class Signal {
	private readonly open = new Set<Socket>();
	private readonly server: Server;
	private there = true;
	port = 0;

	constructor(to: URL) {
		this.server = createServer((from) => {
			if (!this.there) return from.destroy();
			const on = connect(Number(to.port), to.hostname);
			for (const end of [from, on]) {
				this.open.add(end);
				end.on("error", () => {});
				end.on("close", () => {
					this.open.delete(end);
					from.destroy();
					on.destroy();
				});
			}
			from.pipe(on).pipe(from);
		});
	}

	async begin() {
		await new Promise<void>((done) => this.server.listen(0, "127.0.0.1", done));
		this.port = (this.server.address() as AddressInfo).port;
		return `http://127.0.0.1:${this.port}`;
	}

	cut() {
		this.there = false;
		for (const end of this.open) end.destroy();
	}

	back() {
		this.there = true;
	}

	end() {
		this.cut();
		this.server.close();
	}
}

/** A phone that reaches the shop over a signal that can be cut. */
async function phone(browser: Browser) {
	const signal = new Signal(new URL(process.env.WINDRIFT_URL ?? ""));
	const context = await browser.newContext({
		baseURL: await signal.begin(),
		serviceWorkers: "allow",
		viewport: { width: 390, height: 844 },
		hasTouch: true,
	});
	return { signal, context, page: await context.newPage() };
}

/** How many answers the device keeps that are of this address. */
const kept = (page: Page, part: string) =>
	page.evaluate(async (part) => {
		const keys = await (await caches.open("windrift-floor")).keys();
		return keys.filter((k) => k.url.includes(part)).length;
	}, part);

/** A job of one piece, issued, and carried by this device. */
async function carried(page: Page, customer: string) {
	await asCrew(page, "Maren");
	await page.evaluate(() => navigator.serviceWorker.ready);
	await startJob(page, customer);
	await page.goto(page.url().replace("look-over", "lay-out"));
	await addLettering(page, "PETREL");
	await page.goto(page.url().replace("lay-out", "hand-over"));
	await page.getByRole("button", { name: "Issue the plan" }).click();
	await expect(page.getByText(/Plan 1/).first()).toBeVisible();
	// Opened once in the shop; the rest it fetches by itself.
	await page.reload();
	await expect.poll(() => kept(page, "/lay-down"), { timeout: 30_000 }).toBeGreaterThan(0);
	await expect.poll(() => kept(page, "/remedies?heated=true"), { timeout: 30_000 }).toBeGreaterThan(0);
	const address = new URL(page.url());
	return { job: address.pathname.split("/")[2] ?? "", address };
}

test("a day without a signal: loads, reloads, goes through the floor, records, changes person, and all of it arrives once", async ({
	browser,
}) => {
	test.setTimeout(120_000);
	const { signal, context, page } = await phone(browser);
	const { job } = await carried(page, "Storm Petrel Pilots");
	await page.goto(`/jobs/${job}/heat-seal`);
	await intoBay(page, "Slip hall");
	await page.goto(`/jobs/${job}/hand-over`);
	signal.cut();
	const none = page.getByRole("status").filter({ hasText: "No signal." });
	for (const stage of [
		"hinge",
		"lay-down",
		"prep",
		"heat-seal",
		"strip",
		"look-over",
		"lay-out",
		"hand-over",
	]) {
		await page.goto(`/jobs/${job}/${stage}`);
		await expect(none, stage).toBeVisible();
		await expect(page.getByRole("heading", { name: /Storm Petrel Pilots/ }), stage).toBeVisible();
		await expect(page.getByText("cannot be reached"), stage).toHaveCount(0);
		await expect(page.getByText("This page cannot be shown"), stage).toHaveCount(0);
	}
	await page.goto(`/jobs/${job}/hinge`);
	await expect(nextMove(page)).toContainText("Read the tape");
	const wanted = (
		(await page
			.getByText(/^wanted/)
			.first()
			.textContent()) ?? ""
	).replace("wanted ", "");
	await page.getByLabel(/^Front flat/).fill(wanted);
	await page.getByLabel(/^Rear flat/).fill(wanted);
	await page.getByRole("button", { name: "Both read" }).click();
	const waits = page.getByRole("status").filter({ hasText: "waiting to be sent" });
	await expect(waits).toContainText("1 waiting");
	// What it says was worked out in the shop, for every pair of readings near what is wanted.
	await expect(nextMove(page)).toContainText("Both ends read right. Lock the hinge.");
	await expect(nextMove(page)).toContainText("Worked out before the signal went.");
	await page.getByRole("button", { name: "Lock it" }).dblclick();
	await expect(nextMove(page)).toContainText("Locked here");
	await expect(waits).toContainText("2 waiting");
	// Another person, on another stage, after the page was closed and opened again.
	await page.close();
	const again = await context.newPage();
	await again.goto("/");
	await expect(again.getByRole("heading", { name: "Yard" })).toBeVisible();
	await chooseWho(again, "Odd");
	await again.goto(`/jobs/${job}/look-over`);
	await again.getByRole("tab", { name: /Walk round/ }).click();
	await again.getByLabel("A doubt about the paint").fill("chalky above the door");
	const note = again.getByRole("button", { name: "Note it" });
	await note.click();
	await expect(again.getByRole("status").filter({ hasText: "3 waiting" })).toBeVisible();
	// A late second press finds the field empty: it is told here, and nothing waits that the shop would refuse in the evening.
	await again.waitForTimeout(1000);
	await note.click();
	await expect(again.getByText("Write what the doubt is, then note it.")).toBeVisible();
	await again.reload();
	await expect(again.getByRole("status").filter({ hasText: "3 waiting" })).toBeVisible();

	// What is ticked at Prep stands there, once, and the next step is told; what was wiped locks heat here although the shop does not know of it.
	await again.goto(`/jobs/${job}/prep`);
	const cleaning = again.getByRole("region", { name: "Clean in this order" });
	await cleaning.getByRole("button", { name: "alcohol: done" }).dblclick();
	await expect(cleaning.getByText("here, waits to be sent")).toHaveCount(1);
	await expect(nextMove(again)).toContainText("What was ticked here goes out when there is a signal.");
	const locked = again.getByRole("alert").filter({ hasText: /No heat until \d\d:\d\d: alcohol/ });
	await expect(locked).toBeVisible();
	await again.goto(`/jobs/${job}/heat-seal`);
	await expect(locked).toBeVisible();
	await again.reload();
	await expect(locked).toBeVisible();
	await expect(again.getByRole("status").filter({ hasText: "5 waiting" })).toBeVisible();

	signal.back();
	await expect(again.getByRole("status").filter({ hasText: "waiting" })).toHaveCount(0, { timeout: 20_000 });
	await expect(again.getByRole("status").filter({ hasText: "No signal." })).toHaveCount(0, {
		timeout: 20_000,
	});
	const record = await (await again.request.get(`/api/jobs/${job}/record`)).json();
	const told = record.entries.map((e: { who: string; what: string }) => `${e.who}: ${e.what}`);
	expect(told.filter((t: string) => t.startsWith("Maren: Read "))).toHaveLength(1);
	expect(told.filter((t: string) => t.startsWith("Maren: Hinge locked"))).toHaveLength(1);
	expect(told.filter((t: string) => t.includes("chalky above the door"))).toEqual([
		"Odd: Doubt about the paint: chalky above the door.",
	]);
	await context.close();
	signal.end();
});

test("signed out, a device keeps nothing of the shop", async ({ browser }) => {
	const { signal, context, page } = await phone(browser);
	const { job } = await carried(page, "Leach Laundry");
	await page.getByLabel("Who are you?").click();
	await page.getByRole("menuitem", { name: "Sign this device out" }).click();
	await expect(page.getByRole("heading", { name: "A made-up shop: come in." })).toBeVisible();
	expect(await kept(page, "/api/")).toBe(0);
	signal.cut();
	await page.goto(`/jobs/${job}/hinge`);
	await expect(page.getByRole("heading", { name: /Leach/ })).toHaveCount(0);
	await expect(page.getByText("Windrift cannot be reached")).toBeVisible();
	await context.close();
	signal.end();
});

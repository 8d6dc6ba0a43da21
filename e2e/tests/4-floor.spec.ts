import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import { addLettering, asCrew, atRest, nextMove, openJob, startJob, toStage } from "./shop";

test.describe("on a tablet, by touch", () => {
	test.use({ viewport: { width: 1024, height: 768 }, hasTouch: true });

	test("readings by keypad and drawn inch, targets for gloves, one reading fills the screen", async ({
		page,
	}) => {
		await asCrew(page, "Odd");
		await startJob(page, "Godwit Gardens");
		await toStage(page, "Lay out");
		await addLettering(page, "GODWIT");
		await page.getByRole("link", { name: "Hang it" }).tap();
		await page.getByLabel(/^Front flat/).tap();
		for (const key of ["1", "2"]) await page.getByRole("button", { name: key, exact: true }).tap();
		const tape = page.getByTestId("inch-tape");
		const box = await tape.boundingBox();
		if (!box) throw new Error("the tape is drawn");
		// Three quarters along the inch, between its two end marks 40 px inside.
		await page.touchscreen.tap(box.x + 40 + (box.width - 80) * 0.75, box.y + 30);
		await expect(page.getByLabel(/^Front flat/)).toHaveValue("12 3/4");
		await page.getByRole("button", { name: "+1/32" }).tap();
		await expect(page.getByLabel(/^Front flat/)).toHaveValue("12 25/32");
		await page.getByRole("button", { name: "take the last one back" }).tap();
		await expect(page.getByLabel(/^Front flat/)).toHaveValue("12");

		await page.getByRole("button", { name: "Fill the screen" }).tap();
		const reading = page.getByRole("dialog").locator("p");
		expect(await reading.evaluate((e) => Number.parseFloat(getComputedStyle(e).fontSize))).toBeGreaterThan(
			120,
		);
		await page.getByRole("button", { name: "Back" }).tap();

		// The floor's own controls: 64 px and text of 18 px or more.
		for (const target of await page.locator(".floor button, .floor input, .floor a").all()) {
			const size = await target.boundingBox();
			expect(size?.height, await target.evaluate((e) => e.outerHTML.slice(0, 120))).toBeGreaterThanOrEqual(
				64,
			);
		}
		const small = await page.locator(".floor").evaluate((floor) =>
			[...floor.querySelectorAll("*")]
				.filter((e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent?.trim()))
				.filter((e) => Number.parseFloat(getComputedStyle(e).fontSize) < 18 && !e.closest(".sr-only"))
				.map((e) => e.outerHTML.slice(0, 120)),
		);
		expect(small).toEqual([]);
		expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1024);
	});
});

const VIEWS: [string, (page: Page) => Promise<void>][] = [
	["yard", async () => {}],
	[
		"look over",
		async (page) => {
			await openJob(page, /Tideway/, "look-over");
			await page.getByRole("button", { name: /5 rivet columns/ }).click();
			await expect(page.getByLabel("Across a head")).toBeVisible();
		},
	],
	...["Shape", "Surface", "Walk round", "Hardware", "Photo"].map(
		(tab): [string, (page: Page) => Promise<void>] => [
			`look over, ${tab}`,
			async (page) => {
				await openJob(page, /Limpet/, "look-over");
				await page.getByRole("tab", { name: new RegExp(tab) }).click();
			},
		],
	),
	...["Readings", "Words and size", "Place", "Lands on"].map(
		(tab): [string, (page: Page) => Promise<void>] => [
			`lay out, ${tab}`,
			async (page) => {
				await openJob(page, /Tideway/, "lay-out");
				await page.getByRole("tab", { name: tab }).click();
			},
		],
	),
	[
		"hinge",
		async (page) => {
			await openJob(page, /Gannet/, "hinge");
			await expect(nextMove(page)).toContainText("Read the tape");
		},
	],
	[
		"hinge, tape and cuts",
		async (page) => {
			await openJob(page, /Tideway/, "hinge");
			await page.getByRole("tab", { name: "Tape and cuts" }).click();
		},
	],
	[
		"hinge, which hinge",
		async (page) => {
			await openJob(page, /Skerry/, "hinge");
			await page.getByRole("tab", { name: "Which hinge" }).click();
			await expect(page.getByRole("region", { name: "The others" })).toBeVisible();
		},
	],
	...["Strokes", "Try it", "Rivets", "Trouble"].map((tab): [string, (page: Page) => Promise<void>] => [
		`lay down, ${tab}`,
		async (page) => {
			await openJob(page, /Tideway/, "lay-down");
			await page.getByRole("tab", { name: new RegExp(tab) }).click();
			await expect(nextMove(page)).toBeVisible();
		},
	]),
	[
		"hand over",
		async (page) => {
			await openJob(page, /Tideway/, "hand-over");
			await expect(page.getByRole("region", { name: "The record" })).toBeVisible();
		},
	],
];

/** Opens every view at a size, and asks something of each. */
async function everyView(
	page: Page,
	size: { width: number; height: number },
	ask: (name: string) => Promise<void>,
) {
	await page.setViewportSize(size);
	await asCrew(page);
	for (const [name, go] of VIEWS) {
		await go(page);
		await atRest(page);
		const wide = await page.evaluate(() => document.documentElement.scrollWidth);
		expect(wide, name).toBeLessThanOrEqual(size.width);
		await ask(name);
	}
}

// The rules are asked at one size: what they ask of names, roles and contrast is the same at both, and they are slow.
test("every view at 1280 × 800 passes the accessibility rules and is not wider than the screen", async ({
	page,
}) => {
	test.setTimeout(180_000);
	await everyView(page, { width: 1280, height: 800 }, async (name) => {
		const found = await new AxeBuilder({ page }).withTags(["wcag2a", "wcag2aa", "wcag21aa"]).analyze();
		const told = found.violations.map(
			(v) => `${name}: ${v.id} ${v.help} ${v.nodes.map((n) => n.html.slice(0, 160)).join(" | ")}`,
		);
		expect(told).toEqual([]);
	});
});

test("no view at 1024 × 768 is wider than the screen", async ({ page }) => {
	test.setTimeout(180_000);
	await everyView(page, { width: 1024, height: 768 }, async () => {});
});

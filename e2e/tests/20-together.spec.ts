import { type Browser, expect, type Page, test } from "@playwright/test";
import { addLettering, asCrew, startJob, toStage } from "./shop";

/** Somebody else at a machine of their own. */
async function another(browser: Browser, name: string): Promise<Page> {
	const page = await (await browser.newContext({ baseURL: process.env.WINDRIFT_URL })).newPage();
	await asCrew(page, name);
	return page;
}

test("two people at one side see each other and what each does, without loading anew", async ({
	page,
	browser,
}) => {
	await asCrew(page, "Maren");
	await startJob(page, "Guillemot Gas");
	await toStage(page, "Lay out");
	const odd = await another(browser, "Odd");
	await odd.goto(page.url());
	await expect(odd.getByRole("list", { name: "Also here" })).toContainText(
		"Maren is on this side, in Lay out",
	);
	await expect(page.getByRole("list", { name: "Also here" })).toContainText(
		"Odd is on this side, in Lay out",
	);
	// What the one adds the other sees without loading anew; how soon is measured elsewhere.
	await addLettering(odd, "GUILLEMOT");
	await expect(page.getByRole("radio", { name: "GUILLEMOT" })).toBeVisible();
	// And the other way, in the yard too.
	const yard = await another(browser, "Pella");
	await expect(yard.getByRole("link", { name: /Guillemot Gas|Box truck/ }).first()).toBeVisible();
	await addLettering(page, "GAS");
	await expect(odd.getByRole("radio", { name: "GAS" })).toBeVisible();
	// Taken back by whoever did it: gone at the other one's as well.
	await page.getByRole("button", { name: "Undo" }).click();
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(odd.getByRole("radio", { name: /^GAS$|NEW LETTERING/ })).toHaveCount(0);
	// Who leaves is not there any more.
	await odd.getByRole("link", { name: "Windrift, back to the yard" }).click();
	await expect(page.getByRole("list", { name: "Also here" })).toHaveCount(0);
	await odd.context().close();
	await yard.context().close();
});

test("a piece that is dragged is not torn from one's hand", async ({ page, browser }) => {
	await asCrew(page, "Maren");
	await startJob(page, "Kittiwake Coal");
	await toStage(page, "Lay out");
	await addLettering(page, "COAL");
	const odd = await another(browser, "Odd");
	await odd.goto(page.url());
	await expect(odd.getByRole("radio", { name: "COAL" })).toBeVisible();
	const asked: string[] = [];
	page.on(
		"request",
		(r) => r.method() === "GET" && /\/api\/sides\/[^/]+$/.test(r.url()) && asked.push(r.url()),
	);
	// The hand is down on the picture, and stays so while the other one changes the side.
	const picture = await page.getByTestId("bench-picture").boundingBox();
	if (!picture) throw new Error("no picture");
	await page.mouse.move(picture.x + 30, picture.y + picture.height - 30);
	await page.mouse.down();
	asked.length = 0;
	await addLettering(odd, "KITTIWAKE");
	await page.waitForTimeout(1200);
	expect(asked).toEqual([]);
	await expect(page.getByRole("radio", { name: "KITTIWAKE" })).toHaveCount(0);
	await page.mouse.up();
	await expect(page.getByRole("radio", { name: "KITTIWAKE" })).toBeVisible();
	await odd.context().close();
});

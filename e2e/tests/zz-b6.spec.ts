import { expect, test } from "@playwright/test";
import {
	asCrew,
	chooseSide,
	laidAndOnPaper,
	layAll,
	nextMove,
	sayFeatures,
	startJob,
	toStage,
	typeLength,
} from "./shop";

for (const phone of [false, true])
	test.describe(phone ? "b6 phone" : "b6 desk", () => {
		test.use({ viewport: phone ? { width: 390, height: 844 } : { width: 1280, height: 800 } });
		test("half wrap", async ({ page }) => {
			test.setTimeout(120_000);
			const shot = (n: string) => page.screenshot({ path: `/tmp/look/b6-${phone ? "p" : "d"}-${n}.png` });
			await asCrew(page);
			await startJob(page, "Plover Taxi", undefined, "^Car");
			console.log(await page.getByLabel("Which side").textContent());
			await page.getByLabel("Which side").click();
			console.log(await page.getByRole("option").allTextContents());
			await page.keyboard.press("Escape");
			await sayFeatures(
				page,
				"door gap 60 back x1",
				"door gap 100 back x1",
				"body line along 30, 24; 160, 24; 1/2 deep 1 1/2 wide",
				"moulding 40 back 34 down 100 wide 2 high",
				"handle 90 back 28 down 8 wide 2 high",
			);
			await shot("1");
			await page.goto(page.url().replace("look-over", "lay-out"));
			await page.getByRole("button", { name: "Add something else" }).click();
			await page.getByRole("menuitem", { name: "A printed panel" }).click();
			await expect(page.getByTestId("piece-printed panel")).toBeVisible();
			await typeLength(page, "Width as trimmed", "110");
			await typeLength(page, "Height as trimmed", "20");
			await page.waitForLoadState("networkidle");
			await shot("2");
			await page.goto(page.url().replace("lay-out", "film"));
			await page.getByRole("tab", { name: "Where it stretches" }).click();
			console.log(
				(await page.getByRole("region", { name: "Where it stretches" }).innerText()).slice(0, 1200),
			);
			console.log((await page.getByRole("region", { name: "Edges" }).innerText()).slice(0, 1500));
			await shot("3");
			await page.getByRole("tab", { name: "By when" }).click();
			console.log((await page.getByRole("region", { name: "The whole job" }).innerText()).slice(0, 2000));
			await shot("4");
			await page.goto(page.url().replace("film", "lay-down").replace(/\?.*/, ""));
			await shot("5");
		});
	});

import { expect, test } from "@playwright/test";
import { asCrew, openJob } from "./shop";

test("a trailer's side is marked, proven best, changed by hand and audited at once", async ({ page }) => {
	await asCrew(page);
	await openJob(page, /Gannet/, "lay-out");
	await page.getByRole("tab", { name: "Marking" }).click();
	await expect(page.getByText("Measure from the rail to the ground first")).toBeVisible();
	await page.getByLabel(/above the ground/).fill("13' 2");
	// Weight and date are not known yet: never "not required".
	const required = page.getByRole("region", { name: "Whether it is required" });
	await expect(required).toContainText("Cannot tell whether marking is required.");
	await page.getByLabel("Overall width").fill("102");
	await page.getByLabel("Weight rating, kg").fill("heavy");
	await expect(page.getByRole("alert").first()).toContainText("“heavy” is no weight");
	await page.getByLabel("Weight rating, kg").fill("29500");
	await page.getByLabel("Built").fill("2015-03-01");
	await expect(required).toContainText("Marking is required.");
	await expect(required).toContainText("From memory: check against the text in force");
	const strips = page.getByRole("region", { name: "Strips" });
	const audit = page.getByRole("region", { name: "Audit" });
	await expect(strips).toContainText("Proven: no layout is better");
	await expect(audit).not.toContainText("✗ not kept");

	// By hand: fewer strips are less than half, and that is said at once.
	const before = await strips.getByRole("listitem").count();
	await strips.getByRole("button", { name: "Remove" }).nth(1).click();
	await expect(strips.getByRole("listitem")).toHaveCount(before - 1);
	await expect(audit).toContainText("✗ not kept Strips cover at least 50 %");
	await page.getByLabel("Strip 1 begins").fill("nonsense");
	await page.getByLabel("Strip 1 begins").press("Enter");
	await expect(page.getByRole("alert").first()).toContainText("nonsense");
	await strips.getByRole("button", { name: "Back to the best" }).click();
	await expect(strips.getByRole("listitem")).toHaveCount(before);
	await expect(audit).not.toContainText("✗ not kept");

	// The other rules ask their own clauses.
	await page.getByLabel("Rules").click();
	await page.getByRole("option", { name: /^UN Regulations/ }).click();
	await expect(required).toContainText("Cannot tell");
	await page.getByLabel("Category").click();
	await page.getByRole("option", { name: "O4" }).click();
	await page.getByLabel("Overall length").fill("53'");
	await expect(required).toContainText("The rear has a full contour, the sides a partial one");
	await expect(audit).toContainText("figure uncertain");
	await expect(audit).toContainText("White or yellow to the side");
});

import { expect, test } from "@playwright/test";
import {
	addFeature,
	addLettering,
	asCrew,
	chooseCrew,
	chooseSide,
	layAll,
	nextMove,
	openJob,
	startInTheYard,
	toStage,
	typeLength,
} from "./shop";

test("the whole path with the mouse, in inches", async ({ page }) => {
	await chooseCrew(page);
	await startInTheYard(page, "Petrel Laundry");

	// Look over: the body and the rivets, typed as they are read.
	const length = await typeLength(page, /Length along the top rail/, "20' 6");
	await expect(length).toHaveValue("20' 6");
	await addFeature(page, "Rivets and fasteners", "rivet column");
	await expect(page.getByLabel("How many columns")).toHaveValue("1");
	await typeLength(page, /to the first column/, "46 3/4");
	await page.getByLabel("How many columns").fill("4");
	await page.getByLabel("How many columns").press("Enter");
	// Four at that pitch fit the side; at a pitch of 10 ft they do not, which is told, and what was typed stays.
	await expect(page.getByRole("button", { name: /4 rivet columns/ })).toBeVisible();
	await typeLength(page, "Column to column", "10'");
	await expect(page.getByRole("alert").filter({ hasText: "Number 3 of these rivet columns" })).toBeVisible();
	await typeLength(page, "Column to column", "4'");
	await typeLength(page, /down to the first head/, "4");
	await typeLength(page, "Head to head", "4 1/2");
	await page.getByLabel("Heads in a column").fill("13");
	await page.getByLabel("Heads in a column").press("Enter");
	await expect(page.getByRole("button", { name: /4 rivet columns/ })).toBeVisible();

	// Lay out: words, size, place.
	await page.getByRole("link", { name: "Lay out", exact: true }).last().click();
	await addLettering(page, "PETREL");
	await page.getByRole("combobox", { name: "Typeface" }).click();
	await page.getByRole("option", { name: /Archivo Black/ }).click();
	await typeLength(page, "Capital height", "14");
	await page.getByRole("tab", { name: "Place" }).click();
	await typeLength(page, /down to the cap line/, "27-3/4");
	await page.getByRole("tab", { name: "Readings" }).click();
	const readings = page.getByTestId("readings");
	await expect(readings.getByRole("region", { name: "Front flat" })).toContainText("27 3/4");
	await expect(readings.getByRole("region", { name: "Front flat" })).toContainText("flat of P");

	// Moving it with the mouse moves the readings with it; letting go keeps it.
	const piece = page.getByTestId("piece-PETREL");
	await expect(piece).toHaveAttribute("aria-label", /first letter 18 back/);
	const box = await piece.boundingBox();
	if (!box) throw new Error("the piece is drawn");
	await page.mouse.move(box.x + 20, box.y + 20);
	await page.mouse.down();
	await page.mouse.move(box.x + 80, box.y + 30, { steps: 8 });
	await expect(nextMove(page)).not.toContainText("18 back");
	await page.mouse.up();
	await expect(piece).not.toHaveAttribute("aria-label", /first letter 18 back/);
	await page.reload();
	await expect(page.getByTestId("piece-PETREL")).not.toHaveAttribute("aria-label", /first letter 18 back/);
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(page.getByTestId("piece-PETREL")).toHaveAttribute("aria-label", /first letter 18 back/);

	// Every head of every column that it crosses is told.
	await page.getByRole("tab", { name: "Lands on" }).click();
	await expect(page.getByRole("region", { name: "Rivet columns" })).toContainText("Column 1, 46 3/4 back");

	// Hinge: tape and cuts, then both ends.
	await page.getByRole("link", { name: "Hang it" }).click();
	await page.getByRole("tab", { name: "Tape and cuts" }).click();
	await page.getByText("Every parting cut: 5").click();
	await expect(page.getByText("E | T")).toBeVisible();
	await page.getByRole("button", { name: "Read both ends" }).click();
	await page.getByLabel(/^Front flat/).fill("27 3/4");
	await page.getByLabel(/^Rear flat/).fill("27 7/8");
	await page.getByRole("button", { name: "Both read" }).click();
	await expect(nextMove(page)).toContainText(/Rear tape up/);
	await page.getByRole("button", { name: "Moved. Read again" }).click();
	await page.getByLabel(/^Front flat/).fill("27 3/4");
	await page.getByLabel(/^Rear flat/).fill("27 3/4");
	await page.getByRole("button", { name: "Both read" }).click();
	await page.getByRole("button", { name: "Lock it" }).click();
	await expect(nextMove(page)).toContainText("Locked with both ends right.");

	// Lay down: every stroke, then it lies.
	await page.getByRole("link", { name: "Lay down" }).last().click();
	await expect(page.getByRole("region", { name: "Proof" })).toContainText("No air is shut in");
	await layAll(page);
	await expect(nextMove(page)).toContainText("lies.");

	// Hand over: the packet, the outlines, the record.
	await page.getByRole("link", { name: "Hand over" }).last().click();
	await page.getByRole("button", { name: "Issue the plan" }).click();
	await expect(nextMove(page)).toContainText("Plan 1, issued by Maren.");
	const packet = page.getByRole("link", { name: "Open the packet" });
	const pdf = await page.request.get((await packet.getAttribute("href")) ?? "");
	expect(pdf.headers()["content-type"]).toBe("application/pdf");
	const record = page.getByRole("region", { name: "The record" });
	await expect(record).toContainText("5 entries, whole");
	await expect(record).toContainText("27 7/8 at the flat of L");

	// What the paper says of its newest entry is compared with the record: the same, another entry's, and one that is none.
	const newest = ((await record.textContent()) ?? "").match(/Newest ([0-9a-f]{12})/)?.[1] ?? "";
	await record.getByText("Proof that the record is whole").click();
	await record.getByText("Compare with a printed packet").click();
	const compared = record.getByRole("form", { name: "Compare with a printed packet" });
	await expect(compared.getByRole("button", { name: "Compare" })).toBeDisabled();
	for (const [entry, hash, says] of [
		["5", newest.toUpperCase(), "5 entries, whole, and the paper's is among them."],
		["4", newest, "not with this paper"],
		["999999999", newest, "not with this paper"],
		["5", "no such hash", "not with this paper"],
	] as const) {
		await compared.getByLabel("Newest entry, its number").fill(entry);
		await compared.getByLabel("What stands after it, from its beginning").fill(hash);
		await compared.getByRole("button", { name: "Compare" }).click();
		await expect(compared.getByRole("status")).toContainText(says);
	}
});

test("a side in millimetres, right side, centred, moved by arrow keys", async ({ page }) => {
	await asCrew(page, "Odd");
	await startInTheYard(page, "Skua Cycles", "millimetres", "Delivery box");
	await chooseSide(page, /curb side/);
	await typeLength(page, /Length along the top rail/, "3600");
	await toStage(page, "Lay out");
	await addLettering(page, "SKUA");
	await page.getByRole("tab", { name: "Place" }).click();
	await page.getByLabel(/^Along the/).click();
	await page.getByRole("option", { name: "centred between two edges" }).click();
	await page.getByRole("tab", { name: "Readings" }).click();
	const piece = page.getByTestId("piece-SKUA");
	const back = async () =>
		Number(/first letter (\d+) mm/.exec((await piece.getAttribute("aria-label")) ?? "")?.[1] ?? Number.NaN);
	await expect.poll(back).toBeGreaterThan(1800);
	const before = await back();
	// To the picture's right is towards the front on this side: the first letter comes nearer.
	await piece.focus();
	await page.keyboard.press("ArrowRight");
	await page.keyboard.press("ArrowRight");
	await page.keyboard.press("ArrowRight");
	await expect.poll(back).toBeLessThan(before);
	await page.waitForTimeout(1500);
	await page.reload();
	expect(before - (await back())).toBeGreaterThanOrEqual(2);
	expect(before - (await back())).toBeLessThanOrEqual(4);
});

test("all nine stages stand in the rail, and each opens", async ({ page }) => {
	await asCrew(page);
	await openJob(page, /Tideway/, "look-over");
	const rail = page.getByRole("navigation", { name: "Stages of the job" });
	await expect(rail.getByRole("link")).toHaveCount(9);
	for (let n = 0; n < 9; n++) {
		await rail.getByRole("link").nth(n).click();
		await expect(rail.getByRole("link").nth(n)).toHaveAttribute("aria-current", "step");
		await expect(page.getByTestId("next-move")).not.toBeEmpty();
	}
});

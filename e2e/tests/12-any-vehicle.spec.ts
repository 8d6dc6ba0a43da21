import { expect, test } from "@playwright/test";
import {
	addLettering,
	addPrint,
	asCrew,
	chooseSide,
	laidAndOnPaper,
	layAll,
	nextMove,
	packetOf,
	startJob,
	toStage,
	typeLength,
} from "./shop";

/** Jobs on vehicles of anybody, from an empty job to readings and paper. */
test.describe.configure({ mode: "parallel" });

test("a utility trailer: two lines with a drop shadow, each film levelled by itself, the other side made the same", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Curlew Haulage", "inches to 1/16", "Utility trailer");
	await typeLength(page, /Length along the top rail/, "12'");
	await typeLength(page, /Rail falls/, "3/4");
	await toStage(page, "Lay out");
	await addLettering(page, "CURLEW HAULS");
	// It lies on the side, as large as there is room for.
	await expect(nextMove(page)).not.toContainText("stands over");
	const words = page.getByLabel("Words", { exact: true });
	await words.fill("CURLEW\nHAULS");
	await words.press("Enter");
	await typeLength(page, "Capital height", "4");
	await page.getByRole("checkbox", { name: "Drop shadow" }).click();
	await typeLength(page, /down/i, "3/8");
	await expect(page.getByTestId("piece-CURLEW HAULS, shadow")).toBeVisible();
	await page.getByRole("tab", { name: "Place" }).click();
	await typeLength(page, /cap line/, "3");
	await page.getByRole("tab", { name: "Readings" }).click();
	const flat = page.getByTestId("readings").getByRole("region", { name: "Front flat" });
	await expect(flat).toContainText("3");
	const face = await flat.locator("p").first().textContent();
	await page.getByRole("radio", { name: "CURLEW HAULS, shadow" }).click();
	await expect(flat.locator("p").first()).not.toHaveText(face ?? "");

	// Under goes first: the shadow is what is hung.
	await toStage(page, "Hinge");
	await expect(page.getByRole("radio", { name: "CURLEW HAULS, shadow" })).toBeChecked();
	await expect(nextMove(page)).toContainText("3 3/8");
	for (const end of [/^Front flat/, /^Rear flat/])
		await page.getByRole("textbox", { name: end }).fill("3 3/8");
	await page.getByRole("button", { name: "Both read" }).click();
	await page.getByRole("button", { name: "Lock it" }).click();
	await toStage(page, "Lay down");
	await page.getByRole("radio", { name: "CURLEW HAULS, shadow" }).click();
	await layAll(page);
	await expect(nextMove(page)).toContainText("lies.");
	// Then the face over it.
	await page.getByRole("radio", { name: "CURLEW HAULS", exact: true }).click();
	await layAll(page);
	await expect(nextMove(page)).toContainText("lies.");

	// The other side: what differs is told, the shape is taken over.
	await toStage(page, "Look over");
	await chooseSide(page, /curb/);
	await page.getByRole("button", { name: "Same as the other side" }).click();
	const sheet = page.getByRole("dialog");
	await expect(sheet.getByRole("row", { name: /fall/ })).toContainText("3/4");
	await sheet.getByRole("button", { name: "Take its shape over" }).click();
	await expect(sheet).toContainText("are the same as on the street side");
	await sheet.getByRole("button", { name: "Done" }).click();
	await expect(page.getByTestId("bench-work").getByRole("textbox", { name: /Rail falls/ })).toHaveValue(
		"3/4",
	);

	const packet = await packetOf(page);
	expect(packet.match(/Laid down with \d+ strokes/g)?.length ?? 0).toBeGreaterThan(1);
	// Both films, each with its strokes and what they press at a time.
	for (const film of ["CURLEW HAULS, shadow", "CURLEW HAULS"])
		expect(packet).toContain(`\u201c${film}\u201d: strokes`);
});

test("a coupe: a pair of stripes along its centreline, tapering over hood, roof and tail, the same to both edges", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Sanderling Coupes", "inches to 1/16", "^Car$");
	await chooseSide(page, /hood/);
	await toStage(page, "Lay out");
	await page.getByRole("button", { name: "Add something else" }).click();
	await page.getByRole("menuitem", { name: "A stripe over several parts" }).click();
	const sheet = page.getByRole("dialog");
	await sheet.getByRole("checkbox", { name: /roof/ }).check();
	await sheet.getByRole("checkbox", { name: /tail/ }).check();
	for (const [label, text] of [
		["Width at the very front", "10"],
		["Width at the very rear", "8"],
	] as const) {
		await sheet.getByLabel(label).fill(text);
		await sheet.getByLabel(label).press("Enter");
	}
	// Pressed twice it is laid once.
	await sheet.getByRole("button", { name: "Lay it over 3 parts" }).dblclick();
	await expect(page.getByTestId("piece-stripe")).toHaveCount(1);
	const across = page.getByTestId("readings").getByRole("region", { name: "Across the vehicle" });
	for (const end of await across.getByRole("listitem").all()) {
		const [, left, , right] = await end
			.locator("b")
			.allTextContents()
			.then((all) => (all.length === 4 ? all : ["", ...all]));
		expect(left).toBe(right);
	}
	await expect(across.getByRole("listitem")).toHaveCount(2);
	await chooseSide(page, /tail/);
	await expect(across.getByRole("listitem")).toHaveCount(2);
	const packet = await laidAndOnPaper(page);
	expect(packet.match(/\u201cstripe\u201d: strokes/g)?.length ?? 0).toBeGreaterThan(2);
});

test("a car's half wrap: gaps, mouldings and handles are worked, and each edge has its own bleed", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Whinchat Wraps", "inches to 1/16", "^Car$");
	// What usually stands on such a side is put there as it is offered.
	await page.getByRole("tab", { name: /^On it/ }).click();
	const quick = page.getByRole("textbox", { name: /Quick words/ });
	for (const kind of ["door gap", "door gap", "moulding", "handle"]) {
		await page.getByRole("button", { name: kind, exact: true }).first().click();
		await quick.press("Enter");
		await expect(quick).toHaveValue("");
	}
	await toStage(page, "Lay out");
	await addPrint(page);
	await page.getByLabel("Bleed is given for").click();
	await page.getByRole("option", { name: "each edge by itself" }).click();
	await typeLength(page, "Bleed above", "0");
	await typeLength(page, "Width as trimmed", "8 ft");
	await page.getByRole("tab", { name: "Lands on" }).click();
	await expect(page.getByRole("list", { name: "What the print meets" })).toContainText(
		/gap|moulding|arch|glass/i,
	);
	await expect(nextMove(page)).not.toContainText("Move the piece");
	const packet = await laidAndOnPaper(page);
	expect(packet).toContain("Cut down the middle of the gap and turn both edges in");
	expect(packet).toContain("Work over it: thumb the crease first");
});

test.describe("by touch", () => {
	test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

	test("a figure in the picture opens keys and the drawn inch, and what is kept stands", async ({ page }) => {
		await asCrew(page);
		await startJob(page, "Brambling Boards", "inches to 1/16", "Board or sign");
		const height = page.getByTestId("bench-picture").getByRole("textbox").first();
		await height.tap();
		const keys = page.getByTestId("touch-entry");
		await expect(keys).toBeVisible();
		const own = await height.boundingBox();
		const sheet = await keys.boundingBox();
		expect((own?.y ?? 999) + (own?.height ?? 0)).toBeLessThanOrEqual(sheet?.y ?? 0);
		const before = await height.inputValue();
		await keys.getByRole("button", { name: "+1/32" }).tap();
		await expect(height).not.toHaveValue(before);
		await keys.getByRole("button", { name: "−1/32" }).tap();
		await keys.getByRole("button", { name: "take the last one back" }).tap();
		await keys.getByRole("button", { name: "8", exact: true }).tap();
		const typed = await height.inputValue();
		await keys.getByRole("button", { name: "Keep it" }).tap();
		await expect(keys).toHaveCount(0);
		await expect(height).toHaveValue(typed);
	});
});

test("a box body with old lettering: film over it is told to lift, no spot on it is offered, and stripped it is in nobody's way", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Redshank Removals");
	await page.getByRole("tab", { name: /^On it/ }).click();
	const quick = page.getByRole("textbox", { name: /Quick words/ });
	await quick.fill('ghost 12 back 20 down 8\' x 14 called "old name"');
	await quick.press("Enter");
	await expect(page.getByRole("region", { name: "old name" })).toBeVisible();
	await toStage(page, "Lay out");
	await addLettering(page, "REDSHANK");
	await page.getByRole("tab", { name: "Place" }).click();
	await typeLength(page, /cap line/, "22");
	await typeLength(page, /first letter/, "3'");
	await expect(nextMove(page)).toContainText(
		"Film lies on the old name, and would lift with it. Strip that first",
	);
	await page.getByRole("tab", { name: "Better spot" }).click();
	const spots = page.getByRole("listitem").filter({ hasText: /^Spot \d/ });
	await expect(page.getByRole("listitem", { name: "Wanted spot" })).toContainText("keep off");
	for (const spot of await spots.all()) await expect(spot).not.toContainText("⊗");
	await toStage(page, "Look over");
	await page.getByRole("tab", { name: /^On it/ }).click();
	await page.getByRole("button", { name: /old name/ }).click();
	await page.getByLabel("Before film").click();
	await page.getByRole("option", { name: "it comes off for good" }).click();
	await expect(page.getByLabel("Before film")).toContainText("it comes off for good");
	await toStage(page, "Lay out");
	await expect(nextMove(page)).toContainText("22 at both flats");
	// Script has nothing to read to: two marks are cut with it.
	await page.getByRole("tab", { name: "Words and size" }).click();
	await page.getByRole("combobox", { name: "Typeface" }).click();
	await page.getByRole("option", { name: /Pacifico/ }).click();
	await expect(nextMove(page)).toContainText("at both marks");
});

import { readFileSync } from "node:fs";
import { expect, type Page, test } from "@playwright/test";
import { addFeature, asCrew, chooseSide, nextMove, openJob, startJob, toStage, typeLength } from "./shop";

const DATA = "../crates/formats/tests/data";

async function at(page: Page, x: number, y: number) {
	const box = await page.getByTestId("viewport").boundingBox();
	if (!box) throw new Error("the picture is drawn");
	return [box.x + box.width * x, box.y + box.height * y] as const;
}

test("a side by readings: the shape appears as it is typed, crossings are named, nothing is half-saved", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Plover Plant", "inches to 1/16", "Machine");
	await page.getByRole("radio", { name: "By readings" }).click();
	const list = page.getByLabel(/one reading a line/);
	await list.fill("0, 0\n6' 2, 0\n0, 31 1/2\n6' 2, 40");
	await expect(page.getByRole("alert").filter({ hasText: "crosses itself" })).toBeVisible();
	await expect(page.getByRole("button", { name: "Take this outline" })).toBeDisabled();
	await list.fill("0, 0\n6' 2, 0\n6' 2, 27 3/0");
	await expect(
		page.getByRole("alert").filter({ hasText: "Line 3: A fraction cannot be over 0" }),
	).toBeVisible();
	await list.fill("0, 0\n6' 2, 0\n6' 2, 31 1/2\n0, 40");
	await page.getByRole("button", { name: "Take this outline" }).click();
	await expect(page.getByText("Outline by readings")).toBeVisible();
	await page.reload();
	await expect(nextMove(page)).toContainText("Measure what is on it");
	await expect(page.getByTestId("viewport")).toHaveAttribute("aria-label", /6' 2 long/);
});

test("features by mouse: chosen in the picture, dragged onto a reading, copied, guarded, undone", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Sandpiper Signs", "millimetres", "Delivery box");
	await addFeature(page, "Seams, gaps, lines", "seam");
	await typeLength(page, /to the first/, "1200");
	await addFeature(page, "What film keeps off", "socket");
	await typeLength(page, /Front edge to its middle/, "800");
	await expect(
		page.getByTestId("bench-work").getByRole("textbox", { name: /Front edge to its middle/ }),
	).toHaveValue("800 mm");
	await page.getByRole("button", { name: "Whole" }).click();
	await page.evaluate(() => scrollTo(0, 0));

	// Drag the socket to within reach of the seam: it takes the seam's reading.
	const where = await page.evaluate(() => {
		const mark = document.querySelector('[data-testid="chosen"] path');
		const box = mark?.getBoundingClientRect();
		return box && { x: box.x + box.width / 2, y: box.y + box.height / 2, scale: box.width };
	});
	if (!where) throw new Error("the chosen one is marked");
	const picture = await page.getByTestId("viewport").boundingBox();
	const seam = await page.evaluate(() => {
		const line = [...document.querySelectorAll('[data-testid="viewport"] svg')][0]?.querySelectorAll(
			"path",
		)[1];
		const box = line?.getBoundingClientRect();
		return box && box.x + box.width / 2;
	});
	if (!picture || !seam) throw new Error("the seam is drawn");
	await page.mouse.move(where.x, where.y);
	await page.mouse.down();
	await page.mouse.move(where.x + (seam - where.x) * 0.5, where.y, { steps: 4 });
	await page.mouse.move(seam + 0.4, where.y, { steps: 4 });
	await expect(nextMove(page)).toContainText("In line upright with the seam.");
	await page.mouse.up();
	await expect(
		page.getByTestId("bench-work").getByRole("textbox", { name: /Front edge to its middle/ }),
	).toHaveValue("1200 mm");
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(
		page.getByTestId("bench-work").getByRole("textbox", { name: /Front edge to its middle/ }),
	).toHaveValue("800 mm");
	await page.getByRole("button", { name: "Redo" }).click();
	await expect(
		page.getByTestId("bench-work").getByRole("textbox", { name: /Front edge to its middle/ }),
	).toHaveValue("1200 mm");

	// Copied to the mirror side at the same distances.
	await page.getByRole("button", { name: "Copy to the other side" }).click();
	await chooseSide(page, /curb side/);
	await page.getByRole("button", { name: /^socket/i }).click();
	await expect(
		page.getByTestId("bench-work").getByRole("textbox", { name: /Front edge to its middle/ }),
	).toHaveValue("1200 mm");

	// Repeated by pitch, both typed in one go; off the side it is told and nothing changes.
	await typeLength(page, "From one to the next", "900");
	await page.getByLabel("How many along").fill("4");
	await page.getByLabel("How many along").press("Enter");
	await expect(page.getByRole("alert").filter({ hasText: "Number 4 of these sockets" })).toBeVisible();
	await page.reload();
	await page.getByRole("button", { name: /^socket/i }).click();
	await expect(page.getByLabel("How many along")).toHaveValue("1");
});

test("the picture is panned, zoomed and tapped by touch", async ({ browser }) => {
	const context = await browser.newContext({ hasTouch: true, viewport: { width: 1024, height: 768 } });
	const page = await context.newPage();
	await asCrew(page);
	await openJob(page, /Gannet/, "look-over");
	await chooseSide(page, /rear/);
	await expect(page.getByRole("tab", { name: "On it (9)" })).toBeVisible();
	const [x, y] = await at(page, 0.5, 0.45);
	for (let n = 0; n < 2; n++) await page.getByRole("button", { name: "Nearer" }).tap();
	await page.touchscreen.tap(x, y);
	// A lock rod or the gap stands in the middle: something was chosen by the tap.
	await expect(page.locator('[aria-label="What is on it"] [aria-pressed=true]')).toHaveCount(1);
	await page.getByRole("button", { name: "Whole" }).tap();
	await context.close();
});

test("sides: added from a shape, mirrored, kept as a template, removed and brought back in one go", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Curlew Camping", "inches to 1/16", "Travel trailer");
	await addFeature(page, "What film keeps off", "vent");
	await page.getByRole("tab", { name: "Shape" }).click();
	await page.getByLabel("Keep it as the shop's template").fill("Curlew side");
	await page.getByRole("button", { name: "Keep", exact: true }).click();
	await expect(page.getByRole("status").filter({ hasText: "Kept as “Curlew side”" })).toBeVisible();

	await page.getByLabel("Which side").click();
	await page.getByRole("option", { name: /Add a side/ }).click();
	const dialog = page.getByRole("dialog", { name: "Add a side" });
	await dialog.getByLabel("Start from").click();
	await page.getByRole("option", { name: /Curlew side/ }).click();
	await dialog.getByLabel("Called").fill("demo wall");
	const download = page.waitForEvent("download");
	await dialog.getByRole("link", { name: "Save the template as a file" }).click();
	const file = readFileSync(await (await download).path(), "utf8");
	expect(JSON.parse(file).format).toBe("windrift-side-template");
	await dialog.getByRole("button", { name: "Add it" }).click();
	await expect(page.getByLabel("Which side")).toContainText("demo wall");
	await expect(page.getByRole("tab", { name: "On it (1)" })).toBeVisible();

	await page.getByRole("tab", { name: "Shape" }).click();
	await page.getByRole("button", { name: "Remove this side" }).click();
	await expect(page.getByLabel("Which side")).not.toContainText("demo wall");
	await page.getByRole("button", { name: "Undo" }).click();
	await chooseSide(page, /demo wall/);
	await expect(page.getByRole("tab", { name: "On it (1)" })).toBeVisible();
});

test("an outline from a drawing file: unit, one measured length, what was not used", async ({ page }) => {
	await asCrew(page);
	await startJob(page, "Avocet Bodies", "inches to 1/16", "Box truck");
	await page.getByRole("radio", { name: "From a drawing file" }).click();
	await page.getByLabel("Drawing file, SVG or DXF").setInputFiles(`${DATA}/drawings/box-of-lines-inches.dxf`);
	await expect(page.getByText("24' 0 × 7' 2")).toBeVisible();
	const within = page.getByRole("list", { name: "Within it" });
	await expect(within.getByRole("listitem")).toHaveCount(1);
	await page.getByLabel("Its length as the tape says").fill("24' 0 1/2");
	await page.getByLabel("Its length as the tape says").press("Enter");
	await expect(page.getByText(/scaled by \+0\.2 % to the tape/)).toBeVisible();
	await page.getByRole("button", { name: "Take this outline" }).click();
	await expect(page.getByText(/read from box-of-lines-inches.dxf/)).toBeVisible();
	// What closes within it is offered, and is there once somebody says yes to it.
	await page.getByRole("tab", { name: /^On it/ }).click();
	const seen = page.getByRole("paragraph").filter({ hasText: "Seen in the file" });
	await seen.getByRole("button").click();
	await page.getByRole("textbox", { name: /Quick words/ }).press("Enter");
	await expect(page.getByRole("tab", { name: "On it (1)" })).toBeVisible();
	await expect(seen).toHaveCount(0);
	await page.getByRole("tab", { name: "Shape" }).click();
	await page.getByRole("radio", { name: "From a drawing file" }).click();
	await page.getByLabel("Drawing file, SVG or DXF").setInputFiles({
		name: "side.svg",
		mimeType: "image/svg+xml",
		buffer: Buffer.from("%PDF-1.4"),
	});
	await expect(page.getByRole("alert").filter({ hasText: "neither SVG nor DXF" })).toBeVisible();
});

test("the walk round: found by a tap, with a photo, signed, changed after, hardware off and on", async ({
	page,
}) => {
	await asCrew(page, "Odd");
	await startJob(page, "Knot & Sons");
	await addFeature(page, "What film keeps off", "badge");
	await page.getByRole("tab", { name: /Walk round/ }).click();
	await page.evaluate(() => scrollTo(0, 0));
	const [x, y] = await at(page, 0.45, 0.5);
	await page.mouse.click(x, y);
	await expect(page.getByLabel("Back", { exact: true })).toHaveValue(/^\d+ mm$/);
	await page.getByLabel("How large").fill("1 1/2");
	await page.getByLabel("A word about it").fill("stone");
	await page.getByLabel("Photo of it").setInputFiles(`${DATA}/photos/turned.jpg`);
	await page.getByRole("button", { name: "Found it" }).click();
	const found = page.getByRole("region", { name: "Found on this side" });
	await expect(found).toContainText("1 1/2");
	await expect(found.getByRole("img", { name: /dent, number 1/ })).toBeVisible();
	await page.getByLabel("Photo of it").setInputFiles({
		name: "photo.jpg",
		mimeType: "image/jpeg",
		buffer: Buffer.from("not a picture at all"),
	});
	await page.getByLabel("How large").fill("1");
	await page.getByRole("button", { name: "Found it" }).click();
	await expect(page.getByRole("alert").filter({ hasText: "not a photo" })).toBeVisible();

	await page.getByRole("button", { name: "Sign", exact: true }).click();
	const dialog = page.getByRole("dialog", { name: "The customer's word" });
	await dialog.getByLabel("Name").fill("R. Knot");
	await dialog.getByRole("button", { name: "Signed" }).click();
	await expect(dialog.getByRole("alert")).toContainText("There is no signature yet");
	const pad = await dialog.getByTestId("signature").boundingBox();
	if (!pad) throw new Error("the box is drawn");
	await page.mouse.move(pad.x + 60, pad.y + 100);
	await page.mouse.down();
	for (let n = 1; n < 14; n++) await page.mouse.move(pad.x + 60 + n * 20, pad.y + 100 + (n % 2) * 30);
	await page.mouse.up();
	await dialog.getByRole("button", { name: "Signed" }).click();
	await expect(page.getByText("R. Knot signed for 1 finding")).toBeVisible();

	await found.getByRole("button", { name: "Strike" }).click();
	await page.getByLabel("Why was it wrong?").fill("It was mud");
	await page.getByRole("button", { name: "Strike it" }).click();
	await expect(nextMove(page)).toContainText("Findings changed since the customer signed.");

	await page.getByRole("tab", { name: "Hardware" }).click();
	await page.getByRole("button", { name: "It is off" }).click();
	await expect(page.getByText("off, must go back")).toBeVisible();
	await page
		.getByRole("navigation", { name: "Stages of the job" })
		.getByRole("link", { name: /^Hand over/ })
		.click();
	await expect(page.getByRole("region", { name: "Hardware" })).toContainText("must go back");
	await page.getByRole("button", { name: "It is on again" }).click();
	await expect(page.getByRole("region", { name: "Hardware" })).toContainText("on again");
});

test("a photo is squared up under the picture, and three points on a line are refused", async ({ page }) => {
	await asCrew(page);
	await startJob(page, "Dunnock Vans");
	await page.getByRole("tab", { name: "Photo" }).click();
	await page.getByLabel("Choose a photo").setInputFiles(`${DATA}/photos/tilted.png`);
	const handle = page.getByRole("button", { name: /Lower rear point/ });
	await expect(handle).toBeVisible();
	const fields = page.getByRole("group", { name: "Lower rear point" });
	await fields.getByLabel("Down").fill("0");
	await page.getByRole("button", { name: "Square it up" }).click();
	await expect(page.getByRole("alert").filter({ hasText: "lie on one line as measured" })).toBeVisible();
	await fields.getByLabel("Down").fill("7' 2");
	await handle.focus();
	await page.keyboard.press("ArrowDown");
	await page.getByRole("button", { name: "Square it up" }).click();
	const under = page.locator('[data-testid="viewport"] image');
	await expect(under).toHaveCount(1);
	// A fifth point, measured where it is not seen, says that this photo is not to be measured in.
	const fifth = page.getByRole("group", { name: /^A fifth point/ });
	await fifth.getByLabel("Back").fill("6'");
	await fifth.getByLabel("Down").fill("18");
	await page.getByRole("button", { name: "Square it up" }).click();
	await expect(page.getByText("do not measure in this one")).toBeVisible();
	// What is under the finger is shown magnified.
	await expect(page.getByTestId("lens")).toHaveCount(0);
	await handle.hover();
	await page.mouse.down();
	await expect(page.getByTestId("lens")).toBeVisible();
	await page.mouse.up();
	// It lies under Lay out too, when that is wished.
	await toStage(page, "Lay out");
	const laid = page.locator('[data-testid="side-picture"] image');
	await expect(laid).toHaveCount(0);
	await page.getByRole("button", { name: "With the photo under it" }).click();
	await expect(laid).toHaveCount(1);
	await toStage(page, "Look over");
	await page.getByRole("tab", { name: "Photo" }).click();
	await page.getByRole("button", { name: "Take it away" }).click();
	await expect(under).toHaveCount(0);
});

test("paint that still cures is said where the work begins", async ({ page }) => {
	await asCrew(page);
	await startJob(page, "Whinchat Works");
	await page.getByRole("tab", { name: "Surface" }).click();
	await page.getByLabel("Paint or gelcoat").click();
	await page.getByRole("option", { name: "sprayed again" }).click();
	await expect(nextMove(page)).toContainText("Nobody knows when it was sprayed");
	// Digit by digit, as it is typed: the years 2, 20 and 202 on the way are never taken for the day.
	const sprayed = page.getByLabel("Sprayed on");
	await sprayed.pressSequentially("0115202", { delay: 60 });
	await page.waitForTimeout(1500);
	await expect(nextMove(page)).toContainText("Nobody knows when it was sprayed");
	await sprayed.press("Enter");
	await expect(page.getByRole("alert").filter({ hasText: "typed in four digits" })).toBeVisible();
	await expect(sprayed).toHaveValue("0202-01-15");
	await sprayed.fill("");
	await sprayed.blur();
	await expect(page.getByRole("alert").filter({ hasText: "typed in four digits" })).toHaveCount(0);
	await sprayed.pressSequentially("01152024", { delay: 60 });
	await expect(nextMove(page)).not.toContainText("Nobody knows when it was sprayed");
	await expect(sprayed).toHaveValue("2024-01-15");
	await sprayed.fill(new Date().toISOString().slice(0, 10));
	await expect(nextMove(page)).toContainText("6 weeks later");
	await page.getByLabel("Made of").click();
	await page.getByRole("option", { name: "painted steel" }).click();
	await expect(page.getByRole("region", { name: "Magnets" })).toContainText("Magnets hold a piece up here.");
});

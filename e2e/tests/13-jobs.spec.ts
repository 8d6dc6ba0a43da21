import { expect, type Page, test } from "@playwright/test";
import {
	addElse,
	addLettering,
	asCrew,
	chooseSide,
	laidAndOnPaper,
	nextMove,
	sayFeatures,
	startJob,
	toStage,
	typeLength,
} from "./shop";

/** Whole jobs as they come in the door, each from an empty job to its printed packet. */
test.describe.configure({ mode: "parallel" });

/** A picture as wide as it is to be printed wide, drawn in the page itself. */
async function picture(page: Page, width: number, height: number): Promise<Buffer> {
	const url = await page.evaluate(
		([w, h]) => {
			const canvas = document.createElement("canvas");
			[canvas.width, canvas.height] = [w, h];
			const ink = canvas.getContext("2d");
			if (!ink) return "";
			ink.fillStyle = "#16324f";
			ink.fillRect(0, 0, w, h);
			ink.fillStyle = "#e07a1f";
			ink.fillRect(w / 4, h / 4, w / 2, h / 2);
			return canvas.toDataURL("image/jpeg");
		},
		[width, height] as const,
	);
	return Buffer.from(url.split(",")[1] ?? "", "base64");
}

test("a race car: a full print with its picture, bleed on three edges, and what it meets in the strokes", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Plover Racing", "inches to 1/16", "^Car$");
	await sayFeatures(
		page,
		"door gap 62",
		"moulding 66 back 30 down 5' x 1 1/2",
		"handle 9' back 20 down 7 x 2 1/2 stays",
	);
	await toStage(page, "Lay out");
	await addElse(page, "A printed panel");
	await page.getByLabel("Choose its picture").setInputFiles({
		name: "print.jpg",
		mimeType: "image/jpeg",
		buffer: await picture(page, 900, 300),
	});
	await typeLength(page, "Width as trimmed", "8 ft");
	// In its own proportions it is 32 high.
	await page.getByRole("button", { name: "Make it 32 high" }).click();
	await expect(page.getByRole("button", { name: /^Make it/ })).toHaveCount(0);
	await page.getByLabel("Bleed is given for").click();
	await page.getByRole("option", { name: "each edge by itself" }).click();
	for (const [edge, text] of [
		["Bleed at the front", "3"],
		["Bleed at the rear", "3"],
		["Bleed above", "0"],
		["Bleed below", "3"],
	] as const)
		await typeLength(page, edge, text);
	await page.getByRole("tab", { name: "Place" }).click();
	await typeLength(page, /left end/, "5'");
	await typeLength(page, /down to it/, "14");
	await expect(page.getByTestId("piece-printed panel").locator("image")).toHaveCount(1);
	await expect(nextMove(page)).toContainText("14 at both flats");

	await toStage(page, "Lay down");
	const told: string[] = [];
	for (let n = 0; n < 120; n++) {
		told.push((await nextMove(page).textContent()) ?? "");
		const pressed = page.getByRole("button", { name: "Pressed. Next" });
		if (!(await pressed.isVisible())) break;
		await pressed.click();
	}
	const strokes = told.filter((t) => t.includes("Stroke "));
	expect(strokes.filter((t) => t.includes("Cut crosswise over its middle"))).toHaveLength(1);
	expect(strokes.filter((t) => t.includes("thumb the crease"))).toHaveLength(1);
	await expect(page.getByRole("region", { name: "Once it lies" })).toContainText(
		"down the middle of the gap",
	);

	const packet = await laidAndOnPaper(page);
	expect(packet).toContain("Its picture fills the print as trimmed");
	expect(packet).toContain("down the middle of the gap");
});

test("a snow machine's kit in millimetres: two pieces that butt and one that laps, in their order", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Ptarmigan Sleds", "millimetres", "Snow machine");
	await toStage(page, "Lay out");
	await addElse(page, "A kit or drawing from a file");
	const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="700mm" height="260mm" viewBox="0 0 700 260">
		<path id="nose" d="M0 0H300V200L0 160Z"/><path id="tail" d="M300 0H640L600 200H300Z"/>
		<path id="badge" d="M650 20h40v60h-40z"/></svg>`;
	await page
		.getByLabel("SVG or DXF file")
		.setInputFiles({ name: "wing.svg", mimeType: "image/svg+xml", buffer: Buffer.from(svg) });
	// Pressed twice it is laid out once.
	await page.getByRole("button", { name: "Lay these 3 pieces out" }).dblclick();
	const pieces = page.getByRole("radiogroup", { name: "Pieces on this side" }).getByRole("radio");
	await expect(pieces).toHaveCount(3);
	// The seam of the second to the first is right as it was drawn.
	await pieces.nth(1).click();
	await page.getByRole("tab", { name: "Kit piece" }).click();
	await page.getByLabel("Meets the piece before it").click();
	await page.getByRole("option", { name: /edge to edge/ }).click();
	await expect(page.getByText(/^✓ .*edge to edge/)).toBeVisible();
	const packet = await laidAndOnPaper(page);
	expect(packet).toContain("meets the piece before it edge to edge, no gap");
	expect(packet).not.toMatch(/\d (1\/2|1\/4|1\/16)/);
});

test("a bumper bent in plan: lettering in the middle of what the tape says round it", async ({ page }) => {
	await asCrew(page);
	await startJob(page, "Nuthatch Bumpers", "inches to 1/16", "^Car$");
	await page.getByLabel("Which side").click();
	await page.getByRole("option", { name: /Add a side/ }).click();
	const dialog = page.getByRole("dialog", { name: "Add a side" });
	await dialog.getByLabel("Start from").click();
	await page.getByRole("option", { name: /Bumper, tape bent round it/ }).click();
	await dialog.getByLabel("Called").fill("rear bumper");
	await dialog.getByRole("button", { name: "Add it" }).click();
	await expect(page.getByLabel("Which side")).toContainText("rear bumper");
	// Its length is what the tape says, bent round it.
	await typeLength(page, /Along the upper edge/, "66");
	await typeLength(page, /Along the lower edge/, "66");
	await toStage(page, "Lay out");
	await addLettering(page, "NUTHATCH");
	await page.getByRole("tab", { name: "Place" }).click();
	await page.getByLabel(/^Along the/).click();
	await page.getByRole("option", { name: "centred between two edges" }).click();
	// The same to both ends, counted along the bend: 66 less the letters, halved.
	await expect(page.getByTestId("bench-work")).toContainText("centred");
	const piece = page.getByTestId("piece-NUTHATCH");
	const figure = /first letter (\d+)(?: (\d+)\/(\d+))? back/;
	const back = async () => {
		const [, whole, n, of] = figure.exec((await piece.getAttribute("aria-label")) ?? "") ?? [];
		return Number(whole) + (n ? Number(n) / Number(of) : 0);
	};
	await page.getByRole("tab", { name: "Words and size" }).click();
	await page.getByLabel("Sized by").click();
	await page.getByRole("option", { name: /overall width/ }).click();
	await typeLength(page, "Overall width", "40");
	await expect.poll(back).toBe(13);
	// A nudge by the arrow keys is one step of the tape.
	await piece.focus();
	await page.keyboard.press("ArrowRight");
	await expect.poll(back).toBe(13.0625);
	const packet = await laidAndOnPaper(page);
	expect(packet).toContain("NUTHATCH");
});

test("a skiff: its number on both bows, a ghost of an old name, and the two halves compared", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Goosander Boats", "inches to 1/16", "Boat");
	await sayFeatures(page, 'ghost 8\' back 8 down 40 x 8 called "old name"');
	await toStage(page, "Lay out");
	await addElse(page, "Small-craft number");
	await page.getByLabel("What it says").fill("oy 4471 kb");
	await page.getByRole("button", { name: "Lay it out" }).click();
	await expect(page.getByTestId("piece-OY 4471 KB")).toBeVisible();
	await expect(nextMove(page)).not.toContainText("old name");
	await page.getByRole("tab", { name: "Whole side" }).click();
	// The other side is read before the piece is laid out on it, and comes in after.
	await page.route(/\/pieces\/mirror$/, async (route) => {
		await page.waitForTimeout(1500);
		await route.continue();
	});
	await page.route(
		/\/api\/sides\/[^/]+$/,
		async (route) => {
			const read = await route.fetch();
			await page.waitForTimeout(3000);
			await route.fulfill({ response: read });
		},
		{ times: 1 },
	);
	await page.getByRole("button", { name: /Lay the missing ones out/ }).click();
	await chooseSide(page, /starboard/);
	await expect(page.getByTestId("piece-OY 4471 KB")).toBeVisible();
	const packet = await laidAndOnPaper(page);
	expect(packet.match(/OY 4471 KB/g)?.length ?? 0).toBeGreaterThan(3);
});

test("a stripe section after an accident: fitted between the film that stays, two heights and two widths", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Dotterel Repairs", "inches to 1/16", "Travel trailer");
	await toStage(page, "Lay out");
	await addElse(page, "A section between film that stays");
	await expect(page.getByRole("alert").first()).toContainText("Measure both under Look over");
	await toStage(page, "Look over");
	await sayFeatures(
		page,
		"film edge 96 back 30 down to 34 down",
		"film edge 127 back 30 1/2 down to 127 1/8 back 34 3/8 down",
	);
	await toStage(page, "Lay out");
	await addElse(page, "A section between film that stays");
	await expect(nextMove(page)).toContainText("30 at the front corner, 30 1/2 at the rear");
	await page.getByRole("tab", { name: "Place" }).click();
	const fit = page.getByRole("region", { name: "How it fits" });
	await expect(fit).toContainText("4 wide at the front end and 3 7/8 at the rear");
	await typeLength(page, "Laps over each edge by", "1/2");
	await expect(fit).toContainText("32 long above");
	const packet = await laidAndOnPaper(page);
	expect(packet).toContain(
		"It is fitted between the film edge 1 and the film edge 2, lapping over each by 1/2",
	);
	expect(packet).toContain("Read to its own upper corners");
});

test("a hopper whose paint is five weeks old: no stage goes on until the lead says why, and paper says it too", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Turnstone Streets", "inches to 1/16", "Hopper or spreader");
	await page.getByRole("tab", { name: "Surface" }).click();
	await page.getByLabel("Paint or gelcoat").click();
	await page.getByRole("option", { name: "sprayed again" }).click();
	const sprayed = new Date(Date.now() - 35 * 24 * 3600 * 1000).toISOString().slice(0, 10);
	await page.getByLabel("Sprayed on").fill(sprayed);
	await expect(nextMove(page)).toContainText("no film before");
	await toStage(page, "Lay out");
	await addLettering(page, "TURNSTONE");
	await expect(nextMove(page)).toContainText("no film before");

	// Neither tape nor readings nor strokes are told.
	await toStage(page, "Hinge");
	await expect(page.getByRole("heading", { name: "No film here" })).toBeVisible();
	await expect(page.getByRole("textbox", { name: /^Front flat/ })).toHaveCount(0);
	await toStage(page, "Lay down");
	await expect(page.getByRole("heading", { name: "No film here" })).toBeVisible();
	await expect(page.getByRole("button", { name: "Pressed. Next" })).toHaveCount(0);

	const why = page.getByLabel(/The lead may go on/);
	await why.fill("the owner has signed for it");
	await page.getByRole("button", { name: "Go on all the same" }).dblclick();
	await expect(page.getByRole("alert").filter({ hasText: "Gone on all the same" })).toContainText(
		"the owner has signed for it",
	);
	await toStage(page, "Hinge");
	await expect(page.getByRole("textbox", { name: /^Front flat/ })).toBeVisible();
	const packet = await laidAndOnPaper(page);
	expect(packet).toContain("Gone on all the same: the owner has signed for it");
	expect(packet).toMatch(/! Sprayed on .*: no film before/);
});

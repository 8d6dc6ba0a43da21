import { expect, type Page, test } from "@playwright/test";
import { addLettering, asCrew, chooseSide, nextMove, openJob, startJob, toStage, typeLength } from "./shop";

/** Opens a list and takes one of its entries. */
async function choose(page: Page, list: string | RegExp, entry: string | RegExp) {
	await page.getByRole("combobox", { name: list, exact: true }).first().click();
	await page.getByRole("option", { name: entry }).first().click();
}

const tab = (page: Page, name: string) => page.getByRole("tab", { name, exact: true }).click();

async function addElse(page: Page, name: string) {
	await page.getByRole("button", { name: "Add something else" }).click();
	await page.getByRole("menuitem", { name, exact: true }).click();
}

test.beforeEach(async ({ page }) => {
	await asCrew(page);
});

test("lettering of several lines, bent, spaced by eye, with outline, shadow and second colour", async ({
	page,
}) => {
	await startJob(page, "Turnstone Bakery");
	await toStage(page, "Lay out");
	await addLettering(page, "TURNSTONE");
	const words = page.getByLabel("Words", { exact: true });
	await words.fill("TURN");
	await words.press("Shift+Enter");
	await words.pressSequentially("STONE");
	await words.press("Enter");
	await expect(page.getByTestId("piece-TURN STONE")).toBeVisible();
	await choose(page, "Lines stand", "middles in line");
	await choose(page, "Spacing of the letters", "optical");
	await expect(page.getByText("the same area of body between all neighbours")).toBeVisible();
	await choose(page, "Sized by", "height of a small x");
	await typeLength(page, "Height of a small x", "6");

	// A bend that is too tight says how wide it must be, and nothing is lost.
	await choose(page, "Bent", "like a bridge");
	const radius = page.getByLabel("Radius of the bend");
	await radius.fill("3");
	await radius.press("Enter");
	await expect(page.getByRole("alert").filter({ hasText: "more than once round" })).toBeVisible();
	await expect(radius).toHaveValue("3");
	await typeLength(page, "Radius of the bend", "9'");
	await choose(page, "Bent", "straight");

	await page.getByLabel("Outline round the letters").click();
	await typeLength(page, "It stands out by", "3/8");
	await page.getByRole("checkbox", { name: "Drop shadow" }).click();
	await page.getByLabel("Words in a second colour").click();
	await expect(page.getByLabel("Which words, as they stand")).toHaveValue("STONE");
	const which = page.getByLabel("Which words, as they stand");
	await which.fill("ROCK");
	await which.press("Enter");
	await expect(page.getByRole("alert").filter({ hasText: "not among the words" })).toBeVisible();
	await which.fill("TURN");
	await which.press("Enter");
	await tab(page, "Checks");
	const order = page.getByRole("region", { name: "Order of laying" });
	await expect(order.getByRole("listitem")).toHaveText([/Lies over .*outline/, /Lies over .*shadow/]);
	// Each film is a piece of work of its own, and is taken off with its tick.
	for (const layer of ["shadow", "outline", "second colour"]) {
		await expect(page.getByTestId(`piece-TURN STONE, ${layer}`)).toBeVisible();
	}
	await expect(page.getByRole("region", { name: "From how far it is read" })).toContainText("MUTCD 2A.13");
	await expect(page.getByRole("region", { name: "Cutting and weeding" })).toContainText("Thinnest stroke");
	await tab(page, "Words and size");
	await page.getByRole("checkbox", { name: "Drop shadow" }).click();
	await expect(page.getByTestId("piece-TURN STONE, shadow")).toHaveCount(0);
});

test("a stripe keeps its gap at both ends, tapers, and follows the side as it grows", async ({ page }) => {
	await startJob(page, "Plover Fruit");
	await toStage(page, "Lay out");
	await addElse(page, "A stripe");
	await expect(page.getByTestId("piece-stripe")).toBeVisible();
	await typeLength(page, "Width at the front", "4");
	await expect(page.getByLabel("Width at the rear")).toHaveValue("4");
	await typeLength(page, "Width at the rear", "2");
	await page.getByRole("button", { name: "Add a band below" }).click();
	await expect(page.getByRole("listitem", { name: "Band 2" })).toBeVisible();
	await tab(page, "Place");
	await typeLength(page, "Gap at each end", "5");
	const stripe = page.getByTestId("piece-stripe");
	await expect(stripe).toHaveAttribute("aria-label", /left end 5 back/);
	// Longer by a foot: the stripe is longer by a foot.
	await tab(page, "Readings");
	const width = page.getByRole("region", { name: "Width" });
	const before = await width.textContent();
	await toStage(page, "Look over");
	const length = page.getByTestId("bench-work").getByLabel(/Length along/);
	const was = await length.inputValue();
	await typeLength(
		page,
		/Length along/,
		was.replace(/^(\d+)'/, (_, feet) => `${Number(feet) + 1}'`),
	);
	await toStage(page, "Lay out");
	await expect(stripe).toHaveAttribute("aria-label", /left end 5 back/);
	await expect(width).not.toHaveText(before ?? "");
});

test("a printed panel says when what matters in it meets a seam", async ({ page }) => {
	await openJob(page, /Skerry step van/, "lay-out");
	await page.getByRole("radio", { name: "bicycle print" }).click();
	await tab(page, "Panel");
	const wheel = page.getByRole("listitem", { name: "Must stay clear: front wheel" });
	await expect(wheel).toBeVisible();
	const from = wheel.getByLabel("From the left trim");
	await from.fill("940 mm");
	await from.press("Enter");
	await expect(nextMove(page)).toContainText("runs through “front wheel”");
	// What must stay clear is what a better spot is looked for with.
	await tab(page, "Better spot");
	await expect(page.getByRole("listitem", { name: "Wanted spot" })).toContainText(
		"key feature across a line",
	);
	await page.getByRole("button", { name: "Undo" }).click();
});

test("a kit from a file becomes numbered pieces; measured points tell what is left over", async ({
	page,
}) => {
	await startJob(page, "Whimbrel Cranes");
	await toStage(page, "Lay out");
	await addElse(page, "A kit or drawing from a file");
	const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="900mm" height="400mm" viewBox="0 0 900 400">
		<path d="M0 0H500V300H0Z M100 100H200V200H100Z"/><path d="M600 0L900 0L880 200L600 180Z"/><path d="M0 320l90 0 0 70 -90 0z"/></svg>`;
	await page
		.getByLabel("SVG or DXF file")
		.setInputFiles({ name: "wave.svg", mimeType: "image/svg+xml", buffer: Buffer.from(svg) });
	await expect(page.getByRole("img", { name: "3 pieces in the file" })).toBeVisible();
	await page.getByRole("button", { name: "Lay these 3 pieces out" }).click();
	await expect(page.getByTestId("piece-wave 1")).toBeVisible();
	await expect(page.getByTestId("piece-wave 3")).toBeVisible();
	// One undo takes the kit back, one redo lays it out again.
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(page.getByTestId("piece-wave 1")).toHaveCount(0);
	await page.getByRole("button", { name: "Redo" }).click();
	await page.getByRole("radio", { name: "wave 2" }).click();
	await tab(page, "Place");
	await choose(page, "Placed by", "points measured on the body");
	const second = page.getByRole("listitem", { name: "Point 2" });
	await expect(second).toBeVisible();
	const back = second.getByLabel(/From the/);
	await back.fill("48");
	await back.press("Enter");
	await expect(page.getByRole("region", { name: "How it fits" })).toContainText(
		"A third point would tell more",
	);

	// A file that is none says so.
	await addElse(page, "A kit or drawing from a file");
	await page
		.getByLabel("SVG or DXF file")
		.setInputFiles({ name: "note.txt", mimeType: "text/plain", buffer: Buffer.from("hello") });
	await expect(page.getByRole("alert").filter({ hasText: "neither SVG nor DXF" })).toBeVisible();
});

test("an emblem in its colours: each from the film nearest to it, a faked hole is cut, another colour is any", async ({
	page,
}) => {
	await startJob(page, "Redstart Rescue", "millimetres");
	await toStage(page, "Lay out");
	await addElse(page, "A kit or drawing from a file");
	const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="900mm" height="400mm" viewBox="0 0 900 400">
		<rect width="400" height="400" fill="#e30613"/><rect x="100" y="100" width="200" height="200" fill="white"/>
		<path d="M10 10H60V60H10Z" fill="#00a651"/><path d="M500 0H700V50H500Z"/><path d="M500 100H700V150H500Z" fill="#eee"/></svg>`;
	const file = page.getByLabel("SVG or DXF file");
	const picture = (n: number) =>
		page.getByRole("img", { name: n === 1 ? "1 piece in the file" : `${n} pieces in the file` });
	// What cannot be is said, and takes nothing away.
	const plain = `<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="40mm" viewBox="0 0 90 40"><path fill="#14524d" d="M0 0H90V40H0Z"/></svg>`;
	await file.setInputFiles({ name: "bar.svg", mimeType: "image/svg+xml", buffer: Buffer.from(plain) });
	await choose(page, /Drawn #14524d/, "no film: cut out of what it lies on");
	await expect(page.getByRole("alert").filter({ hasText: "Nothing of the file is film then" })).toBeVisible();
	await expect(picture(1)).toBeVisible();
	await expect(page.getByRole("combobox", { name: /Drawn #14524d/ })).toContainText("spruce");
	await file.setInputFiles({ name: "emblem.svg", mimeType: "image/svg+xml", buffer: Buffer.from(svg) });
	await expect(picture(5)).toBeVisible();
	await expect(page.getByRole("alert")).toHaveCount(0);
	const colours = page.getByRole("list", { name: "Colours of the file" });
	await expect(colours.getByRole("listitem")).toHaveCount(5);
	await expect(colours.getByRole("listitem").first()).toContainText("signal red, the nearest usual colour.");
	await expect(colours).toContainText("no usual colour is like it");
	// The white is no film but a hole in the red; the light grey is left out.
	await choose(page, /Drawn #ffffff/, "no film: cut out of what it lies on");
	await expect(picture(4)).toBeVisible();
	await choose(page, /Drawn #eeeeee/, "left out");
	await expect(picture(3)).toBeVisible();
	await choose(page, /Drawn #00a651/, "spruce");
	await page.getByRole("button", { name: "Lay these 3 pieces out" }).click();
	await expect(page.getByTestId("piece-emblem 1")).toBeVisible();
	// What lies within the red is off: the hole is measured, not painted over.
	await page.getByRole("radio", { name: "emblem 1" }).click();
	await tab(page, "Kit piece");
	const film = page.getByRole("group", { name: "Colour of the film" });
	await expect(film.getByRole("button", { name: "signal red" })).toHaveAttribute("aria-pressed", "true");
	const other = film.getByLabel(/^another/);
	await other.fill("#ff6a00");
	await expect(film.getByText("another, #ff6a00")).toBeVisible();
	await expect(film.getByRole("button", { name: "signal red" })).toHaveAttribute("aria-pressed", "false");
	await page.reload();
	await page.getByRole("radio", { name: "emblem 1" }).click();
	await tab(page, "Kit piece");
	await expect(film.getByText("another, #ff6a00")).toBeVisible();
});

test("every rule for a place: edges, rows, beside, under, heights, angles; what leads back is named", async ({
	page,
}) => {
	await startJob(page, "Godwit Tools");
	await toStage(page, "Lay out");
	await addLettering(page, "GODWIT");
	await tab(page, "Place");
	await choose(page, /Along the/, "from an edge to its nearer end");
	await choose(page, "From the", "rear edge");
	await expect(page.getByRole("combobox", { name: "It lies" })).toContainText("ahead of");
	await typeLength(page, "Clear distance along", "10");
	await tab(page, "Readings");
	await expect(page.getByRole("region", { name: "First to last letter" })).toContainText(
		"10 to the rear edge",
	);
	await tab(page, "Place");
	await choose(page, /Down from the/, "centred between two heights");
	await choose(page, "Angle", "turned by degrees");
	await page.getByLabel("Degrees, rear end down").fill("2.5");
	await page.getByLabel("Degrees, rear end down").press("Enter");
	await expect(page.getByLabel("Degrees, rear end down")).toHaveValue("2.5");

	await addLettering(page, "TOOLS");
	await tab(page, "Place");
	await choose(page, /Along the/, "beside another piece");
	await choose(page, "It stands", "ahead of");
	await choose(page, /Down from the/, "over or under another piece");
	await expect(page.getByLabel("Gap down between them")).toHaveValue("3");

	// The first by the second as well: that leads back, and both rules are named.
	await page.getByRole("radio", { name: "GODWIT" }).click();
	await choose(page, /Along the/, "beside another piece");
	await expect(
		page
			.getByRole("alert")
			.filter({ hasText: "“GODWIT” stands behind “TOOLS”, and “TOOLS” stands ahead of “GODWIT”" }),
	).toBeVisible();
	await expect(page.getByTestId("piece-GODWIT")).toBeVisible();

	// Two in a row with equal gaps.
	await choose(page, /Along the/, "in a row with equal gaps");
	await page.getByRole("radio", { name: "TOOLS" }).click();
	await choose(page, /Along the/, "in a row with equal gaps");
	await expect(page.getByLabel("Number in the row")).toHaveValue("2");
	await page.getByLabel("Number in the row").fill("1");
	await page.getByLabel("Number in the row").press("Enter");
	await expect(page.getByRole("alert").filter({ hasText: "both number 1 of the row" }).first()).toBeVisible();
});

test("a better spot is found, tried on the map, taken and undone", async ({ page }) => {
	await openJob(page, /Tideway mobile library/, "lay-out");
	await page.getByRole("radio", { name: "TIDEWAY BOOKS" }).click();
	await tab(page, "Better spot");
	await expect(page.getByRole("status").filter({ hasText: "rivet heads under a cut edge" })).toBeVisible();
	await expect(page.getByRole("listitem", { name: "Wanted spot" })).toContainText(
		"3 rivet heads under a cut edge",
	);
	const first = page.getByRole("listitem", { name: "Spot 1" });
	await expect(first).toContainText("Gains: 3 fewer rivet heads under a cut edge: none left");
	const map = page.getByTestId("window-map");
	await map.click({ position: { x: 60, y: 60 } });
	await expect(page.getByRole("listitem", { name: "Touched spot" })).toContainText("forward");
	// By keys, one sixteenth at a time.
	await map.focus();
	const moved = page.getByRole("listitem", { name: "Touched spot" }).locator("span").first();
	const before = await moved.textContent();
	await page.keyboard.press("ArrowRight");
	await expect(moved).not.toHaveText(before ?? "");

	// Its height is kept: every spot lies on one line.
	await page.getByLabel("Keep its height").click();
	await expect(first.locator("span").first()).not.toContainText("down");
	await page.getByLabel("Keep its height").click();
	const piece = page.getByTestId("piece-TIDEWAY BOOKS");
	const where = await piece.getAttribute("aria-label");
	await expect(first).toContainText("none left");
	await first.getByRole("button", { name: "Move there" }).click();
	await expect(piece).not.toHaveAttribute("aria-label", where ?? "");
	await tab(page, "Readings");
	await expect(page.getByRole("region", { name: "Rivet heads in its height" })).toContainText(
		"none under a cut edge",
	);
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(piece).toHaveAttribute("aria-label", where ?? "");
});

test("several pieces move together and keep their spacing; weights are the shop's", async ({ page }) => {
	await openJob(page, /Tideway mobile library/, "lay-out");
	await tab(page, "Better spot");
	const wanted = page.getByRole("listitem", { name: "Wanted spot" });
	await expect(wanted).toBeVisible();
	const alone = (await wanted.textContent()) ?? "";
	await page.getByLabel("Every piece of this side moves with it").click();
	// The answer for all of them, not the one before.
	await expect(wanted).not.toHaveText(alone);
	const first = page.getByRole("listitem", { name: "Spot 1" });
	await expect(first).toBeVisible();
	await page.getByRole("button", { name: "What weighs how much" }).click();
	const weight = page.getByLabel("A cut edge on a rivet head");
	await expect(weight).toHaveValue("20");
	await weight.fill("5000");
	await weight.press("Enter");
	await expect(page.getByRole("alert").filter({ hasText: "between 0 and 1000" })).toBeVisible();
	await weight.fill("20");
	await weight.press("Enter");
	await page.getByRole("button", { name: "Close" }).click();
});

test("a small-craft number lays itself out and is checked clause by clause", async ({ page }) => {
	await openJob(page, /Limpet skiff/, "lay-out");
	await tab(page, "Checks");
	const rule = page.getByRole("region", { name: "The rule, clause by clause" });
	await expect(rule).toContainText("33 CFR 173.27(a)(2)");
	await expect(rule).not.toContainText("not kept");
	await expect(rule).toContainText("from memory");
	// Lower than 3 in, it says so at once.
	await tab(page, "Words and size");
	await typeLength(page, "Capital height", "2 1/2");
	await expect(nextMove(page)).toContainText("33 CFR 173.27(a)(2)");
	await page.getByRole("button", { name: "Undo" }).click();
	await chooseSide(page, /transom/);
	await addElse(page, "Vessel name and hailing port");
	await page.getByLabel("What it says").fill("SALT MEADOW\nTernhaven XY");
	await page.getByRole("button", { name: "Lay it out" }).click();
	await expect(page.getByTestId("piece-SALT MEADOW Ternhaven XY")).toBeVisible();
	await tab(page, "Checks");
	await expect(rule).toContainText("46 CFR 67.123(d)");
	await page.getByRole("button", { name: "Undo" }).click();
});

test("the story tape, and the other side by its figures", async ({ page }) => {
	await openJob(page, /Gannet trailer/, "lay-out");
	await tab(page, "Whole side");
	const story = page.getByRole("region", { name: /Story tape along the/ });
	await expect(story).toContainText("GANNET COLD HAULAGE, first letter");
	await expect(story).toContainText("7' 6");
	const both = page.getByRole("region", { name: "Both sides" });
	await expect(both).toContainText("nearest the front");
	for (const name of ["Print the list", "Print it full size"]) {
		const href = await page.getByRole("link", { name }).getAttribute("href");
		const answer = await page.request.get(href ?? "");
		expect(answer.headers()["content-type"]).toContain("application/pdf");
	}
	// A new piece is not on the other side yet; it is laid out there in one go and stays tied.
	await addLettering(page, "14");
	await tab(page, "Whole side");
	await expect(both).toContainText("“14” is not on the other side");
	await page.getByRole("button", { name: /Lay the missing ones out/ }).click();
	await expect(both).not.toContainText("is not on the other side");
	await page.getByRole("button", { name: "Undo" }).click();
	await page.getByRole("button", { name: "Undo" }).click();
	await page.getByRole("button", { name: "Undo" }).click();
});

test("a typeface of the shop's own is checked before it is taken", async ({ page }) => {
	await startJob(page, "Knot Joinery");
	await toStage(page, "Lay out");
	await addLettering(page, "KNOT");
	await page.getByRole("button", { name: "Add a typeface" }).click();
	await page.getByRole("button", { name: "Add it" }).click();
	await expect(page.getByRole("alert").filter({ hasText: "Choose the typeface's file" })).toBeVisible();
	const file = page.getByLabel("TrueType or OpenType file");
	await file.setInputFiles({
		name: "letter.ttf",
		mimeType: "font/ttf",
		buffer: Buffer.from("not a typeface"),
	});
	await page.getByRole("button", { name: "Add it" }).click();
	await expect(page.getByRole("alert").filter({ hasText: ".ttf or .otf" })).toBeVisible();
	await file.setInputFiles("../crates/core/fonts/bitter.ttf");
	await page.getByLabel("What the shop calls it").fill("Knot Serif");
	await page.getByRole("button", { name: "Add it" }).click();
	await expect(page.getByRole("combobox", { name: "Typeface" })).toContainText("Knot Serif");
	await expect(page.getByTestId("piece-KNOT")).toBeVisible();
});

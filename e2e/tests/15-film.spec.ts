import { expect, type Page, test } from "@playwright/test";
import {
	addElse,
	addPrint,
	asCrew,
	atRest,
	layAll,
	nextMove,
	packetOf,
	readPaper,
	sayFeatures,
	startJob,
	toStage,
	typeLength,
} from "./shop";

/** From an empty shelf place to panels cut from a roll: the shelf, which film, panels, rolls, what is short. */
test.describe.configure({ mode: "parallel" });

/** The shelf is the shop's: each walk has films of its own. */
const called = (name: string) => `${name} ${Math.floor(Math.random() * 1e6)}`;

/** Puts a film with a roll on the shelf, as a person does. */
async function stock(page: Page, name: string, kind: string, lot: string, wide: string, long: string) {
	await page.goto("/");
	await page.getByRole("link", { name: "Shelf" }).click();
	await page.getByRole("button", { name: "Add a film" }).click();
	const sheet = page.getByRole("dialog");
	await sheet.getByLabel("What do you call it?").fill(name);
	await sheet.getByRole("combobox", { name: "What kind of film is it?" }).click();
	await page.getByRole("option", { name: kind, exact: true }).click();
	// Pressed twice by a trembling hand, it is one film.
	await sheet.getByRole("button", { name: "Put it on the shelf" }).dblclick();
	const film = page.getByRole("listitem", { name, exact: true });
	await expect(film).toHaveCount(1);
	await film.getByRole("button", { name: "Add a roll" }).click();
	await sheet.getByLabel("Lot, as on box, bag or core").fill(lot);
	await sheet.getByLabel("How wide?").fill(wide);
	await sheet.getByLabel("How long?").fill(long);
	await sheet.getByRole("button", { name: "Put it on the shelf" }).click();
	await expect(film).toContainText(lot);
	return film;
}

test("a catering trailer: five things that come off, an arm that stays, its side in panels, cut from the roll", async ({
	page,
}) => {
	await asCrew(page);
	const name = called("skua print");
	const film = await stock(page, name, "cast print with air channels", "S-40", "54", "25 yd");

	// What a roll is measured with is read, and nonsense is told.
	await film.getByRole("button", { name: /^Roll, lot S-40/ }).click();
	const sheet = page.getByRole("dialog");
	await sheet.getByLabel("Across the roll").fill("2");
	await sheet.getByLabel("One turn, mm").fill("0.26");
	await sheet.getByRole("button", { name: "Work out its length" }).click();
	await expect(sheet.getByRole("alert")).toContainText("wider across than its core");
	await sheet.getByLabel("Across the roll").fill("6 1/2");
	await sheet.getByRole("button", { name: "Work out its length" }).click();
	// π(165.1² − 76.2²) / (4 · 0.26) = 64.80 m, by hand: 212' 7.
	await expect(sheet).toContainText("212'");
	await sheet.getByRole("button", { name: /^Enter 212'/ }).click();
	await expect(film).toContainText("212'");

	await startJob(page, "Skua Catering", "inches to 1/16", "Cargo trailer");
	await typeLength(page, /Length along the top rail/, "20'");
	await typeLength(page, /Height/, "7'");
	await sayFeatures(
		page,
		"lamp 24 back 12 down 4 x 2 amber",
		"lamp 6' back 12 down 4 x 2 amber",
		"bracket 120 back 40 down 6 x 4",
	);
	await toStage(page, "Lay out");
	await addPrint(page);
	await typeLength(page, "Width as trimmed", "18 ft");
	await typeLength(page, "Height as trimmed", "6 ft");
	await atRest(page);
	// Its art is a drawing: kept as it is, sharp at any size.
	const drawn = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 100"><rect width="300" height="100" fill="#1f5f8b"/></svg>`;
	const art = page.getByLabel("Choose its picture");
	const file0 = (name: string, mimeType: string, text: string) => ({
		name,
		mimeType,
		buffer: Buffer.from(text),
	});
	await art.setInputFiles(file0("side.pdf", "application/pdf", "%PDF-1.4 nothing"));
	await expect(page.getByRole("alert")).toContainText("This PDF cannot be read");
	await art.setInputFiles(file0("side.svg", "image/svg+xml", drawn));
	await expect(page.getByRole("button", { name: "Take the picture off" })).toBeVisible();
	await toStage(page, "Film");
	await expect(nextMove(page)).toContainText("Choose the film for printed panel");
	await page.getByRole("button", { name: `Take ${name}` }).click();
	await expect(page.getByRole("button", { name: `Do not use ${name}` })).toBeVisible();
	await page.getByRole("tab", { name: "Panels" }).click();
	const panels = page.getByRole("region", { name: "Panels" });
	await expect(panels).toContainText(/\d panels/);
	const rows = await panels.getByRole("row").count();
	// The file of a panel is a picture of its own.
	const file = await page.request.get(
		(await panels.getByRole("link", { name: "Panel 1 as SVG" }).getAttribute("href")) ?? "",
	);
	expect(file.status()).toBe(200);
	const panel = await file.text();
	expect(panel).toContain("panel 1 of");
	expect(panel).toContain(Buffer.from(drawn).toString("base64"));

	// All of them on one page, as an independent reader reads it.
	const told = await readPaper(page, panels.getByRole("link", { name: /Panel map/ }));
	for (const part of [
		"Panel map",
		"at its top and down its edge",
		"panel 2 over 1",
		"High, with bleed and lap",
	])
		expect(told).toContain(part);

	// Laid out in its panels: each is a piece, one undo makes it one again.
	await panels.getByRole("button", { name: "Lay it out in these panels" }).click();
	const pieces = page.getByRole("list", { name: "Pieces of this side" }).getByRole("button");
	await expect(pieces).toHaveCount(rows - 1);
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(pieces).toHaveCount(1);
	await page.getByRole("button", { name: "Redo" }).click();
	await expect(pieces).toHaveCount(rows - 1);

	// Panel 1, the lowest or rearmost, goes on first.
	await toStage(page, "Hinge");
	await expect(
		page.getByRole("radiogroup", { name: "Pieces on this side" }).getByRole("radio").first(),
	).toHaveText(/ 1$/);
	await toStage(page, "Film");

	await page.getByRole("tab", { name: "On the roll" }).click();
	const roll = page.getByRole("figure", { name: /lot S-40/ });
	await expect(roll.getByRole("listitem")).toHaveCount(rows - 1);
	await expect(page.getByText("Nothing is left to gain")).toBeVisible();
	await page.getByRole("button", { name: "It is cut" }).dblclick();
	await expect(page.getByRole("region", { name: "Cut already" })).toContainText("S-40");
	await expect(nextMove(page)).toContainText(`All of ${name} is cut`);
	// It is gone from the roll, once.
	await page.goto("/shelf");
	await expect(page.getByRole("listitem", { name, exact: true })).not.toContainText("212'");
	await page.goBack();
	await page.reload();
	await page.getByRole("tab", { name: "To order" }).click();
	await expect(page.getByRole("region", { name: "What the job needs" })).toContainText("masking tape");

	// The panels go on like shingles, each hung by itself.
	await toStage(page, "Lay down");
	await layAll(page);
	await expect(nextMove(page)).toContainText("lies.");
});

/** A kit of eight odd shapes of one colour, mm: wedges, an angle, an arrow, a kite, a bar and a disc. */
const KIT = `<svg xmlns="http://www.w3.org/2000/svg" width="1300mm" height="800mm" viewBox="0 0 1300 800"><g fill="#3b3f45">
	<path d="M0 0H380L0 260Z"/><path d="M400 0H760V90H500V300H400Z"/><path d="M800 0H1040L1180 110L1040 220H800L880 110Z"/>
	<path d="M0 320L180 300L330 420L120 560Z"/><path d="M360 340H700V410H360Z"/><path d="M740 300L1100 340L900 560Z"/>
	<path d="M0 600H300L260 760H40Z"/><path d="M500 600a90 90 0 1 1 0 180a90 90 0 1 1 0 -180Z"/></g></svg>`;

/** Lays that kit out on the side at hand. */
async function layKitOut(page: Page) {
	await page
		.getByLabel("SVG or DXF file")
		.setInputFiles({ name: "fin.svg", mimeType: "image/svg+xml", buffer: Buffer.from(KIT) });
	await page.getByRole("button", { name: "Lay these 8 pieces out" }).dblclick();
	await expect(page.getByTestId("piece-fin 8")).toBeVisible();
}

/** Length that the job takes of rolls, mm, as it is said. */
async function taken(page: Page): Promise<number> {
	const said = await page.getByText(/^This job takes .* of rolls/).textContent();
	return Number(/takes ([\d\s\u202f]+)/.exec(said ?? "")?.[1]?.replace(/\D/g, ""));
}

test("a kit of eight odd shapes: one film for all in one press, shorter while somebody looks, cut once, on paper", async ({
	page,
}) => {
	await asCrew(page);
	const name = called("grebe kit");
	await stock(page, name, "thick laminated kit", "G-3", "30", "25 yd");
	await startJob(page, "Grebe Sleds", "millimetres", "Box truck");
	await toStage(page, "Lay out");
	await addElse(page, "A kit or drawing from a file");
	await layKitOut(page);
	await toStage(page, "Film");
	const pieces = page.getByRole("list", { name: "Pieces of this side" });
	await expect(page.getByRole("button", { name: /for \d more/ })).toHaveCount(0);
	await page.getByRole("button", { name: `Take ${name}` }).click();
	// A trembling hand takes it once, and one undo takes it back.
	await page.getByRole("button", { name: `${name} for 7 more` }).dblclick();
	await expect(pieces.getByText("film chosen")).toHaveCount(8);
	await expect(nextMove(page)).toContainText("Every piece of this side has its film");
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(pieces.getByText("film chosen")).toHaveCount(1);
	await page.getByRole("button", { name: "Redo" }).click();
	await expect(pieces.getByText("film chosen")).toHaveCount(8);
	await page.reload();
	await expect(pieces.getByText("film chosen")).toHaveCount(8);

	await page.getByRole("tab", { name: "On the roll" }).click();
	const roll = page.getByRole("figure", { name: /lot G-3/ });
	await expect(roll.getByRole("listitem")).toHaveCount(8);
	// What became shorter since it was seen is not cut unseen: that is said, stays to be read, and the search waits.
	await page.route("**/cut", (route) =>
		route.fulfill({
			status: 409,
			contentType: "application/json",
			body: JSON.stringify({ status: 409, code: "stale", detail: "The layout is not the one that you saw." }),
		}),
	);
	await page.getByRole("button", { name: "It is cut" }).click();
	await expect(page.getByRole("alert").filter({ hasText: "not the one that you saw" })).toBeVisible();
	await expect(page.getByRole("button", { name: "Look on" })).toBeVisible();
	await expect(page.getByRole("alert").filter({ hasText: "not the one that you saw" })).toBeVisible();
	await page.unroute("**/cut");
	await page.getByRole("button", { name: "Look on" }).click();
	const first = await taken(page);
	const looking = page.getByRole("status").filter({ hasText: "Still looking" });
	let before = first;
	for (let n = 0; n < 6; n++) {
		await page.waitForTimeout(500);
		const now = await taken(page);
		expect(now).toBeLessThanOrEqual(before);
		before = now;
	}
	// Film alone, by hand, without any gap: 0.3425 m² on 762 mm is 450 mm, and no layout is shorter.
	expect(before).toBeGreaterThan(450);
	expect(before).toBeLessThan(700);
	await expect(looking).toBeVisible();
	await page.getByRole("button", { name: "Stop" }).click();
	await expect(looking).toHaveCount(0);
	// What was under way when it was stopped is shown too.
	await atRest(page);
	const stopped = await taken(page);
	const beside = await page.getByText(/^This job takes .* of rolls/).textContent();
	const percent = Number(/(-?[\d.]+) % of it beside/.exec(beside ?? "")?.[1]);
	expect(Math.abs(percent - 100 * (1 - 342547 / (762 * stopped)))).toBeLessThan(0.5);
	await page.getByRole("button", { name: "It is cut" }).dblclick();
	const cut = page.getByRole("region", { name: "Cut already" });
	await expect(cut.getByRole("listitem")).toHaveCount(1);
	await expect(cut).toContainText(`${stopped} `);
	await expect(nextMove(page)).toContainText(`All of ${name} is cut`);
	const packet = await packetOf(page);
	expect(packet).toContain("G-3");
	expect(packet).toContain(name);
});

test.describe("on a phone", () => {
	test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

	test("a panel van's print is taken to its roll, and what is not on the shelf is said", async ({ page }) => {
		await asCrew(page);
		const name = called("dunlin print");
		await stock(page, name, "cast print with air channels", "D-7", "54", "25 yd");
		await startJob(page, "Dunlin Deliveries", "millimetres", "Panel van");
		await page.goto(page.url().replace("look-over", "lay-out"));
		await addPrint(page);
		await page.goto(page.url().replace("lay-out", "film"));
		await page.getByRole("tab", { name: "On the roll" }).click();
		await expect(page.getByText("Choose a film for a piece first")).toBeVisible();
		await page.getByRole("tab", { name: "Which film" }).click();
		await page.getByLabel("Years that it is to last").fill("9x");
		await expect(page.getByText("9 are wanted").first()).toBeVisible();
		await page.getByRole("checkbox", { name: "shines back" }).check();
		await expect(page.getByText("It does not shine back.").first()).toBeVisible();
		await page.getByRole("checkbox", { name: "shines back" }).uncheck();
		await page.getByRole("button", { name: `Take ${name}` }).click();
		await page.getByRole("tab", { name: "On the roll" }).click();
		await expect(page.getByRole("figure", { name: /lot D-7/ })).toBeVisible();
		const wide = await page.evaluate(() => document.documentElement.scrollWidth);
		expect(wide).toBeLessThanOrEqual(390);
		await page.goto("/shelf");
		await expect(page.getByRole("listitem", { name, exact: true })).toBeVisible();
		expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	});
});

test("a print over a door's gap and round two arms: parted at the gap, relief cuts told and drawn, on one page, and one again by one undo", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Sandpiper Suppers", undefined, "Semi-trailer");
	await sayFeatures(
		page,
		"awning arm 88 back 30 down 3 x 5 stays",
		"bracket 160 back 70 down 3 x 5 stays",
		"door gap 150",
		"socket 30 back 60 down 4 x 4 stays",
		"lamp 20 back 6 down 4 x 3 comes off",
	);
	await toStage(page, "Lay out");
	await addPrint(page);
	await typeLength(page, "Width as trimmed", "220");
	await typeLength(page, "Height as trimmed", "76");
	await atRest(page);
	await toStage(page, "Film");
	await page.getByRole("tab", { name: "Panels" }).click();
	const relief = page.getByRole("region", { name: "Relief cuts" });
	await expect(relief).toContainText("bracket 1: With the liner still on");
	await expect(relief).toContainText("socket: Cut crosswise over its middle");
	const panels = page.getByRole("region", { name: "Panels" });
	await expect(panels).not.toContainText("parts");

	await page.getByRole("button", { name: "Part it at door gap" }).click();
	await expect(panels).toContainText("in 2 parts");
	await expect(panels).toContainText("film reaches 1/2 past the gap on both sides");
	// From the gap to the arm behind it, read off the tape: 160 less 150.
	await expect(relief).toContainText(
		"front edge straight back, to its middle. Film comes round it there; 10 of it",
	);
	await expect(page.getByTestId("relief-cut").first()).toBeAttached();
	const told = await readPaper(page, panels.getByRole("link", { name: /Panel map/ }));
	expect(told).toMatch(/Relief cut in panel \d for bracket 2: With the liner still on/);
	expect(told).toContain("Parted at door gap");

	const sizes = await panels.getByRole("row").count();
	await page.getByRole("button", { name: "Lay it out in these panels" }).dblclick();
	const pieces = page.getByRole("list", { name: "Pieces of this side" }).getByRole("button");
	await expect(pieces).toHaveCount(sizes - 1);
	await page.reload();
	await expect(pieces).toHaveCount(sizes - 1);
	// Too late once the liner is off: told where it is hung, too.
	await toStage(page, "Hinge");
	await page.getByRole("tab", { name: "Tape and cuts" }).click();
	await page.getByRole("radio", { name: "printed panel 2" }).click();
	await expect(page.getByRole("region", { name: "Relief cuts" })).toContainText(
		"bracket 2: It stays. With the liner",
	);
	await toStage(page, "Film");
	await page.getByRole("button", { name: /^Undo/ }).click();
	await expect(pieces).toHaveCount(1);
	await page.getByRole("tab", { name: "Panels" }).click();
	await page.getByRole("button", { name: "Parted at door gap" }).click();
	await expect(page.getByRole("button", { name: "Part it at door gap" })).toBeVisible();
	await expect(panels).not.toContainText("parts");
});

test("a film's data sheet goes from shelf to shelf as a file, and what is no sheet is said", async ({
	page,
}) => {
	await asCrew(page);
	const name = called("dunlin matt");
	await page.getByRole("link", { name: "Shelf" }).click();
	await page.getByRole("button", { name: "Add a film" }).click();
	const sheet = page.getByRole("dialog");
	const file = sheet.getByLabel(/^From a data sheet file/);
	const give = (text: string) =>
		file.setInputFiles({ name: "film.json", mimeType: "application/json", buffer: Buffer.from(text) });
	await give("{ nothing");
	await expect(sheet.getByRole("alert")).toContainText("This is no data sheet of a film");
	const film = {
		name,
		class: "cast_print",
		colour: "#23405c",
		sheet: { upright_years: 4.5, lap_mm: { from: 20, to: 20 } },
	};
	await give(JSON.stringify({ ...film, class: "gold_leaf" }));
	await expect(sheet.getByRole("alert")).toContainText("gold_leaf");
	// A figure that no film has is refused by the shop, in a sentence.
	await give(JSON.stringify({ ...film, sheet: { upright_years: 400 } }));
	await sheet.getByRole("button", { name: "Put it on the shelf" }).click();
	await expect(sheet.getByRole("alert")).toContainText(/years/);
	await give(JSON.stringify(film));
	await expect(sheet.getByLabel("What do you call it?")).toHaveValue(name);
	await expect(sheet).toContainText("2 figures of its own sheet came with it");
	await sheet.getByRole("button", { name: "Put it on the shelf" }).dblclick();
	await expect(page.getByRole("listitem", { name, exact: true })).toHaveCount(1);
	// What the shelf gives out is what came in.
	const shelf = await (await page.request.get("/api/shelf")).json();
	const own = shelf.films.find((f: { film: { name: string } }) => f.film.name === name);
	const out = await (await page.request.get(`/api/films/${own.id}/sheet.json`)).json();
	expect(out.sheet.upright_years).toBe(4.5);
	expect(out.class).toBe("cast_print");
});

test("laminates and hours of inks from a film's own sheet: which goes over a recess, how long the rack holds it, what is to be ordered", async ({
	page,
}) => {
	await asCrew(page);
	const name = called("knot print");
	const film = await stock(page, name, "cast print with air channels", "K-7", "54", "25 yd");
	await film.getByRole("button", { name: "Data sheet" }).click();
	const sheet = page.getByRole("dialog");
	await sheet.getByLabel("Gasses out, latex ink, hours").fill("6");
	const laminates = sheet.getByRole("region", { name: "Its laminates" });
	const add = async (n: number, laminate: string, mm: string, years: string) => {
		await laminates.getByRole("button", { name: "Add a laminate" }).click();
		await laminates.getByLabel("Laminate", { exact: true }).nth(n).fill(laminate);
		await laminates.getByLabel("With the film, mm").nth(n).fill(mm);
		await laminates.getByLabel("Lasts upright, years").nth(n).fill(years);
	};
	await add(0, "hard gloss", "0.18", "8");
	await add(1, "Hard Gloss", "o.1", "4");
	await sheet.getByRole("button", { name: "Keep its sheet" }).click();
	await expect(sheet.getByRole("alert")).toContainText("type one figure");
	await laminates.getByLabel("With the film, mm").nth(1).fill("0,1");
	await sheet.getByRole("button", { name: "Keep its sheet" }).click();
	await expect(sheet.getByRole("alert")).toContainText("Two laminates are called Hard Gloss");
	await laminates.getByLabel("Laminate", { exact: true }).nth(1).fill("thin satin");
	await sheet.getByRole("button", { name: "Keep its sheet" }).click();
	await expect(sheet).toHaveCount(0);

	await startJob(page, "Knot Bakery", "millimetres", "Cargo trailer");
	await toStage(page, "Lay out");
	await addPrint(page);
	await toStage(page, "Film");
	const card = page.getByRole("listitem", { name, exact: true });
	// A flat: what lasts longest.
	await expect(card).toContainText("Laminate hard gloss: lasts 8 years upright");
	await page.getByRole("button", { name: `Take ${name}` }).click();
	await expect(card.getByLabel("Laminate over it")).toContainText("hard gloss");
	await page.getByRole("tab", { name: "To order" }).click();
	await expect(page.getByText("laminate, hard gloss")).toBeVisible();

	// A recess under it: what is thinner, said; the one that was taken stays until somebody takes another.
	await toStage(page, "Look over");
	await sayFeatures(page, "recess 1000 back 700 down 500 x 400");
	await toStage(page, "Film");
	await expect(card).toContainText("the thinnest first");
	await expect(card.getByLabel("Laminate over it")).toContainText("hard gloss");
	await card.getByLabel("Laminate over it").click();
	await page.getByRole("option", { name: "thin satin" }).click();
	await expect(card.getByLabel("Laminate over it")).toContainText("thin satin");

	await page.getByRole("tab", { name: "By when" }).click();
	await page.getByLabel("Ink", { exact: true }).click();
	await page.getByRole("option", { name: "latex" }).click();
	const start = new Date(Date.now() + 8 * 24 * 3600 * 1000).toISOString().slice(0, 10);
	await page.getByLabel(/^By the shop/).fill(`${start}T08:00`);
	await page.getByRole("button", { name: "Then", exact: true }).click();
	const rack = page.getByRole("listitem", { name: /Let it gas out as long as its film.s data sheet says/ });
	await expect(rack).toContainText("6 h");
	await expect(page.getByRole("listitem", { name: "Laminate it cold, with thin satin" })).toBeVisible();
});

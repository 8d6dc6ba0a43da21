import { expect, type Page, test } from "@playwright/test";
import { asCrew, chooseSide, nextMove, readPaper, sayFeatures, startJob, toStage, typeLength } from "./shop";

/** Marking of vehicles of anybody, each from an empty job to its printed page, read back with three errors. */
test.describe.configure({ mode: "parallel" });

const toPage = (page: Page, name: string) => page.getByRole("tab", { name, exact: true }).click();
const openMarking = (page: Page) => page.getByRole("tab", { name: "Marking" }).click();

/** The height above the ground is what the first layout waits for: it comes up by itself. */
async function ground(page: Page, high: string) {
	await type(page, /above the ground, at curb weight/, high);
	await expect(page.getByRole("tab", { name: "Strips", exact: true })).toHaveAttribute(
		"data-state",
		"active",
	);
}

/** Types into a field and waits until what it says is kept. */
async function type(page: Page, label: string | RegExp, text: string) {
	const field = typeof label === "string" ? page.getByLabel(label, { exact: true }) : page.getByLabel(label);
	await field.fill(text);
	const kept = page.waitForResponse((r) => r.request().method() === "PUT" && r.ok());
	await field.press("Enter");
	await kept;
}

async function choose(page: Page, label: string, option: string | RegExp) {
	await page.getByLabel(label, { exact: true }).click();
	const kept = page.waitForResponse((r) => r.request().method() === "PUT" && r.ok());
	await page.getByRole("option", { name: option }).first().click();
	await kept;
}

/** Reads the strips back: the second two inches back, the third missing, one more that nobody planned, all others as planned. */
async function readBack(page: Page) {
	await page.getByRole("radio", { name: "As read back" }).click();
	await toPage(page, "Strips");
	await page.getByRole("button", { name: "Begin with the plan" }).click();
	await expect(nextMove(page)).toContainText("Read strip 1: planned");
	const strip = (n: number) => page.getByRole("listitem", { name: `Strip ${n}`, exact: true });
	const count = await page.getByRole("region", { name: "Read back" }).getByRole("listitem").count();
	for (let n = 1; n <= count; n++) {
		if (n === 3) {
			await strip(n).getByRole("button", { name: "Strip 3 is not there" }).click();
			await expect(strip(n)).toContainText("It is not there.");
			continue;
		}
		await strip(n)
			.getByRole("button", { name: `Strip ${n} lies as planned` })
			.click();
		await expect(strip(n)).toContainText("✓ As planned.");
	}
	await type(page, "Strip 2: begins", "60");
	await expect(strip(2)).toContainText(/! It begins .* too near the/);
	await page.getByRole("button", { name: "One more strip" }).click();
	await expect(strip(count + 1)).toContainText("Not in the plan.");
	return count;
}

/** The work sheet and report, as an independent reader reads it. */
const report = (page: Page) => readPaper(page, page.getByRole("link", { name: "Work sheet and report" }));

test("a 48 ft trailer of 2020: required by the new rule, even, turned beside a red lamp, read back with three errors", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Ringplover Freight", undefined, "Semi-trailer");
	await typeLength(page, /Length along the top rail/, "48'");
	await sayFeatures(
		page,
		"lamp 2 back 8' 7 down 4 x 4 red required tail",
		"lamp 24' back 8' 7 down 4 x 4 amber required marker",
		"lamp 47' 8 back 8' 7 down 4 x 4 red required marker",
	);
	await toStage(page, "Lay out");
	await openMarking(page);
	await type(page, "Weight rating", "68,000 lb");
	await type(page, "Built", "2020");
	await type(page, "Overall width", "102");
	await ground(page, "13' 4");
	await expect(page.getByText("Marking is required.").first()).toBeVisible();
	await toPage(page, "Strips");
	await expect(page.getByRole("region", { name: "Strips" })).toContainText(
		"so that a strip can be cut back later",
	);
	await toPage(page, "Audit");
	const audit = page.getByRole("region", { name: "Audit" });
	await expect(audit).not.toContainText("✗ not kept");
	await expect(audit).toContainText("✓ kept The spaces between strips are as even as practicable.");
	const count = await readBack(page);
	expect(count).toBeGreaterThan(6);
	const paper = await report(page);
	for (const told of [
		"no approval",
		"weight rating 68,000 lb, built 2020",
		"REASON NEEDED The spaces between strips are as even as practicable",
		"Strips, as running distances from the zero of the tape",
		"Cut in this order",
		"Order of work",
		"clause by clause",
	])
		expect(paper).toContain(told);
	for (const kind of ["SVG", "DXF"]) {
		const link = page.getByRole("link", { name: `Strips as ${kind}, full size` });
		const drawing = await page.request.get((await link.getAttribute("href")) ?? "");
		expect(drawing.status()).toBe(200);
		expect(await drawing.text()).toMatch(/polygon|STRIP_RED/);
	}
});

test("a trailer of 1990: the rule for trailers in use binds, whichever was asked; 1993 alone does not decide", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Dunlin Haulage", undefined, "Semi-trailer");
	await toStage(page, "Lay out");
	await openMarking(page);
	await type(page, "Weight rating", "17 tons");
	await type(page, "Built", "1990");
	await type(page, "Overall width", "8' 6");
	await ground(page, "13' 6");
	await toPage(page, "Vehicle and tape");
	const required = page.getByRole("region", { name: "Whether it is required" });
	await expect(required).toContainText("Laid out and audited by: United States, in use (49 CFR 393.13).");
	await type(page, "Built", "1993");
	await expect(required).toContainText("until November the rule for trailers in use decides");
	await type(page, "Built", "1990");
	await toPage(page, "Audit");
	await expect(page.getByRole("region", { name: "Audit" })).not.toContainText("✗ not kept");
	await readBack(page);
	expect(await report(page)).toContain("49 CFR 393.13");
});

test("a box truck: no rule asks for it, and what is laid is judged by the limits of voluntary marking", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Whimbrel Parcels", undefined, "Box truck");
	await toStage(page, "Lay out");
	await openMarking(page);
	// What the job says of the vehicle stands there.
	await expect(page.getByLabel("Vehicle", { exact: true })).toContainText("truck");
	await type(page, "Built", "May 2018");
	await ground(page, "11'");
	await expect(
		page.getByText("Marking is not required. It may be marked voluntarily.").first(),
	).toBeVisible();
	await readBack(page);
	expect(await report(page)).toContain("Not required; it is voluntary.");
});

test("a tractor without flaps: above the tyres' tops ahead of the axle, and what must be looked at is said", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Sanderling Tractors", undefined, "Semi-trailer");
	await chooseSide(page, /rear/);
	await toStage(page, "Lay out");
	await openMarking(page);
	await choose(page, "Vehicle", /truck tractor/);
	await type(page, "Built", "July 1997");
	await ground(page, "10'");
	await toPage(page, "Vehicle and tape");
	await page.getByRole("button", { name: "Say where its two strips can go" }).click();
	await choose(page, "On", /ahead of the rear axle/);
	await type(page, /Tyres' tops/, "34 in");
	await expect(page.getByText("Marking is required.").first()).toBeVisible();
	await toPage(page, "Audit");
	const audit = page.getByRole("region", { name: "Audit" });
	await expect(audit).toContainText("✓ kept The street strip is at least 600 mm long.");
	await expect(audit).toContainText("The strip lies between 864 and 914 mm above the road");
	await expect(audit).toContainText("at most a quarter of the white pairs on the cab is hidden");
	await readBack(page);
	expect(await report(page)).toContain("truck tractor");
});

test("a 12 m trailer by the UN set, in millimetres: line and corners, the typed width beside the drawn one", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Wimbrel Spedition", "millimetres", "Semi-trailer");
	await typeLength(page, /Length along the top rail/, "12000");
	await toStage(page, "Lay out");
	await openMarking(page);
	await choose(page, "Rules", /^UN/);
	await choose(page, "Category", "O4");
	await type(page, "Overall width", "2550");
	await type(page, "Overall length", "12000");
	await page.getByLabel("Tape", { exact: true }).click();
	await page.getByRole("option", { name: "C, 50 mm, yellow" }).click();
	await ground(page, "4000 mm");
	await toPage(page, "Audit");
	const audit = page.getByRole("region", { name: "Audit" });
	await expect(audit).toContainText("? figure uncertain Tape is at most 60 mm wide. (UN R104, a lead only)");
	await expect(audit).not.toContainText("✗ not kept");
	await readBack(page);
	expect(await report(page)).toContain("UN Regulations 48 and 104");
	await chooseSide(page, /rear/);
	await openMarking(page);
	await page.getByRole("radio", { name: "As laid out" }).click();
	await toPage(page, "Vehicle and tape");
	await type(page, /above the ground, at curb weight/, "4000 mm");
	await toPage(page, "Audit");
	await expect(audit).toContainText("The overall width is 2550 mm as typed");
});

test("a trailer with rows of reflectors in place of tape: counted and read, and each clause of theirs told", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Whimbrel Haulage", undefined, "Semi-trailer");
	await typeLength(page, /Length along the top rail/, "20'");
	await toStage(page, "Lay out");
	await openMarking(page);
	await type(page, "Weight rating", "34,000 lb");
	await type(page, "Built", "2020");
	await type(page, "Overall width", "102");
	await ground(page, "13' 4");
	await page.getByRole("radio", { name: "As read back" }).click();
	await toPage(page, "Strips");
	await page.getByRole("button", { name: "Begin with the plan" }).click();
	await page.getByRole("button", { name: "A row of reflectors" }).click();
	const row = page.getByRole("region", { name: "Read back" }).getByRole("listitem").last();
	await expect(row).toContainText("Not read yet");
	const figure = async (label: string | RegExp, text: string) => {
		const field = row.getByLabel(label);
		await field.fill(text);
		const kept = page.waitForResponse((r) => r.request().method() === "PUT" && r.ok());
		await field.press("Enter");
		await kept;
	};
	await figure(/centre of the first/, "1'");
	await figure("centre of the last", "12'");
	await figure("upper edge, down", "9' 11");
	await figure("reflectors", "36");
	await expect(row).not.toContainText("Not read yet");
	await toPage(page, "Audit");
	const audit = page.getByRole("region", { name: "Audit" });
	// 132 in over 35 spaces: 3.77 in, which an average alone does not prove.
	await expect(audit).toContainText("row 4: 3 3/4 on average");
	await expect(audit).toContainText("Measure the widest");
	await toPage(page, "Strips");
	await figure("widest, centre to centre", "4 1/2");
	await row.getByLabel("Marked DOT-C").click();
	await page.getByRole("option", { name: "on every one", exact: true }).click();
	await toPage(page, "Audit");
	await expect(audit).toContainText(/✗ not kept\s*The centre of each reflector is at most 100 mm/);
	await expect(audit).toContainText(/✓ kept\s*Each reflector shows the mark DOT-C/);
	await expect(audit).toContainText(/✓ kept\s*Two or three white and two or three red/);
	// Eleven of twenty feet.
	await expect(audit).toContainText("55.0 %");
});

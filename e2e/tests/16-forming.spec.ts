import { expect, type Page, test } from "@playwright/test";
import {
	addPrint,
	asCrew,
	atRest,
	laidAndOnPaper,
	layAll,
	nextMove,
	sayFeatures,
	startJob,
	toStage,
	typeLength,
} from "./shop";

/** Where film stretches, how its edges end, by when it is made: from an empty job to what the printer is told. */
test.describe.configure({ mode: "parallel" });

async function aPrint(page: Page, wide: string, high: string) {
	await toStage(page, "Lay out");
	await addPrint(page);
	await typeLength(page, "Width as trimmed", wide);
	await typeLength(page, "Height as trimmed", high);
	await atRest(page);
	await toStage(page, "Film");
}

/** An hour so many days from now, as a form takes it. */
const inDays = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 16);

test("a panel van with two recesses 19 mm deep: one is fed, one must be heated, and its print has its hours", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Knot Couriers", "millimetres", "Panel van");
	await sayFeatures(
		page,
		"recess 1900 back 900 down 300 wide 102 high 19 deep walls 90",
		"recess 2500 back 900 down 300 wide 102 high 19 deep walls 90 open foot",
	);
	await aPrint(page, "2400", "700");
	await page.getByRole("tab", { name: "Where it stretches" }).click();
	const places = page.getByRole("region", { name: "Where it stretches" });
	await expect(places).toContainText("2 places, in this order");
	// 102 + 2 · 19 over 102: 37 % straight in, 38 / (102 + 2 · 50.8) = 19 % with 2 in of warm film on each side.
	const shut = places.getByRole("listitem").filter({ hasText: "warm, then heat" });
	await expect(shut).toContainText("19 % warmed");
	await shut.getByRole("button").click();
	await expect(shut).toContainText("37 % where it is pushed straight in");
	await expect(shut).toContainText("a print may whiten");
	await expect(places.getByRole("listitem").filter({ hasText: "feed" })).toContainText(
		"Feed 38 mm of slack in from the foot",
	);
	await expect(nextMove(page)).toContainText("2 places must reach its temperature");

	// Tried otherwise it changes at once, and nothing is kept.
	const tryIt = page.getByRole("region", { name: /tried|Try it/ });
	await typeLength(page, "Warm so far round", "140");
	await expect(shut).toHaveCount(0);
	await expect(places.getByRole("listitem").first()).toContainText(/10 % warmed/);
	await page.getByLabel("Warm so far round").fill("wide");
	await page.getByLabel("Warm so far round").press("Enter");
	await expect(tryIt.getByRole("alert")).toBeVisible();
	await tryIt.getByRole("button", { name: "As it was" }).click();
	await expect(places.getByRole("listitem").filter({ hasText: "warm, then heat" })).toHaveCount(1);
	await expect(page.getByRole("region", { name: "Edges" })).toContainText("Corners first");
	await expect(page.getByRole("region", { name: "Edges" })).toContainText("No blade goes to paint");

	// By when: an hour that has passed is told; what is done is ticked and stays; a trembling hand ticks once.
	await page.getByRole("tab", { name: "By when" }).click();
	await expect(nextMove(page)).toContainText("Say when the fitting starts");
	const clock = page.getByLabel(/shop’s clock/);
	await clock.fill(inDays(-1));
	await page.getByRole("button", { name: "Then", exact: true }).click();
	await expect(page.getByRole("alert")).toContainText("has passed");
	await page.getByLabel("Ink").click();
	await page.getByRole("option", { name: "solvent", exact: true }).click();
	await clock.fill(inDays(4));
	await page.getByRole("button", { name: "Then", exact: true }).click();
	const steps = page.getByRole("region", { name: "By when", exact: true }).getByRole("listitem");
	await expect(steps).toHaveCount(6);
	await expect(page.getByLabel("Ink")).toContainText("solvent");
	await expect(nextMove(page)).toContainText("Print it, all of one job on one lot: begin by");
	await page.getByRole("button", { name: /^Print it.*: (not )?done$/ }).dblclick();
	await expect(page.getByText("Its prints gas out until")).toBeVisible();
	await expect(nextMove(page)).toContainText("Let it gas out");
	await page.reload();
	await page.getByRole("tab", { name: "By when" }).click();
	await expect(page.getByRole("button", { name: /^Print it.*: not done$/ })).toBeVisible();
	// Tomorrow is too soon: it is late, and from when it could start is said.
	await clock.fill(inDays(1));
	await page.getByRole("button", { name: "Then instead" }).click();
	await expect(page.getByRole("alert")).toContainText("the fitting could start");

	// To the paper: what is fed and what must reach its temperature stands in the packet.
	const packet = await laidAndOnPaper(page);
	expect(packet).toContain("Feed 38 mm of slack in from the foot");
	expect(packet).toContain("must reach");
});

test("a car's half wrap over a door gap, a body line that was measured and a moulding that stays: cut, fed and heated where it must be", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Plover Taxi", undefined, "^Car$");
	await aPrint(page, "70", "20");
	const job = new URL(page.url()).pathname.split("/")[2];
	const { sides } = await (await page.request.get(`/api/jobs/${job}`)).json();
	let piece = { bounds: [0, 0, 0, 0], datum: [[0, 0]] };
	// Both lengths are kept: it is as wide and as high as it was typed, and two inches of bleed all round.
	await expect
		.poll(async () => {
			[piece] = (await (await page.request.get(`/api/sides/${sides[0].id}`)).json()).pieces;
			return piece.bounds.slice(2).map((mm) => mm / 25.4);
		})
		.toEqual([expect.closeTo(74, 3), expect.closeTo(24, 3)]);
	// Across the middle of the print wherever it came to lie, in inches.
	const [left = 0, top = 0, wide = 0, high = 0] = piece.bounds.map((mm) => mm / 25.4);
	const rail = (piece.datum[0]?.[1] ?? 0) / 25.4;
	const [x, y] = [Math.round(left + wide / 2), Math.round(top + high / 2 - rail)];
	await page.goto(`/jobs/${job}/look-over`);
	await sayFeatures(
		page,
		`door gap ${x} back x1`,
		`body line along ${x - 20}, ${y + 5}; ${x + 20}, ${y + 5}; 1/2 deep 1 1/2 wide`,
		`moulding ${x - 10} back ${y - 3} down 20 wide 2 high stays`,
	);
	await toStage(page, "Film");
	await page.getByRole("tab", { name: "Where it stretches" }).click();
	const places = page.getByRole("region", { name: "Where it stretches" });
	// Two straight walls of 0.75 and 0.5: 2 · √(0.5625 + 0.25) = 1.803 over 1.5, 20 % where it is bridged; 0.303, 5/16, is fed.
	await expect(places).toContainText("5/16 of film is fed to it from both sides");
	await expect(places).toContainText("it would stretch by 20 %");
	// Round the moulding once, 2 · (20 + 2) less what the gap parts of it; down one side of the gap and up the other, 2 · (20 − 2), and near both.
	const edges = page.getByRole("region", { name: "Edges" });
	const long = async (at: string) => {
		const row = edges.getByRole("listitem").filter({ hasText: `at ${at}:` });
		const [, feet, inches] = /(?:(\d+)' )?(\d+)/.exec((await row.locator("b").textContent()) ?? "") ?? [];
		return 12 * Number(feet ?? 0) + Number(inches);
	};
	expect(Math.abs((await long("moulding")) - 44)).toBeLessThanOrEqual(1);
	expect(Math.abs((await long("door gap")) - 38)).toBeLessThanOrEqual(2);
	// All of the job, stage by stage.
	await page.getByRole("tab", { name: "By when" }).click();
	const whole = page.getByRole("region", { name: "The whole job" });
	await expect(whole).toContainText("of one pair of hands");
	await whole.getByText("Lay down").click();
	await expect(whole.getByRole("listitem").filter({ hasText: "Hang and press printed panel" })).toBeVisible();
	await page.goto(page.url().replace(/film.*/, "lay-down"));
	await layAll(page);
	await page.goto(page.url().replace(/lay-down.*/, "film"));
	await page.getByRole("tab", { name: "By when" }).click();
	await expect(whole).toContainText("Lay down ✓ done");
	await page.goto(page.url().replace(/film.*/, "heat-seal"));
	await expect(page.getByRole("heading", { name: /^edge at door gap/ })).toBeVisible();
});

test.describe("on a phone", () => {
	test.use({ viewport: { width: 390, height: 844 } });

	test("a metal boat, rivets along two strakes: heads are told with their ring, nothing is wider than the phone", async ({
		page,
	}) => {
		await asCrew(page);
		await startJob(page, "Turnstone Boats", undefined, "Boat");
		await sayFeatures(page, "rivets 24 every 6 x12, 14 down every 6 x2 head 3/8");
		await page.goto(page.url().replace("look-over", "lay-out"));
		await addPrint(page);
		await page.goto(page.url().replace("lay-out", "film"));
		await page.getByRole("tab", { name: "Where it stretches" }).click();
		const places = page.getByRole("region", { name: "Where it stretches" });
		await expect(places).toContainText(/\d+ heads 3\/8 across/);
		await expect(places).toContainText("never above 200 °F");
		await page.getByRole("tab", { name: "By when" }).click();
		await expect(page.getByRole("region", { name: "For whoever prints and cuts" })).toContainText("one lot");
		expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
		await page.goto(page.url().replace("film", "lay-down"));
		await layAll(page);
		await page.goto(page.url().replace("lay-down", "hand-over"));
		await page.getByRole("button", { name: "Issue the plan" }).click();
		await expect(page.getByRole("link", { name: /packet/i }).first()).toBeVisible();
	});
});

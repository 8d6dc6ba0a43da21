import { expect, type Page, test } from "@playwright/test";
import {
	addLettering,
	addPrint,
	asCrew,
	atRest,
	intoBay,
	laidAndOnPaper,
	layAll,
	nextMove,
	packetOf,
	sayFeatures,
	startJob,
	toStage,
	typeLength,
} from "./shop";

/** Old film off, then a surface that film holds on: from an empty job to the paper. */
test.describe.configure({ mode: "parallel" });

/** Says what is on the side, field by field. */
async function oldFilm(page: Page, said: Record<string, string>, kind?: string) {
	await page.getByRole("button", { name: "Old film is on it" }).click();
	const form = page.getByRole("form", { name: "New old film" });
	if (kind) {
		await form.getByLabel("What it is", { exact: true }).click();
		await page.getByRole("option", { name: kind, exact: true }).click();
	}
	for (const [label, text] of Object.entries(said)) await form.getByLabel(label, { exact: true }).fill(text);
	await form.getByRole("button", { name: "It is on it" }).click();
}

/** A patch that another watch has timed. */
async function patch(page: Page, where: string, film: string, left: string) {
	const form = page.getByRole("form", { name: "Test patch" });
	await form.getByRole("button", { name: "It was timed by another watch" }).click();
	await form.getByLabel("Where", { exact: true }).click();
	await page.getByRole("option", { name: where, exact: true }).click();
	await form.getByLabel(/Film took/).fill(film);
	await form.getByLabel("What the film left behind").click();
	await page.getByRole("option", { name: left, exact: true }).click();
	await form.getByRole("button", { name: "Keep the patch" }).click();
}

async function readPanel(page: Page, degrees: string[]) {
	const form = page.getByRole("form", { name: "Read the panel" });
	for (const d of degrees) {
		await form.getByLabel(/^Panel/).fill(d);
		await form.getByRole("button", { name: "Read" }).click();
		await expect(form.getByLabel(/^Panel/)).toHaveValue("");
	}
}

test("a box body with lettering of fifteen years on its sunny side: everything off, then new lettering over the ghost", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Whimbrel Removals");
	await toStage(page, "Strip");
	await expect(nextMove(page)).toContainText("Is there old film on it?");
	await intoBay(page, "Wash hall");
	// What cannot be is told where it is typed, and what was typed stays.
	await page.getByRole("button", { name: "Old film is on it" }).click();
	const form = page.getByRole("form", { name: "New old film" });
	await form.getByLabel("What it is called").fill("old lettering");
	await form.getByRole("button", { name: "It is on it" }).click();
	await expect(page.getByRole("alert").first()).toBeVisible();
	await expect(form.getByLabel("What it is called")).toHaveValue("old lettering");
	await page.getByRole("button", { name: "Not now" }).click();
	await oldFilm(page, {
		"What it is called": "old lettering",
		"Front edge, back": "2'",
		"Top, down from the rail": "18",
		Long: "10'",
		High: "2'",
		"Years on it": "15",
		Letters: "14",
	});
	await expect(nextMove(page)).toContainText("lift a cold corner");
	await page.getByRole("button", { name: "Chips", exact: true }).click();
	await expect(nextMove(page)).toContainText("time a test patch");
	const how = page.getByRole("region", { name: "How it comes off" });
	await expect(how).toContainText("push it off with a plastic blade");
	await expect(how).toContainText("Its cold corner broke into chips.");
	await expect(how.getByRole("list", { name: "Never here" })).toContainText("No metal blade on paint");
	const before = await page.getByTestId("done-by").textContent();
	expect(before).toMatch(/^Done by .* in 9 cases of 10/);

	// Two patches of five letters: the worst place 8 minutes, a typical one 4.
	await page.getByRole("button", { name: "Test patch" }).click();
	await patch(page, "worst place", "8:00", "much adhesive left");
	const kept = page.getByRole("region", { name: "Patches" }).getByRole("listitem");
	await expect(kept).toHaveCount(1);
	await patch(page, "typical", "4:00", "a smear left");
	await expect(kept).toHaveCount(2);
	await expect(kept.nth(1)).toContainText("typical, 5 letters: film 4:00");
	await patch(page, "typical", "no time", "a smear left");
	await expect(page.getByRole("alert").first()).toContainText("from 1 second to 8 hours");
	await page.getByRole("button", { name: "Not this one" }).click();
	await page.getByRole("tab", { name: "How long" }).click();
	const remains = page.getByRole("region", { name: "All that remains" });
	await expect(remains).toContainText("From what was timed here.");
	// 8 min for the worst five is 5 typical minutes by 1.6; with the other about a minute a letter, a quarter of an hour of film.
	await expect(page.getByRole("region", { name: "Rates" })).toContainText(/Film.*\d/);
	await expect(remains).toContainText(/Remover for what remains: \d+ to \d+ ml/);

	// Heat waits for what is wet; then letter by letter, pressed twice by a trembling hand once, undone by a touch.
	await page.getByRole("tab", { name: "Bay" }).click();
	await page.getByRole("button", { name: "Something is wet" }).click();
	await page.getByRole("button", { name: "It is wet from now on" }).click();
	await expect(page.getByRole("alert").first()).toContainText("No heat until");
	await expect(nextMove(page)).toContainText("No heat until");
	await page.getByRole("button", { name: "Letter 1 of 14: film off" }).dblclick();
	await expect(page.getByRole("button", { name: "Letter 2 of 14: film off" })).toBeVisible();
	await page.reload();
	await expect(page.getByRole("button", { name: "Letter 2 of 14: film off" })).toBeVisible();
	const next = page.getByRole("button", { name: /^Letter \d+ of 14/ });
	for (const [phase, from] of [
		["film off", 2],
		["clean", 1],
	] as const) {
		for (let n = from; n <= 14; n++) {
			const name = `Letter ${n} of 14: ${phase}`;
			await expect(next).toHaveText(name);
			// A press that follows at once is taken for a tremble: it is pressed again, as a person would.
			await expect(async () => {
				await next.click({ timeout: 500 }).catch(() => undefined);
				await expect(page.getByRole("button", { name })).toHaveCount(0, { timeout: 400 });
			}).toPass();
		}
	}
	await expect(nextMove(page)).toContainText("All old film is off.");
	await expect(page.getByTestId("done-by")).toHaveCount(0);

	// New lettering over the ghost; then the preparation, and a panel that is cold.
	await toStage(page, "Lay out");
	await addLettering(page, "WHIMBREL");
	await toStage(page, "Prep");
	await expect(nextMove(page)).toContainText("Wash with mild detergent");
	// Two presses within 0.7 s are one that trembled: the next step's button stands in the same place. So each is pressed
	// until its words are gone, as a person would, and the last one's button may go while it is looked for.
	const done = page.getByRole("button", { name: "Done", exact: true });
	for (let n = 0; n < 12; n++) {
		const bar = (await nextMove(page).textContent()) ?? "";
		if ((await done.count()) === 0) break;
		await expect(async () => {
			await done.click({ timeout: 500 }).catch(() => undefined);
			await expect(nextMove(page)).not.toHaveText(bar, { timeout: 400 });
		}).toPass();
	}
	await expect(done).toHaveCount(0);
	await page.getByRole("tab", { name: "Warm and dry" }).click();
	await readPanel(page, ["45", "44", "47"]);
	const air = page.getByRole("form", { name: "Read the air" });
	await air.getByLabel(/^Air/).fill("70");
	await air.getByLabel(/Humidity/).fill("140");
	await air.getByRole("button", { name: "Read" }).click();
	await expect(page.getByRole("alert").first()).toContainText("from 1 to 100 percent");
	await expect(air.getByLabel(/^Air/)).toHaveValue("70");
	await air.getByLabel(/Humidity/).fill("40");
	await air.getByRole("button", { name: "Read" }).click();
	await expect(page.getByTestId("warm")).toContainText(/in the window between .* and /);
	await expect(page.getByTestId("warm")).toContainText("Prior only");
	await page.getByLabel(/in the hall for/).fill("30");
	await page.getByRole("button", { name: "So long" }).click();
	await expect(page.getByText("In the hall since")).toBeVisible();
	await page.getByRole("tab", { name: "Ready to fit?" }).click();
	const gate = page.getByRole("region", { name: "Ready to fit?" });
	// Cut lettering is fitted from 50 °F: 44 is more than 2 °C below it.
	await expect(gate).toContainText("Panel 44 °F at its coldest");
	await expect(page.getByTestId("gate")).toContainText("No.");
	await gate.getByRole("button", { name: "They are" }).click();
	await page.getByRole("tab", { name: "Warm and dry" }).click();
	await readPanel(page, ["66", "65", "68"]);
	await page.getByRole("tab", { name: "Ready to fit?" }).click();
	// What was read again in each place counts in place of what was read there before.
	await expect(page.getByTestId("gate")).toContainText("Yes: ready to fit.");
	await page.getByRole("link", { name: "Hinge", exact: true }).last().click();
	await expect(page).toHaveURL(/hinge/);

	const packet = await laidAndOnPaper(page);
	for (const words of [
		"Test patch, worst place, 5.00: film 8:00; much adhesive left.",
		"Cleaned: final wipe with alcohol.",
		"Air 70 °F, 40 %.",
		"Surface 65 °F over a member, infrared.",
	])
		expect(packet).toContain(words);
});

test.describe("on a phone", () => {
	test.use({ viewport: { width: 390, height: 844 } });

	test("a hopper whose paint is five weeks old: the gate says no, and what reflective is there comes off by metres", async ({
		page,
	}) => {
		await asCrew(page);
		await startJob(page, "Brent Waste", "millimetres");
		const job = page.url().split("/jobs/")[1]?.split("/")[0];
		await page.goto(page.url().replace("look-over", "strip"));
		await oldFilm(
			page,
			{
				"What it is called": "old strip",
				"Front edge, back": "400",
				"Top, down from the rail": "1500",
				Long: "2400",
				High: "50",
				"Years on it": "7",
			},
			"prismatic strip",
		);
		await page.getByRole("button", { name: "Tears", exact: true }).click();
		await expect(page.getByRole("region", { name: "How it comes off" })).toContainText("2.4 m");
		expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
		// Its parts fill the picture: six of 400 mm, each as wide as a finger.
		const first = page.getByLabel("old strip, part 1: on");
		await first.click({ force: true });
		await expect(page.getByLabel("old strip, part 1: film off")).toBeVisible();
		await page.getByLabel("old strip, part 1: film off").click({ force: true });
		await expect(page.getByLabel("old strip, part 1: on")).toBeVisible();
		// Paint came off with it: with its place into the record.
		await page.getByLabel("About this old film").selectOption({ label: "Harm" });
		const harm = page.getByRole("form", { name: "New harm" });
		await harm.getByLabel("Back").fill("500");
		await harm.getByLabel("Down").fill("1510");
		await harm.getByRole("button", { name: "Keep it in the record" }).click();
		await expect(page.getByRole("region", { name: "Came to light" })).toContainText(
			"paint lifted, 500 mm back, 1510 mm down",
		);

		// Five weeks ago it was sprayed again: no time of day makes that ready.
		await page.goto(`/jobs/${job}/look-over`);
		await page.getByRole("tab", { name: "Surface" }).click();
		await page.getByLabel("Paint or gelcoat").click();
		await page.getByRole("option", { name: "sprayed again" }).click();
		const day = new Date(Date.now() - 35 * 86_400_000).toISOString().slice(0, 10);
		await page.getByLabel("Sprayed on").fill(day);
		await page.getByLabel("Sprayed on").blur();
		await atRest(page);
		await page.goto(`/jobs/${job}/prep`);
		await page.getByLabel("Prep", { exact: true }).selectOption({ label: "Ready to fit?" });
		await expect(page.getByRole("region", { name: "Ready to fit?" })).toContainText(/six weeks/);
		await expect(page.getByTestId("gate")).toContainText("No.");
		expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	});
});

test("what two jobs in one bay wet locks heat for both, and a print's promoter runs are drawn with their waits", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Stint Catering", undefined, "Panel van");
	await sayFeatures(page, "recess 1900 mm back 900 mm down 300 mm wide 102 mm high 19 mm deep walls 90");
	await toStage(page, "Lay out");
	await addPrint(page);
	await toStage(page, "Prep");
	await page.getByRole("tab", { name: "Bay" }).click();
	await intoBay(page, "Paint hall");
	await page.getByRole("tab", { name: "Promoter" }).click();
	const runs = page.getByRole("region", { name: "printed panel" }).getByRole("listitem");
	await expect(runs.first()).toContainText("It meets the wind.");
	await expect(page.getByTestId("promoter-run").first()).toBeAttached();
	await page.getByRole("button", { name: "Promoter on front edge" }).click();
	await expect(runs.first().getByRole("timer")).toContainText(/^(9:\d\d|10:00)$/);
	await expect(page.getByRole("alert").first()).toContainText("No heat until");
	await toStage(page, "Lay down");
	await expect(page.getByRole("alert").filter({ hasText: "No heat until" })).toBeVisible();
	expect(await packetOf(page)).toContain("Promoter on: front edge.");
});

test("what this shop laid on a truck is the old film of its next job: looked up, not measured again", async ({
	page,
}) => {
	const customer = `Grebe Haulage ${Math.floor(Math.random() * 1e6)}`;
	await asCrew(page);
	await startJob(page, customer);
	await toStage(page, "Lay out");
	await addLettering(page, "GREBE 42");
	await atRest(page);
	await toStage(page, "Lay down");
	await layAll(page);
	await expect(nextMove(page)).toContainText("lies.");

	await startJob(page, customer);
	await toStage(page, "Strip");
	await page.getByRole("button", { name: "Old film is on it" }).click();
	await page.getByRole("button", { name: "From an earlier job" }).click();
	const sheet = page.getByRole("dialog");
	await expect(sheet).toContainText("GREBE 42, cut lettering");
	// Other words, then nonsense, then nothing again: Enter looks, and records nothing.
	const words = sheet.getByLabel("Customer, vehicle, year or lettering");
	await words.fill("no such vehicle");
	await words.press("Enter");
	await expect(sheet).toContainText("No earlier job with \u201cno such vehicle\u201d");
	await words.fill("");
	await words.press("Enter");
	await sheet.getByRole("button", { name: "It is still on it" }).dblclick();
	await expect(sheet).toHaveCount(0);
	await expect(page.getByLabel("Old film", { exact: true })).toContainText("GREBE 42");
	// Seven letters that come off one by one, where they were laid.
	await expect(nextMove(page)).toContainText("GREBE 42");
	// At once, and once the page was loaded anew, it is not offered twice.
	for (const anew of [false, true]) {
		if (anew) await page.reload();
		await page.getByRole("button", { name: "Old film is on it" }).click();
		await page.getByRole("button", { name: "From an earlier job" }).click();
		await expect(sheet).toContainText("on the list already");
		if (!anew) await page.keyboard.press("Escape");
	}
	await expect(sheet.getByRole("button", { name: "None of it" })).toBeDisabled();
});

test("a side is cleaned zone by zone, a coat hardens before film, and a patch that runs is seen on another device", async ({
	page,
	browser,
}) => {
	await asCrew(page);
	await startJob(page, "Sandpiper Nurseries");
	await toStage(page, "Lay out");
	await addPrint(page);
	await typeLength(page, "Width as trimmed", "12'");
	await atRest(page);
	await toStage(page, "Prep");
	await page.getByRole("tab", { name: "Bay" }).click();
	await intoBay(page, "Zone hall");
	await page.getByRole("tab", { name: "Clean" }).click();
	await page.getByRole("button", { name: /^In \d+ zones$/ }).click();
	const zones = await page.getByTestId("zone").count();
	expect(zones).toBeGreaterThan(1);
	// The next move is one zone; pressed twice by a trembling hand it is that one alone.
	await expect(nextMove(page)).toContainText("Wash with mild detergent");
	await page.getByRole("button", { name: "Zone 1 done" }).dblclick();
	await expect(page.getByRole("button", { name: "Zone 2 done" })).toBeVisible();
	// Reloaded, zones are still shown, and what was ticked is.
	await page.reload();
	await expect(page.getByTestId("zone").first()).toContainText("✓ 1");
	for (let n = 2; n <= zones; n++) await page.getByRole("button", { name: `wash, zone ${n}: done` }).click();
	await expect(page.getByText(/^✓ Wash with mild detergent/)).toBeVisible();
	// Each dwell has its timer.
	await page.getByRole("button", { name: "cleaner, zone 1: on" }).click();
	await page.getByRole("button", { name: "cleaner, zone 2: on" }).click();
	await expect(page.getByRole("timer")).toHaveCount(2);
	await page.getByRole("button", { name: "cleaner, zone 1: done" }).click();
	await expect(page.getByRole("timer")).toHaveCount(1);
	// What is wet says where.
	await page.getByRole("tab", { name: "Bay" }).click();
	await expect(page.getByText(/zone 1/).first()).toBeVisible();
	await page.getByRole("tab", { name: "Clean" }).click();

	// A rough repair: its coats come in, and the next one waits until it is hard.
	await page.getByLabel(/a rough repair where film goes/).click();
	await page.getByRole("option", { name: "some: it is made good first" }).click();
	await page.getByRole("button", { name: "sand: done" }).click();
	await page.getByRole("button", { name: "fill: done" }).click();
	await expect(nextMove(page)).toContainText("It hardens until");
	const fill = page.getByRole("listitem").filter({ hasText: "Fill, let it harden" });
	await fill.getByRole("button", { name: "By its tin" }).click();
	await fill.getByLabel("Hardens, hours").fill("never");
	await fill.getByRole("button", { name: "Keep it" }).click();
	await expect(page.getByRole("alert").first()).toContainText("How long does it harden, as its tin says?");

	// A patch that is begun here runs on a phone that looks, and is kept there.
	await toStage(page, "Strip");
	await oldFilm(page, {
		"What it is called": "old lettering",
		"Front edge, back": "2'",
		"Top, down from the rail": "18",
		Long: "10'",
		High: "2'",
		"Years on it": "6",
		Letters: "14",
	});
	await page.getByRole("button", { name: "Whole", exact: true }).click();
	await page.getByRole("tab", { name: "Test patch" }).click();
	await page.getByRole("button", { name: "Start on the film" }).dblclick();
	await expect(page.getByRole("timer")).toBeVisible();
	const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
	const other = await phone.newPage();
	await asCrew(other);
	await other.goto(page.url());
	await expect(nextMove(other)).toContainText("times a test patch");
	await other.getByLabel("About this old film").selectOption({ label: "Test patch" });
	await expect(other.getByText(/began it/)).toContainText("worst place, 5 letters");
	await other.getByRole("button", { name: "Film is off" }).click();
	await other.getByRole("button", { name: "Keep the patch" }).click();
	await expect(other.getByRole("region", { name: "Patches" }).getByRole("listitem")).toHaveCount(1);
	// Where it was begun it runs no longer.
	await expect(page.getByRole("timer")).toHaveCount(0);
	await expect(page.getByRole("region", { name: "Patches" }).getByRole("listitem")).toHaveCount(1);
	await phone.close();
});

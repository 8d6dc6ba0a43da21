import { readFileSync } from "node:fs";
import { expect, test } from "@playwright/test";
import {
	addLettering,
	addPrint,
	asCrew,
	atRest,
	layAll,
	nextMove,
	readPaper,
	startJob,
	typeLength,
} from "./shop";

/** What leaves the shop with the vehicle: dates for the owner, the job as one file, and what comes back later. */
test.describe.configure({ mode: "parallel" });

test("a catering trailer leaves with its dates, its file and a word for the next one", async ({ page }) => {
	await asCrew(page);
	await startJob(page, "Ebb Tide Catering", undefined, "Cargo trailer");
	await page.goto(page.url().replace("look-over", "lay-out"));
	await addPrint(page);
	await typeLength(page, "Width as trimmed", "60");
	await atRest(page);
	const handOver = page.url().replace("lay-out", "hand-over");
	await page.goto(handOver);
	const care = page.getByRole("region", { name: "Looking after it" });
	await expect(care).toContainText("Nothing lies yet");
	await expect(care.getByRole("link")).toHaveCount(0);
	// What does not lie does not come back.
	const back = page.getByRole("region", { name: "Came back later" });
	await back.getByText("Something came back?").click();
	await back.getByLabel("Where on it").fill("lower rear corner");
	await back.getByRole("button", { name: "Into the record" }).click();
	await expect(back.getByRole("alert")).toContainText("does not lie yet");
	await expect(back.getByLabel("Where on it")).toHaveValue("lower rear corner");

	await page.goto(handOver.replace("hand-over", "lay-down"));
	await layAll(page);
	await page.goto(handOver);
	await expect(care).toContainText("First wash");
	// What is looked at once more: ticked one by one, twice pressed is once.
	const look = page.getByRole("region", { name: "Final look" });
	await expect(look.getByRole("heading", { name: "Final look, 5 open" })).toBeVisible();
	await look.getByRole("button", { name: "Every corner and end: right" }).dblclick();
	await expect(look.getByRole("heading", { name: "Final look, 4 open" })).toBeVisible();
	await expect(look).toContainText("✓ Maren");
	await expect(care).toContainText("if it is kept above 59 °F");
	await expect(care).toContainText("Ask the shop before polish");
	const dates = (await care.locator("li").allTextContents()).join(" ");
	expect(dates).toContain("Film comes off by");
	// It stands in the list of all vehicles until somebody says that its film is off.
	await page.goto("/comes-off");
	const vehicle = page.getByRole("listitem").filter({ hasText: "Ebb Tide Catering" });
	await expect(vehicle).toContainText("in 5 years");
	await vehicle.getByRole("button", { name: "It is off" }).click();
	await page.getByRole("dialog").getByRole("button", { name: "It is off" }).dblclick();
	await expect(vehicle).toHaveCount(0);
	await page.goto(handOver);
	const ics = await page.request.get(
		(await care.getByRole("link", { name: /ICS/ }).getAttribute("href")) ?? "",
	);
	expect(ics.headers()["content-type"]).toContain("text/calendar");
	expect((await ics.text()).match(/BEGIN:VEVENT/g)?.length).toBe(5);
	const paper = await readPaper(page, care.getByRole("link", { name: /PDF/ }));
	expect(paper).toContain("Looking after it");
	expect(paper).toContain("ring the shop");
	const to = care.getByLabel("Both by mail to");
	await to.fill("the owner");
	await care.getByRole("button", { name: "Put it into the outbox" }).click();
	await expect(care.getByRole("alert")).toContainText("no mail address");
	await expect(to).toHaveValue("the owner");
	await to.fill("kitchen@ebbtide.example");
	await care.getByRole("button", { name: "Put it into the outbox" }).dblclick();
	await expect(care.getByRole("status")).toContainText("In the outbox for kitchen@ebbtide.example");

	// The packet opens in a tab of its own, and this one says that it is being written until it is.
	await page.getByRole("button", { name: "Issue the plan" }).click();
	const opens = page.getByRole("link", { name: "Open the packet" });
	await expect(opens).toBeVisible();
	await page.context().route("**/packet.pdf*", async (route) => {
		await new Promise((later) => setTimeout(later, 1500));
		await route.continue();
	});
	await opens.click();
	await expect(page.getByRole("link", { name: /^Writing the packet, \d s/ })).toBeVisible();
	await expect(opens).toBeVisible();
	await page.context().unroute("**/packet.pdf*");

	// The whole job as one file; here already, it is not taken in twice, and half of it is no bundle.
	const zip = page.waitForEvent("download");
	await page.getByRole("link", { name: /The whole job as one file/ }).click();
	const file = await (await zip).path();
	await page.goto("/");
	const input = page.getByLabel("Take in a job bundle from another shop");
	await input.setInputFiles({ name: "job.zip", mimeType: "application/zip", buffer: readFileSync(file) });
	await expect(page.getByRole("alert")).toContainText("is here already");
	const half = readFileSync(file).subarray(0, 900);
	await input.setInputFiles({ name: "job.zip", mimeType: "application/zip", buffer: half });
	await expect(page.getByRole("alert")).toContainText("no job bundle");

	// Months later an edge has lifted: pressed twice it is one, and it is told where such film is heated next.
	await page.goto(handOver);
	await back.getByText("Something came back?").click();
	await back.getByLabel("Why, as it was found").selectOption({ label: "it never reached its temperature" });
	await back.getByLabel("At which run of heat").selectOption({ index: 1 });
	await back.getByLabel("Where on it").fill("lower rear corner");
	await back.getByLabel("Photo of it").setInputFiles("../crates/formats/tests/data/photos/turned.jpg");
	await expect(back.getByText("Photo: turned.jpg")).toBeVisible();
	await back.getByRole("button", { name: "Into the record" }).dblclick();
	await expect(back.locator("ul").first()).toContainText("Came back: an edge lifted, lower rear corner");
	await expect(back.getByText(/^Came back:/)).toHaveCount(1);
	await expect(back).toContainText(/All that was laid: \d+ of \d+/);
	await page.reload();
	await expect(back).toContainText("Nobody measured it behind the heat.");
	await expect(back).toContainText("At the run of heat “edge");
	await expect(back.getByRole("img", { name: "What came back" })).toHaveCount(1);
	await page.goto(handOver.replace("hand-over", "heat-seal"));
	await expect(page.getByRole("region", { name: "Take care" })).toContainText(
		"This time: read every inch of it",
	);
});

test.describe("on a phone", () => {
	test.use({ viewport: { width: 390, height: 844 } });

	test("a van promised for Friday: two pieces, and no date before the second lies", async ({ page }) => {
		await asCrew(page);
		await startJob(page, "Petrel Plumbing", "millimetres", "Panel van");
		await page.goto(page.url().replace("look-over", "lay-out"));
		await addPrint(page);
		await addLettering(page, "PETREL");
		await atRest(page);
		const handOver = page.url().replace("lay-out", "hand-over");
		await page.goto(handOver.replace("hand-over", "lay-down"));
		await layAll(page);
		await page.goto(handOver);
		const care = page.getByRole("region", { name: "Looking after it" });
		// One of two: dates are told with what they wait for, and nothing is put on paper yet.
		await expect(care).toContainText("1 of 2 pieces do not lie yet: dates follow from the last.");
		await expect(care.getByRole("link")).toHaveCount(0);
		await page.goto(handOver.replace("hand-over", "lay-down"));
		await layAll(page);
		await page.goto(handOver);
		await expect(care.getByRole("link", { name: /PDF/ })).toBeVisible();
		await expect(care).toContainText("24 hours after the last film was pressed");
		await expect(nextMove(page)).toBeVisible();
		expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	});
});

import { expect, test } from "@playwright/test";
import { addLettering, asCrew, layAll, nextMove, readPaper, startJob, toStage } from "./shop";

test("a customer opens the link on a phone, sees the vehicle, signs for what was found and for having it back", async ({
	page,
	browser,
}) => {
	await asCrew(page);
	await startJob(page, "Godwit Gardens");
	await page.getByRole("tab", { name: /Walk round/ }).click();
	await page.getByLabel("A doubt about the paint").fill("thin at the door's edge");
	await page.getByRole("button", { name: "Note it" }).click();
	await expect(page.getByText("thin at the door's edge")).toBeVisible();
	await toStage(page, "Lay out");
	await addLettering(page, "GODWIT");
	await toStage(page, "Lay down");
	await layAll(page);
	await expect(nextMove(page)).toContainText("lies.");
	await toStage(page, "Hand over");
	await page.getByRole("button", { name: "Issue the plan" }).click();
	const part = page.getByRole("region", { name: "Shown to the customer" });
	await part.getByRole("button", { name: "Make a link" }).click();
	await expect(part.getByRole("alert")).toContainText("Say for whom it is.");
	await part.getByLabel("For whom").fill("Ingrid Holm");
	await part.getByLabel("Days").fill("a year");
	await part.getByRole("button", { name: "Make a link" }).click();
	await expect(part.getByRole("alert")).toContainText("from 1 to 180 days");
	await part.getByLabel("Days").fill("14");
	await part.getByRole("button", { name: "Make a link" }).click();
	const address = (await part.getByTestId("made-link").textContent()) ?? "";

	const phone = await (
		await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true })
	).newPage();
	await phone.goto(address);
	await expect(phone.getByRole("heading", { name: /Godwit Gardens/ })).toBeVisible();
	await expect(phone.getByText("thin at the door's edge")).toBeVisible();
	await expect(phone.getByRole("region", { name: "Looking after it" })).toContainText("first wash", {
		ignoreCase: true,
	});
	const agree = phone.getByRole("form", { name: "I agree to what was found" });
	await agree.getByRole("button").click();
	await expect(agree.getByRole("alert")).toContainText("Type your name.");
	await agree.getByRole("textbox").fill("Ingrid Holm");
	await agree.getByRole("button").dblclick();
	await expect(phone.getByText("✓ Signed: Ingrid Holm, by link")).toBeVisible();
	const back = phone.getByRole("form", { name: "I have the vehicle back" });
	await back.getByRole("textbox").fill("Ingrid Holm");
	await back.getByRole("button").click();
	await expect(phone.getByText("✓ Signed: Ingrid Holm, by link")).toHaveCount(2);
	const packet = await phone.request.get(
		(await phone.getByRole("link", { name: /What was done/ }).getAttribute("href")) ?? "",
		{ failOnStatusCode: true },
	);
	expect(packet.headers()["content-type"]).toContain("application/pdf");
	await phone.reload();
	await expect(phone.getByText("✓ Signed: Ingrid Holm, by link")).toHaveCount(2);
	// The shop sees it without loading anew, and withdraws the link.
	await expect(part).toContainText("Back with the customer: Ingrid Holm, by link");
	await part.getByRole("button", { name: "Withdraw" }).click();
	await expect(part).toContainText("withdrawn");
	await phone.reload();
	await expect(phone.getByRole("alert")).toContainText("This link has run out, or was withdrawn.");
	await phone.context().close();
});

test("a finished job leaves the yard, is found by its lettering, and is the start of another vehicle's", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Razorbill Rentals");
	// Named wrongly, and named anew; the plate is how the next person looks for it.
	await page.getByRole("heading", { level: 1 }).getByRole("button").click();
	const names = page.getByRole("dialog", { name: "The job" });
	await names.getByLabel("Whom is it for?").fill(" ");
	await names.getByRole("button", { name: "Save" }).click();
	await expect(names.getByRole("alert")).toContainText("Type whom the job is for.");
	await names.getByLabel("Whom is it for?").fill("Razorbill Rentals");
	await names.getByLabel("What is the job called?").fill("Razorbill box 7");
	await names.getByLabel("Plate or fleet number").fill("RR-07 BX");
	await names.getByRole("button", { name: "Save" }).dblclick();
	await expect(names).toHaveCount(0);
	await expect(page.getByRole("heading", { name: "Razorbill box 7" })).toBeVisible();
	await toStage(page, "Lay out");
	await addLettering(page, "RAZORBILL");
	await toStage(page, "Hand over");
	await page.getByRole("button", { name: "Issue the plan" }).click();
	await expect(nextMove(page)).toContainText("Plan 1, issued by");
	await page.reload();
	await expect(nextMove(page)).toContainText("Plan 1, issued by");
	// A plate that was wrong: the plan keeps the names of its day, and is issued anew.
	await page.getByRole("heading", { level: 1 }).getByRole("button").click();
	await names.getByLabel("Plate or fleet number").fill("RR-08 BX");
	await names.getByRole("button", { name: "Save" }).click();
	await expect(names).toHaveCount(0);
	await page.getByRole("button", { name: /issue it anew/ }).dblclick();
	await expect(nextMove(page)).toContainText("Plan 2, issued by");
	for (const [plan, plate] of [
		["1", "RR-07 BX"],
		["2", "RR-08 BX"],
	])
		expect(await readPaper(page, page.getByRole("link", { name: `The packet, plan ${plan}` }))).toContain(
			plate,
		);
	const part = page.getByRole("region", { name: "When it is done" });
	await part.getByRole("button", { name: "Finished: out of the yard" }).dblclick();
	await expect(part).toContainText("It is out of the yard and whole");
	await page.getByRole("link", { name: "Windrift, back to the yard" }).click();
	await expect(page.getByRole("heading", { name: "Yard" })).toBeVisible();
	await expect(page.getByRole("link", { name: /Razorbill/ })).toHaveCount(0);
	await page.getByRole("button", { name: "Finished jobs" }).click();
	await expect(page.getByRole("link", { name: /Razorbill/ })).toBeVisible();
	await page.getByRole("button", { name: "Back to the yard" }).click();
	await page.getByLabel("Find a job").fill("rr08bx");
	await expect(page.getByRole("link", { name: /Razorbill box 7/ })).toContainText("RR-08 BX");
	await page.getByLabel("Find a job").fill("razorbill");
	await page.getByRole("link", { name: /Razorbill/ }).click();
	await toStage(page, "Hand over");
	await part.getByRole("button", { name: "Start another one like it" }).click();
	await part.getByRole("button", { name: "Start it with this layout" }).click();
	await expect(part.getByRole("alert")).toContainText("Type whom the job is for.");
	await part.getByLabel("Whom is it for?").fill("Shearwater Shuttles");
	await part.getByRole("button", { name: "Start it with this layout" }).dblclick();
	await expect(page.getByRole("heading", { name: /Shearwater Shuttles/ })).toBeVisible();
	// Another vehicle: nobody has held a tape to it yet; what was laid out is there.
	await expect(page.getByText(/not measured|unmeasured/i).first()).toBeVisible();
	await toStage(page, "Lay out");
	await expect(page.getByRole("radio", { name: "RAZORBILL" })).toBeVisible();
});

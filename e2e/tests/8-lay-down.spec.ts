import { expect, type Page, test } from "@playwright/test";
import {
	addLettering,
	addPrint,
	asCrew,
	atRest,
	layAll,
	nextMove,
	openJob,
	sayFeatures,
	startJob,
	toStage,
} from "./shop";

test.use({ viewport: { width: 1024, height: 768 }, hasTouch: true });

/** Presses with a finger from one place of the picture to another, given as parts of its width and height. */
async function stroke(page: Page, from: [number, number], to: [number, number]) {
	const box = await page.getByRole("img", { name: /press here/ }).boundingBox();
	if (!box) throw new Error("the section is drawn");
	const touch = await page.context().newCDPSession(page);
	const at = (t: number) => [
		{
			x: box.x + box.width * (from[0] + (to[0] - from[0]) * t),
			y: box.y + box.height * (from[1] + (to[1] - from[1]) * t),
		},
	];
	await touch.send("Input.dispatchTouchEvent", { type: "touchStart", touchPoints: at(0) });
	for (let n = 1; n <= 12; n++)
		await touch.send("Input.dispatchTouchEvent", { type: "touchMove", touchPoints: at(n / 12) });
	await touch.send("Input.dispatchTouchEvent", { type: "touchEnd", touchPoints: [] });
}

async function laidOut(page: Page, customer: string, text: string, stage: string) {
	await asCrew(page, "Odd");
	await startJob(page, customer);
	await toStage(page, "Lay out");
	await addLettering(page, text);
	await toStage(page, stage);
}

test("hinge: the best with its reasons, another only with a reason, film and crew change the answer", async ({
	page,
}) => {
	await laidOut(page, "Turnstone Taxis", "TURNSTONE", "Hinge");
	await page.getByRole("tab", { name: "Which hinge" }).tap();
	const hinge = page.getByRole("region", { name: "The hinge" });
	const others = page.getByRole("region", { name: "The others" });
	await expect(hinge.getByRole("heading", { level: 2 }).first()).toHaveText("top hinge");
	await expect(hinge).toContainText("hangs straight from its whole upper edge");
	await expect(others).toContainText("Not here: Magnets do not hold on this surface.");
	await expect(others).toContainText("Not here: Two people are needed to hold the sheet taut.");

	// Against the advice only with a reason, which stays with the piece.
	await others.getByRole("button", { name: "Use the side hinge" }).tap();
	await page.getByLabel("Why?").fill("x");
	await page.getByRole("button", { name: "Keep the reason" }).tap();
	await expect(page.getByRole("alert")).toContainText("Say in a few words why");
	await page.getByLabel("Why?").fill("a scaffold stands over the upper edge");
	await page.getByRole("button", { name: "Keep the reason" }).tap();
	await expect(hinge.getByRole("heading", { level: 2 }).first()).toHaveText("side hinge");
	await expect(hinge).toContainText("a scaffold stands over the upper edge");
	await page.reload();
	await page.getByRole("tab", { name: "Which hinge" }).tap();
	await expect(hinge).toContainText("a scaffold stands over the upper edge");
	await hinge.getByRole("button", { name: "Back to the top hinge" }).tap();
	await expect(hinge.getByRole("heading", { level: 2 }).first()).toHaveText("top hinge");
	// One that is refused, too: what refuses it stays in sight.
	await others.getByRole("button", { name: "Use the magnets" }).tap();
	await page.getByLabel("Why?").fill("a steel plate stands behind the sheet");
	await page.getByRole("button", { name: "Keep the reason" }).tap();
	await expect(hinge.getByRole("heading", { level: 2 }).first()).toHaveText("magnets");
	await expect(page.getByRole("alert").first()).toContainText(
		"Magnets do not hold on this surface. Taken all the same",
	);
	await hinge.getByRole("button", { name: "Back to the top hinge" }).tap();

	// Air channels refuse wet; the cold is told.
	await page.getByLabel("Film", { exact: true }).selectOption({ label: "cast print with air channels" });
	await expect(hinge).toContainText("Water stays in this film's air channels");
	await expect(hinge.getByRole("button", { name: /^wet/ })).toBeDisabled();
	await page.getByLabel(/^Bay and surface/).fill("cold");
	await page.getByLabel(/^Bay and surface/).press("Enter");
	await expect(page.getByRole("alert").first()).toContainText("“cold” is no temperature");
	await page.getByLabel(/^Bay and surface/).fill("41");
	await page.getByLabel(/^Bay and surface/).press("Enter");
	await expect(page.getByRole("alert").first()).toContainText("5 °C is outside what cast print");
	await page.getByRole("radio", { name: "2", exact: true }).tap();
	await expect(page.getByRole("radio", { name: "2", exact: true })).toBeChecked();
	await page.getByRole("button", { name: "Tape and cuts" }).tap();
	await expect(page.getByText("The second person holds the lower rear corner")).toBeVisible();
});

test("strokes: step by step, back, played, printed; the piece lies and the rail knows", async ({ page }) => {
	await laidOut(page, "Dunlin Dairy", "DUNLIN", "Lay down");
	await expect(page.getByRole("region", { name: "Proof" })).toContainText("No air is shut in");
	await expect(nextMove(page)).toContainText("First stroke at the top hinge");
	await page.getByRole("button", { name: "Pressed. Next" }).tap();
	await expect(nextMove(page)).toContainText("Stroke 2 of");
	await page.getByRole("button", { name: "Back one" }).tap();
	await expect(nextMove(page)).toContainText("Stroke 1 of");
	await page.getByRole("button", { name: "Play" }).tap();
	await expect(nextMove(page)).toContainText("Stroke 3 of", { timeout: 8000 });
	await page.getByRole("button", { name: "Stop" }).tap();
	const print = page.getByRole("link", { name: "Print" });
	const pdf = await page.request.get((await print.getAttribute("href")) ?? "");
	expect(pdf.headers()["content-type"]).toBe("application/pdf");
	await layAll(page);
	await expect(nextMove(page)).toContainText("“DUNLIN” lies.");
	// The wait for the transfer tape runs from the last stroke, also after a reload; a short one is asked about.
	await page.reload();
	await expect(page.getByRole("timer")).toContainText(/^(30:00|29:\d\d)$/);
	await page.getByRole("button", { name: "Tape is off" }).tap();
	const early = page.getByRole("form", { name: "Off too early" });
	await expect(early).toContainText("0 minutes have passed of 30");
	await expect(early.getByRole("button", { name: "It is off" })).toBeDisabled();
	await early.getByRole("textbox").fill("warm air");
	await early.getByRole("button", { name: "It is off" }).tap();
	await expect(page.getByRole("timer")).toBeHidden();
	await page.reload();
	const rail = page.getByRole("navigation", { name: "Stages of the job" });
	await expect(rail.getByRole("link", { name: /^Lay down/ })).toContainText("done");
	for (const target of await page
		.locator(".floor button, .floor input:not([type=checkbox]), .floor a")
		.all()) {
		const size = await target.boundingBox();
		expect(size?.height, await target.evaluate((e) => e.outerHTML.slice(0, 120))).toBeGreaterThanOrEqual(64);
	}
});

test("try it: a ring shuts air in and says with which stroke; an open edge does not", async ({ page }) => {
	await laidOut(page, "Plover Plumbing", "PLOVER", "Lay down");
	await page.getByRole("tab", { name: "Try it" }).tap();
	await stroke(page, [0.4, 0.3], [0.6, 0.3]);
	await expect(nextMove(page)).toContainText("no air shut in so far");
	await stroke(page, [0.6, 0.3], [0.6, 0.75]);
	await stroke(page, [0.6, 0.75], [0.4, 0.75]);
	await expect(nextMove(page)).toContainText("no air shut in so far");
	await stroke(page, [0.4, 0.75], [0.4, 0.25]);
	await expect(nextMove(page)).toContainText("Stroke 4 closes the last way out");
	// This adhesive takes hold at once: what is down stays down.
	await expect(page.getByRole("button", { name: "Lift the last stroke" })).toBeDisabled();
	await page.getByRole("button", { name: "Show the proven order" }).tap();
	await page.getByRole("button", { name: "Begin again" }).tap();
	await expect(nextMove(page)).toContainText("Press with a finger");
	await stroke(page, [0.4, 0.3], [0.6, 0.3]);
	await expect(nextMove(page)).toContainText("1 stroke of yours");
});

test("rivets in groups and troubles with what to do, kept in the record", async ({ page }) => {
	await asCrew(page, "Odd");
	await openJob(page, /Tideway/, "lay-down");
	await page
		.getByRole("radio", { name: /TIDEWAY/ })
		.first()
		.tap();
	await page.getByRole("tab", { name: /Rivets/ }).tap();
	await expect(nextMove(page)).toContainText("warm and roll");
	await page.getByRole("list", { name: "Groups of heads" }).getByRole("button").nth(1).tap();
	await expect(nextMove(page)).toContainText("Group 2 of");
	await expect(nextMove(page)).toContainText("once the flat round them lies");
	await page.getByRole("tab", { name: "Trouble" }).tap();
	await page.getByRole("radio", { name: "pinch" }).tap();
	await expect(page.getByRole("region", { name: "What to do" })).toContainText("Adhesive has met adhesive");
	await page.getByRole("button", { name: "Keep it in the record" }).tap();
	await expect(page.getByRole("alert")).toContainText("Say where it is");
	await page.getByLabel("Where", { exact: true }).fill("foot of the second E");
	await page.getByLabel("What came of it").fill("lifted and laid again");
	await page.getByRole("button", { name: "Keep it in the record" }).tap();
	await expect(page.getByRole("list", { name: "Recorded" })).toContainText(
		"Trouble: pinch at foot of the second E. lifted and laid again.",
	);
});

test("groups of rivets are ticked once the piece lies, and nobody locked it without being asked why", async ({
	page,
}) => {
	await asCrew(page, "Odd");
	await startJob(page, "Avocet Haulage");
	await toStage(page, "Look over");
	await sayFeatures(page, "rivets 20 every 1' x20, 6 down every 3 x13 head 3/8");
	await toStage(page, "Lay out");
	await addLettering(page, "AVOCET AND DAUGHTERS HAULAGE");
	await toStage(page, "Lay down");
	await layAll(page);
	await page.getByRole("button", { name: "Rivets" }).tap();
	const groups = page.getByRole("list", { name: "Groups of heads" }).getByRole("button");
	await expect(groups.nth(1)).toBeVisible();
	// The same tap twice is one group.
	await page.getByRole("button", { name: "Group 1 is down" }).dblclick();
	await expect(groups.nth(0)).toContainText("✓ 1");
	await expect(nextMove(page)).toContainText("Group 2 of");
	await page.reload();
	await page.getByRole("tab", { name: /Rivets/ }).tap();
	await expect(groups.nth(0)).toContainText("✓ 1");
	await expect(groups.nth(1)).not.toContainText("✓");
	const job = /jobs\/([0-9a-f-]+)/.exec(page.url())?.[1];
	const { entries } = await (await page.request.get(`/api/jobs/${job}/record`)).json();
	const told = entries.map((e: { what: string }) => e.what);
	expect(told[0]).toContain("Its hinge was not locked: hung by the eye.");
	expect(told.filter((t: string) => t.startsWith("Rivets worked down: group 1")).length).toBe(1);
});

test("a job in the middle of Lay down shows what lies and what is next", async ({ page }) => {
	await asCrew(page, "Pella");
	await startJob(page, "Dunlin Cranes");
	await toStage(page, "Lay out");
	await addLettering(page, "GODWIT");
	await addPrint(page);
	await atRest(page);
	await page.goto(page.url().replace("lay-out", "lay-down"));
	const pieces = page.getByRole("radiogroup", { name: "Pieces on this side" });
	await expect(pieces.getByRole("radio", { checked: true })).toHaveText("printed panel");
	await layAll(page);
	await page.reload();
	await expect(pieces.getByRole("radio", { name: "✓ printed panel" })).toBeVisible();
	await expect(pieces.getByRole("radio", { checked: true })).toHaveText("GODWIT");
	await expect(page.getByText("First stroke at the")).toBeVisible();
});

test("a crane that is handed over shows its dates, and nothing of it is open", async ({ page }) => {
	await asCrew(page, "Pella");
	await openJob(page, /Quay crane/, "hand-over");
	const care = page.getByRole("region", { name: "Looking after it" });
	await expect(page.getByRole("link", { name: /The packet, plan 1/ })).toBeVisible();
	await expect(care).toContainText("First wash");
	await expect(page.getByRole("region", { name: "Final look" })).toContainText("✓ Maren");
	await page.goto(page.url().replace("hand-over", "heat-seal"));
	await expect(nextMove(page)).toContainText("nothing is left to heat or seal");
});

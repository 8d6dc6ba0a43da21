import { expect, test } from "@playwright/test";
import { addLettering, asCrew, nextMove, openJob, startJob, toStage, typeLength } from "./shop";

test("lengths that cannot be read get a sentence, keep what was typed and change nothing", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Whimbrel Ltd");
	const cases = [
		["27 3/0", "A fraction cannot be over 0."],
		["abc", "is not a length"],
		["-4", "cannot be less than 0"],
		["10 km", "longer than 100 ft"],
		["2", "The length of a side must be from"],
	] as const;
	for (const [text, sentence] of cases) {
		const field = await typeLength(page, /Length along the top rail/, text);
		await expect(page.getByRole("alert").filter({ hasText: sentence })).toBeVisible();
		await expect(field).toHaveValue(text);
	}
	await typeLength(page, /Rail falls/, "9'");
	await expect(page.getByRole("alert").filter({ hasText: "leave the side" })).toBeVisible();
	await page.reload();
	await expect(
		page.getByTestId("bench-work").getByRole("textbox", { name: /Length along the top rail/ }),
	).toHaveValue("24' 0");
	await expect(page.getByTestId("bench-work").getByRole("textbox", { name: /Rail falls/ })).toHaveValue("0");
});

test("lettering that cannot be cut or does not fit is refused in words", async ({ page }) => {
	await asCrew(page);
	await startJob(page, "Dotterel & Co");
	await toStage(page, "Lay out");
	await addLettering(page, "DOTTEREL");
	const words = page.getByLabel("Words", { exact: true });
	await words.fill("中文");
	await words.press("Enter");
	await expect(page.getByRole("alert").filter({ hasText: "has no “中”, “文”" })).toBeVisible();
	await expect(words).toHaveValue("中文");
	await words.fill("DOTTEREL");
	await words.press("Enter");
	await typeLength(page, "Capital height", "80");
	// Larger than the side it is laid over its edge, and it says by how much and what helps.
	await expect(nextMove(page)).toContainText(
		/stands over the rear edge by .* and the side 24' 0\. Make the letters smaller/,
	);
	await page.reload();
	await expect(page.getByTestId("piece-DOTTEREL")).toBeVisible();
});

test("two tabs on one job: the second writer sees both versions and loses nothing", async ({
	page,
	context,
}) => {
	await asCrew(page, "Maren");
	await startJob(page, "Turnstone Tours");
	await toStage(page, "Lay out");
	await addLettering(page, "TURNSTONE");
	const other = await context.newPage();
	await other.goto(page.url());
	await other.getByRole("tab", { name: "Place" }).click();
	await expect(other.getByTestId("bench-work").getByRole("textbox", { name: /cap line/ })).toHaveValue("12");
	// The second tab hears nothing of the first one's change.
	await other.route("**/api/sides/*", (route) =>
		route.request().method() === "GET" ? route.abort() : route.continue(),
	);

	await page.getByRole("tab", { name: "Place" }).click();
	// The box shows 14 before the server has it: only its answer says which of the two writes came first.
	const kept = page.waitForResponse((r) => r.request().method() === "PUT" && r.ok());
	await typeLength(page, /cap line/, "14");
	await kept;

	await typeLength(other, /first letter/, "30");
	const dialog = other.getByRole("dialog", { name: "Two people changed this" });
	await expect(dialog).toContainText("Maren changed this since you opened it.");
	await expect(dialog.getByRole("row", { name: /place along the rail/ })).toContainText("30");
	await expect(dialog.getByRole("row", { name: /distance down/ })).toContainText("14");
	await other.unroute("**/api/sides/*");
	await dialog.getByRole("button", { name: "Put my change on it" }).click();
	await expect(dialog).toBeHidden();
	await page.reload();
	await expect(page.getByTestId("piece-TURNSTONE")).toHaveAttribute(
		"aria-label",
		/letter 30 back, cap line 14 down/,
	);
});

test("a likely misread is asked for again before anything is moved", async ({ page }) => {
	await asCrew(page, "Odd");
	await startJob(page, "Sanderling Sails");
	await toStage(page, "Lay out");
	await addLettering(page, "HELM");
	await page.getByRole("link", { name: "Hang it" }).click();
	const read = async (front: string, rear: string) => {
		await page.getByLabel(/^Front flat/).fill(front);
		await page.getByLabel(/^Rear flat/).fill(rear);
		await page.getByRole("button", { name: "Both read" }).click();
	};
	const wanted = (
		(await page
			.getByText(/^wanted/)
			.first()
			.textContent()) ?? ""
	).replace("wanted ", "");
	expect(wanted).toMatch(/^12/);
	await read(wanted, wanted.replace("12", "13"));
	await expect(nextMove(page)).toContainText(
		"a whole inch out, probably misread. Read it again before moving anything.",
	);
	await page.getByRole("button", { name: "Read again" }).click();
	// Only the doubtful end is asked for again.
	await expect(page.getByLabel(/^Front flat/)).toHaveValue(wanted);
	await expect(page.getByLabel(/^Rear flat/)).toHaveValue("");
	await read(wanted, "16");
	await expect(page.getByRole("alert").filter({ hasText: "contradict each other" })).toBeVisible();
	await read(wanted, wanted);
	await expect(nextMove(page)).toContainText("Both ends read right.");
	await toStage(page, "Hand over");
	await expect(page.getByRole("region", { name: "The record" })).toContainText("3 entries, whole");
});

test("a reading whose answer was lost on the network is recorded once", async ({ page }) => {
	await asCrew(page, "Pella");
	await startJob(page, "Redshank Removals");
	await toStage(page, "Lay out");
	await addLettering(page, "REDSHANK");
	await page.getByRole("link", { name: "Hang it" }).click();
	const wanted = (
		(await page
			.getByText(/^wanted/)
			.first()
			.textContent()) ?? ""
	).replace("wanted ", "");
	let lost = 0;
	await page.route("**/readings", async (route) => {
		// The server has it, the browser never hears.
		lost++;
		if (lost > 1) return route.continue();
		await route.fetch();
		return route.abort();
	});
	await page.getByLabel(/^Front flat/).fill(wanted);
	await page.getByLabel(/^Rear flat/).fill(wanted);
	await page.getByRole("button", { name: "Both read" }).click();
	await expect(page.getByRole("status").filter({ hasText: "1 waiting to be sent" })).toBeVisible();
	await expect(page.getByRole("status").filter({ hasText: "waiting to be sent" })).toBeHidden({
		timeout: 15_000,
	});
	expect(lost).toBeGreaterThan(1);
	await toStage(page, "Hand over");
	await expect(page.getByRole("region", { name: "The record" })).toContainText("1 entry, whole");
});

test("signed out in the middle: nothing is changed, what was typed stays, and it goes on after signing in", async ({
	page,
}) => {
	await asCrew(page);
	await page.getByRole("button", { name: "Start a job" }).click();
	await page.getByLabel("Whom is it for?").fill("Whimbrel Post");
	// Somebody ends this device's session from the list.
	expect((await page.request.post("/api/sign-out")).status()).toBe(200);
	await page.getByRole("button", { name: "Start and measure it" }).click();
	await page.getByRole("button", { name: /^Maren/ }).click();
	await expect(page.getByLabel("Whom is it for?")).toHaveValue("Whimbrel Post");
	await page.getByRole("button", { name: "Start and measure it" }).click();
	await expect(page.getByRole("heading", { name: /Whimbrel Post/ })).toBeVisible();
});

test("a page that cannot be drawn says so and is there again when it is loaded", async ({ page }) => {
	await asCrew(page);
	// As an open page meets it after the shop's Windrift was renewed: an answer without what it looks for.
	await page.route(/\/api\/sides\/[^/]+$/, async (route) => {
		const { features, ...older } = await (await route.fetch()).json();
		expect(features.length).toBeGreaterThan(0);
		await route.fulfill({ json: older });
	});
	await openJob(page, /Tideway/, "look-over");
	await expect(page.getByRole("alert")).toContainText("This page cannot be shown.");
	await page.unroute(/\/api\/sides\/[^/]+$/);
	await page.getByRole("button", { name: "Load it again" }).click();
	await expect(page.getByTestId("bench-picture")).toBeVisible();
});

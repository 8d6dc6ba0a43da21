import { type BrowserContext, expect, type Page, test } from "@playwright/test";
import { addLettering, asCrew, chooseWho, nextMove, signIn, startJob, toStage } from "./shop";

/** What the strip at the top says, on every page. */
const strip = (page: Page) => page.getByRole("status").filter({ hasText: /waiting to be sent|not taken/ });
const KEPT = "Kept here; it goes out by itself when there is a signal.";

/** Entries of the record of the job at hand, in words. */
async function recorded(page: Page): Promise<{ who: string; what: string; at: string }[]> {
	const job = /jobs\/([0-9a-f-]+)/.exec(page.url())?.[1];
	return (await (await page.request.get(`/api/jobs/${job}/record`)).json()).entries;
}

/** A piece that hangs, with what its tape should read; the page stands at its hinge. */
async function hanging(page: Page, customer: string): Promise<string> {
	await asCrew(page, "Odd");
	await startJob(page, customer);
	await toStage(page, "Lay out");
	await addLettering(page, "GODWIT");
	await page.getByRole("link", { name: "Hang it" }).click();
	await expect(nextMove(page)).toContainText("Read the tape");
	const wanted = await page
		.getByText(/^wanted/)
		.first()
		.textContent();
	return (wanted ?? "").replace("wanted ", "");
}

async function read(page: Page, front: string, rear: string) {
	const begin = page.getByRole("button", { name: /Read again/ });
	if (await begin.isVisible()) await begin.click();
	await page.getByLabel(/^Front flat/).fill(front);
	await page.getByLabel(/^Rear flat/).fill(rear);
	await page.getByRole("button", { name: "Both read" }).click();
}

const offline = (context: BrowserContext) => context.setOffline(true);

test("readings without a signal: each is kept with its person, shown on every page, and sent once in order", async ({
	page,
	context,
}) => {
	const wanted = await hanging(page, "Sandpiper Tours");
	await offline(context);
	await read(page, wanted, "28 1/4");
	await expect(page.getByText(KEPT)).toBeVisible();
	await expect(strip(page)).toContainText("1 waiting to be sent");
	// So far off nothing was worked out ahead: the shop says what to do.
	await expect(nextMove(page)).toContainText("then it says what to do");
	// A second one in the same form, by somebody else.
	await chooseWho(page, "Pella");
	await read(page, wanted, "28 1/8");
	await expect(strip(page)).toContainText("2 waiting to be sent");
	// The same press twice is one.
	await page.getByRole("button", { name: "Show" }).click();
	const sheet = page.getByRole("dialog");
	await expect(sheet.getByRole("listitem")).toHaveCount(2);
	await expect(sheet).toContainText("28 1/4 at the rear flat");
	await expect(sheet.getByRole("listitem").nth(0)).toContainText("Odd");
	await expect(sheet.getByRole("listitem").nth(1)).toContainText("Pella");
	await sheet.getByRole("button", { name: "Close" }).click();
	// It is there on the yard too, and after the page is loaded again.
	await page.getByRole("link", { name: "Windrift, back to the yard" }).click();
	await expect(strip(page)).toContainText("2 waiting to be sent");
	await context.setOffline(false);
	await expect(strip(page)).toBeHidden({ timeout: 20_000 });
	await page.goBack();
	const entries = (await recorded(page)).filter((e) => e.what.startsWith("Read "));
	expect(entries.map((e) => e.who)).toEqual(["Odd", "Pella"]);
	expect(entries[0]?.what).toContain("28 1/4");
	expect(entries[1]?.what).toContain("28 1/8");
});

test("a page that is closed loses nothing, another page of the same browser sends it once", async ({
	page,
	context,
}) => {
	const wanted = await hanging(page, "Whimbrel Works");
	const address = page.url();
	// Every request to change something is cut off, as a dead signal does; pages still load.
	await context.route("**/api/pieces/*/readings", (route) => route.abort());
	await read(page, wanted, wanted);
	await expect(strip(page)).toContainText("1 waiting");
	await page.close();
	const other = await context.newPage();
	await other.goto("/");
	await expect(strip(other)).toContainText("1 waiting");
	const third = await context.newPage();
	await third.goto(address);
	// It has its figures from before anything was sent, and is told when another page has sent it.
	await expect(nextMove(third)).toContainText("Read the tape");
	await context.unroute("**/api/pieces/*/readings");
	await expect(strip(other)).toBeHidden({ timeout: 20_000 });
	await expect(strip(third)).toBeHidden({ timeout: 20_000 });
	expect((await recorded(third)).filter((e) => e.what.startsWith("Read ")).length).toBe(1);
	await expect(nextMove(third)).toContainText("Both ends read right.");
});

test("a press in the moment before the page goes is not lost, and is one", async ({ page }) => {
	const wanted = await hanging(page, "Phalarope Freight");
	const address = page.url();
	// A slow disk: the browser's database opens late.
	await page.addInitScript(() => {
		const open = IDBFactory.prototype.open;
		IDBFactory.prototype.open = function (...how) {
			const request = open.apply(this, how);
			const listen = request.addEventListener.bind(request);
			request.addEventListener = (what: string, then: (e: Event) => void) =>
				listen(what, (e: Event) => (what === "success" ? setTimeout(() => then(e), 3000) : then(e)));
			return request;
		};
	});
	await page.reload();
	const begin = page.getByRole("button", { name: /Read again/ });
	if (await begin.isVisible()) await begin.click();
	await page.getByLabel(/^Front flat/).fill(wanted);
	await page.getByLabel(/^Rear flat/).fill(wanted);
	await page.getByRole("button", { name: "Both read" }).evaluate((button: HTMLElement) => {
		button.click();
		button.click();
		location.assign("/mark.svg");
	});
	await page.waitForURL("**/mark.svg");
	await page.goto(address);
	await expect(nextMove(page)).toContainText("Both ends read right.");
	await expect(strip(page)).toBeHidden();
	expect((await recorded(page)).filter((e) => e.what.startsWith("Read ")).length).toBe(1);
});

test("a gateway that answers nonsense keeps everything; a refusal waits until somebody has seen it", async ({
	page,
	context,
}) => {
	const wanted = await hanging(page, "Turnstone Marine");
	let answer: { status: number; contentType: string; body: string } = {
		status: 502,
		contentType: "text/html",
		body: "<h1>Bad gateway</h1>",
	};
	await context.route("**/api/pieces/*/readings", (route) => route.fulfill(answer));
	await read(page, wanted, wanted);
	await expect(strip(page)).toContainText("1 waiting");
	// Somebody's sign-on page instead of the shop's server.
	answer = { status: 200, contentType: "text/html", body: "<h1>Welcome to the harbour's network</h1>" };
	await page.waitForTimeout(4000);
	await expect(strip(page)).toContainText("1 waiting");
	// Refused: it is told on whatever page, and not sent again by itself.
	answer = {
		status: 409,
		contentType: "application/problem+json",
		body: JSON.stringify({
			status: 409,
			code: "id_taken",
			detail: "This was sent before for something else.",
		}),
	};
	await page.getByRole("link", { name: "Windrift, back to the yard" }).click();
	await expect(strip(page)).toContainText("1 not taken", { timeout: 20_000 });
	await context.unroute("**/api/pieces/*/readings");
	await page.reload();
	await expect(strip(page)).toContainText("1 not taken");
	await page.getByRole("button", { name: "Show" }).click();
	await expect(page.getByRole("dialog")).toContainText("This was sent before for something else.");
	await page.getByRole("button", { name: "Send it again" }).click();
	await expect(page.getByRole("dialog")).toContainText("All of it is sent.");
});

test("a reading judged against a place that has changed since judges nothing, and is kept", async ({
	page,
	context,
	request,
}) => {
	const wanted = await hanging(page, "Plover Coaches");
	await offline(context);
	await read(page, wanted, wanted);
	await expect(strip(page)).toContainText("1 waiting");
	// Meanwhile the lead moves the piece from another machine.
	const side = new URL(page.url()).searchParams.get("side");
	const lead = await signIn(request, "Maren");
	const { pieces } = await (await request.get(`/api/sides/${side}`)).json();
	const spec = structuredClone(pieces[0].spec);
	spec.place.down.distance_mm += 101.6;
	const moved = await request.put(`/api/pieces/${pieces[0].id}`, {
		data: { spec },
		headers: {
			"Crew-Id": lead,
			"Edit-Id": crypto.randomUUID(),
			"If-Match": `"${pieces[0].revision}"`,
		},
	});
	expect(moved.status()).toBe(200);
	await context.setOffline(false);
	await expect(strip(page)).toBeHidden({ timeout: 20_000 });
	const last = (await recorded(page)).at(-1);
	expect(last?.what).toContain("The piece was moved while this was read");
	await page.reload();
	await expect(nextMove(page)).toContainText("Read the tape");
});

test("walk round, troubles and that it lies: pressed twice without a signal they are there once", async ({
	page,
	context,
}) => {
	await hanging(page, "Dunlin Removals");
	await toStage(page, "Look over");
	await page.getByRole("tab", { name: /Walk round/ }).click();
	await expect(page.getByLabel("A doubt about the paint")).toBeVisible();
	await offline(context);
	await page.getByLabel("A doubt about the paint").fill("dull on the door");
	await page.getByRole("button", { name: "Note it" }).dblclick();
	await expect(page.getByText(KEPT)).toBeVisible();
	await expect(strip(page)).toContainText("1 waiting");
	await page.getByLabel("A doubt about the paint").fill("orange peel");
	await page.getByRole("button", { name: "Note it" }).click();
	await expect(strip(page)).toContainText("2 waiting");
	await context.setOffline(false);
	await expect(strip(page)).toBeHidden({ timeout: 20_000 });
	const doubts = (await recorded(page)).filter((e) => e.what.startsWith("Doubt"));
	expect(doubts.map((d) => d.what)).toEqual([
		"Doubt about the paint: dull on the door.",
		"Doubt about the paint: orange peel.",
	]);
	await toStage(page, "Lay down");
	await page.getByRole("tab").last().click();
	// What to do about what is seen is there before the signal goes.
	await expect(page.getByLabel("Where")).toBeVisible();
	await offline(context);
	for (const place of ["the G", "the T"]) {
		await page.getByLabel("Where").fill(place);
		await page.getByRole("button", { name: "Keep it in the record" }).dblclick();
		await expect(page.getByLabel("Where")).toHaveValue("");
	}
	await expect(strip(page)).toContainText("2 waiting");
	await context.setOffline(false);
	await expect(strip(page)).toBeHidden({ timeout: 20_000 });
	expect((await recorded(page)).filter((e) => e.what.startsWith("Trouble")).length).toBe(2);
});

test("buttons that add are safe to press twice, and an undo whose answer was lost takes back one edit", async ({
	page,
	context,
}) => {
	await asCrew(page);
	await startJob(page, "Sanderling Sails");
	await toStage(page, "Lay out");
	const pieces = async () => {
		const job = /jobs\/([0-9a-f-]+)/.exec(page.url())?.[1];
		const { sides } = await (await page.request.get(`/api/jobs/${job}`)).json();
		return sides.reduce((n: number, side: { pieces: number }) => n + side.pieces, 0);
	};
	await page.getByRole("button", { name: "Add lettering" }).first().dblclick();
	await expect(page.getByLabel("Words", { exact: true })).toHaveValue("NEW LETTERING");
	expect(await pieces()).toBe(1);
	await page.getByLabel("Words", { exact: true }).fill("GULL");
	await page.keyboard.press("Enter");
	await expect(page.getByRole("radio", { name: "GULL" })).toBeVisible();
	// The answer to the undo is lost twice; the next press learns what became of it, and takes back nothing more.
	let lost = 0;
	await context.route("**/undo", async (route) => {
		const answer = await route.fetch();
		lost += 1;
		await (lost <= 2 ? route.abort() : route.fulfill({ response: answer }));
	});
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(page.getByRole("alert").first()).toContainText("cannot be reached");
	await expect(page.getByRole("radio", { name: "NEW LETTERING" })).toBeVisible();
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(page.getByText("cannot be reached")).toBeHidden();
	expect(await pieces()).toBe(1);
	await context.unroute("**/undo");
	await page.getByRole("button", { name: "Undo" }).click();
	await expect.poll(pieces).toBe(0);
});

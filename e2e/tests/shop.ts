import { execFileSync } from "node:child_process";
import { randomUUID } from "node:crypto";
import { type APIRequestContext, expect, type Locator, type Page, type Request } from "@playwright/test";

/** Opens the yard and signs in as a person does: with one press in the made-up shop, or at the top where somebody is signed in. */
export async function chooseCrew(page: Page, name = "Maren") {
	await page.goto("/");
	const atTheDoor = page.getByRole("button", { name: new RegExp(`^${name}`) });
	const atTheTop = page.getByLabel("Who are you?");
	await expect(atTheDoor.or(atTheTop).first()).toBeVisible();
	if (await atTheDoor.isVisible()) await atTheDoor.click();
	else await chooseWho(page, name);
	await expect(atTheTop).toContainText(name);
}

/** Chooses at the top who is there. */
export async function chooseWho(page: Page, name: string) {
	await page.getByLabel("Who are you?").click();
	await page.getByRole("menuitemradio", { name: new RegExp(name) }).click();
}

/** Signs a browser in through the API, as one press does: for what is prepared before a page is opened. */
export async function signIn(request: APIRequestContext, name = "Maren") {
	const answer = await request.post("/api/sign-in", { data: { name, device: "a walk" } });
	expect(answer.status(), await answer.text()).toBe(200);
	return (await answer.json()).people[0].id as string;
}

/** Starts a job in the yard, as a person does, and lands on its Look over. */
export async function startInTheYard(page: Page, customer: string, unit?: string, kind?: string) {
	await page.getByRole("button", { name: "Start a job" }).click();
	await page.getByLabel("Whom is it for?").fill(customer);
	if (kind) {
		await page.getByLabel("What stands outside?").click();
		await page.getByRole("option", { name: new RegExp(kind) }).click();
	}
	if (unit) {
		await page.getByLabel("Which tape?").click();
		await page.getByRole("option", { name: unit }).click();
	}
	await page.getByRole("button", { name: "Start and measure it" }).click();
	await expect(page.getByRole("heading", { name: new RegExp(customer) })).toBeVisible();
}

type Shop = {
	vehicle_kinds: { kind: string; name: string }[];
};

const shopOf = async (page: Page): Promise<Shop> => (await page.request.get("/api/shop")).json();

/** Opens the yard as a member of the crew who was chosen on this screen before. */
export async function asCrew(page: Page, name = "Maren") {
	watch(page);
	const id = await signIn(page.request, name);
	// Once: whom the page itself chooses later stays chosen when it is loaded again.
	await page.addInitScript(
		({ id, mark }) => {
			if (sessionStorage.getItem(mark)) return;
			sessionStorage.setItem(mark, "set");
			localStorage.setItem("windrift.crew", id);
		},
		{ id, mark: randomUUID() },
	);
	await page.goto("/");
	await expect(page.getByLabel("Who are you?")).toContainText(name);
}

/** Starts a job of its own for a test through the API, and opens its Look over. */
export async function startJob(
	page: Page,
	customer: string,
	unit: "inches to 1/16" | "millimetres" = "inches to 1/16",
	kind = "Box truck",
) {
	const who = await page.evaluate(() => localStorage.getItem("windrift.crew"));
	const shop = await shopOf(page);
	const vehicle = shop.vehicle_kinds.find((k) => new RegExp(kind).test(k.name));
	const job = {
		id: randomUUID(),
		customer,
		title: "",
		vehicle_kind: vehicle?.kind,
		unit: unit === "millimetres" ? "millimetre" : "inch_sixteenth",
	};
	const answer = await page.request.post("/api/jobs", {
		data: job,
		headers: { "Crew-Id": who ?? "", "Edit-Id": randomUUID() },
	});
	expect(answer.status(), await answer.text()).toBe(200);
	await page.goto(`/jobs/${job.id}/look-over`);
	await expect(page.getByRole("heading", { name: new RegExp(customer) })).toBeVisible();
}

export const toStage = (page: Page, name: string) =>
	page
		.getByRole("navigation", { name: "Stages of the job" })
		.getByRole("link", { name: new RegExp(`^${name}`) })
		.click();

/** Opens one of the demo's jobs at a stage, wherever in the yard it stands by now. */
export async function openJob(page: Page, title: RegExp, stage: string) {
	for (let n = 0; ; n++) {
		const yard = await (await page.request.get(`/api/jobs?page=${n}`)).json();
		const job = yard.jobs.find((j: { title: string }) => title.test(j.title));
		if (job) {
			const side = job.sides.find((s: { pieces: number }) => s.pieces > 0) ?? job.sides[0];
			await page.goto(`/jobs/${job.id}/${stage}?side=${side.id}`);
			return;
		}
		if (yard.jobs.length === 0) throw new Error(`no job ${title}`);
	}
}

/** Chooses one of the job's sides. */
export async function chooseSide(page: Page, name: RegExp) {
	await page.getByLabel("Which side").click();
	await page.getByRole("option", { name }).click();
	await expect(page.getByLabel("Which side")).toContainText(name);
}

/** Adds a feature of a kind to the side at hand. */
export async function addFeature(page: Page, group: string, kind: string) {
	await page.getByRole("tab", { name: /^On it/ }).click();
	await page.getByRole("button", { name: "Add something" }).click();
	await page.getByRole("menuitem", { name: group }).click();
	await page.getByRole("menuitem", { name: new RegExp(`^${kind} `, "i") }).click();
	await expect(page.getByRole("region", { name: kind })).toBeVisible();
}

/** Types a length into a field of the work beside the picture and takes it with Enter. */
export async function typeLength(page: Page, label: string | RegExp, text: string) {
	const field = page.getByTestId("bench-work").getByRole("textbox", { name: label });
	await field.fill(text);
	await field.press("Enter");
	return field;
}

/** Adds lettering on the side at hand and changes its words. */
export async function addLettering(page: Page, words: string) {
	await page.getByRole("button", { name: "Add lettering" }).first().click();
	const field = page.getByLabel("Words", { exact: true });
	await expect(field).toHaveValue("NEW LETTERING");
	await field.fill(words);
	await field.press("Enter");
	await expect(page.getByRole("radio", { name: words })).toBeVisible();
}

/** Adds something of another kind than lettering. */
export async function addElse(page: Page, what: string) {
	await page.getByRole("button", { name: "Add something else" }).click();
	await page.getByRole("menuitem", { name: what, exact: true }).click();
}

/** Adds a printed panel and waits until it stands. */
export async function addPrint(page: Page) {
	await addElse(page, "A printed panel");
	await expect(page.getByTestId("piece-printed panel")).toBeVisible();
}

/** Says features in quick words, one after the other. */
export async function sayFeatures(page: Page, ...said: string[]) {
	await page.getByRole("tab", { name: /^On it/ }).click();
	const quick = page.getByRole("textbox", { name: /Quick words/ });
	for (const words of said) {
		await quick.fill(words);
		await quick.press("Enter");
		await expect(quick).toHaveValue("");
	}
}

/** Into a bay of its own: what is wet in another walk's bay is none of this one's. */
export async function intoBay(page: Page, hall: string) {
	const name = `${hall} ${randomUUID().slice(0, 6)}`;
	await page.getByRole("button", { name: "It stands elsewhere" }).click();
	await page.getByLabel("A place with another name").fill(name);
	await page.getByRole("button", { name: "It stands there" }).click();
	await expect(page.getByRole("heading", { name })).toBeVisible();
}

/** A PDF behind a link, as an independent reader reads it, in one line. */
export async function readPaper(page: Page, link: Locator): Promise<string> {
	const paper = await page.request.get((await link.getAttribute("href")) ?? "");
	expect(paper.status()).toBe(200);
	const text = execFileSync("pdftotext", ["-layout", "-", "-"], {
		input: await paper.body(),
		encoding: "utf8",
	});
	return text.replace(/\s+/g, " ");
}

/** Issues the plan, fetches its packet, and reads it as an independent reader does. */
export async function packetOf(page: Page): Promise<string> {
	await toStage(page, "Hand over");
	await page.getByRole("button", { name: "Issue the plan" }).click();
	const link = page.getByRole("link", { name: /packet/i }).first();
	await expect(link).toBeVisible();
	const paper = await page.request.get((await link.getAttribute("href")) ?? "");
	expect(paper.status()).toBe(200);
	return execFileSync("pdftotext", ["-", "-"], { input: await paper.body(), encoding: "utf8" }).replace(
		/\s+/g,
		" ",
	);
}

/** The bar at the bottom. */
export const nextMove = (page: Page) => page.getByTestId("next-move");

/** Walks with the Tab key until something has the focus. */
export async function tabTo(page: Page, target: Locator, most = 90) {
	for (let n = 0; n < most; n++) {
		if (await target.evaluate((e) => e === document.activeElement).catch(() => false)) return;
		await page.keyboard.press("Tab");
	}
	await expect(target).toBeFocused();
}

/** Lay down: presses every stroke of every section, and says that the piece lies. */
export async function layAll(page: Page) {
	const next = page.getByRole("button", { name: /^(Pressed\. Next|Done\. Next|Next section|It lies)$/ });
	for (let n = 0; n < 400; n++) {
		const word = await next.textContent();
		const why = page.getByLabel("Why it was laid all the same");
		if (word === "It lies" && (await why.isVisible())) await why.fill("hung by the eye");
		await next.click();
		if (word === "It lies") return;
	}
	throw new Error("the strokes come to an end");
}

/** From the piece as it is laid out to its last stroke, and the packet, which says so. */
export async function laidAndOnPaper(page: Page): Promise<string> {
	await toStage(page, "Lay down");
	await layAll(page);
	await expect(nextMove(page)).toContainText("lies.");
	const packet = await packetOf(page);
	expect(packet).toContain("what was done");
	expect(packet).toMatch(/Laid down with \d+\s+strokes/);
	return packet;
}

/** What each page asked for and was not answered yet. */
const asked = new WeakMap<Page, Set<Request>>();

function watch(page: Page) {
	if (asked.has(page)) return;
	const flying = new Set<Request>();
	asked.set(page, flying);
	// What tells of changes stays open.
	page.on("request", (r) => !r.url().endsWith("/api/live") && flying.add(r));
	for (const end of ["requestfinished", "requestfailed"] as const)
		page.on(end as "requestfinished", (r) => flying.delete(r));
}

/**
 * Waits until nothing that the page asked for is on its way, for long enough that what follows from the last answer has been asked too.
 * Playwright's own `networkidle` waits half a second each time: too long for hundreds of views.
 */
export async function atRest(page: Page) {
	const flying = asked.get(page);
	if (!flying) throw new Error("asCrew begins to watch what the page asks for: call it first");
	for (let quiet = 0; quiet < 4; quiet = flying.size === 0 ? quiet + 1 : 0)
		await new Promise((r) => setTimeout(r, 30));
	await page.evaluate(async () => {
		await document.fonts.ready;
		await new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)));
	});
}

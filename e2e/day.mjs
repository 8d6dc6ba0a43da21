/**
 * Eight hours without a signal on one phone, five minutes at a time: notes and readings by two people, with reloads, other pages, and the page closed and opened
 * again. The phone's clock is moved on; the shop's server is away all the time, and comes back eight hours later by its own clock. Counted afterwards:
 * nothing is lost, nothing is there twice, each in the name of whoever noted it, at the time it was noted.
 *
 * usage: [SEED=n] tools/day-without-signal     (which starts everything; another SEED is another day)
 */
import { spawn } from "node:child_process";
import { tmpdir } from "node:os";
import { chromium } from "@playwright/test";
import { CHROMIUM } from "./browser.mjs";

const HOURS = Number(process.env.HOURS ?? 8);
const STEP_MS = 5 * 60_000;
const JOB = "01980000-0000-7000-8000-000000000004";
const port = process.env.WINDRIFT_PORT;
const url = `http://127.0.0.1:${port}`;

let server;
function end(signal) {
	try {
		if (server?.exitCode === null) process.kill(-server.pid, signal);
	} catch {
		// It has ended.
	}
}
process.on("exit", () => end("SIGKILL"));
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => process.exit(1));
async function serve(ahead) {
	const program = process.env.WINDRIFT_SERVER;
	const env = { ...process.env, FAKETIME_DONT_FAKE_MONOTONIC: "1" };
	const [command, ...rest] = ahead ? ["faketime", "-f", `+${ahead}h`, program, "serve"] : [program, "serve"];
	// faketime stays beside what it starts: both are one group, and ended together.
	server = spawn(command, rest, { cwd: "..", env, stdio: "ignore", detached: true });
	for (let n = 0; n < 400; n++) {
		const there = await fetch(`${url}/api/health`).catch(() => undefined);
		if (there?.ok) return;
		await new Promise((done) => setTimeout(done, 100));
	}
	throw new Error("the server does not answer");
}
async function leave() {
	const ended = new Promise((done) => server.once("exit", done));
	end("SIGTERM");
	await ended;
}

let seed = Number(process.env.SEED ?? 7);
const dice = (below) => {
	seed = (seed * 1103515245 + 12345) % 2147483648;
	return Math.floor((seed / 2147483648) * below);
};

await serve(0);
const browser = await chromium.launch(CHROMIUM);
const context = await browser.newContext({
	baseURL: url,
	serviceWorkers: "allow",
	viewport: { width: 390, height: 844 },
	hasTouch: true,
});
await context.clock.install({ time: new Date() });
let page = await context.newPage();
await page.goto("/");
await page.getByRole("button", { name: /Maren/ }).click();
await page.getByRole("heading", { name: "Yard" }).waitFor();
await page.evaluate(() => navigator.serviceWorker.ready);
await page.goto(`/jobs/${JOB}/lay-down`);
await page.reload();
const carried = (part) =>
	page.evaluate(async (part) => {
		const keys = await (await caches.open("windrift-floor")).keys();
		return keys.some((k) => k.url.includes(part));
	}, part);
for (const part of ["/lay-down", "/remedies", "/walk-round", "/hinge"])
	for (let n = 0; n < 60 && !(await carried(part)); n++) {
		await page.clock.runFor(1000);
		await new Promise((done) => setTimeout(done, 200));
	}
await leave();

const STAGES = ["hinge", "lay-down", "prep", "heat-seal", "strip", "look-over", "hand-over"];
const noted = [];
const happened = { notes: 0, reloads: 0, people: 0, pages: 0, closed: 0 };
let who = "Maren";
context.setDefaultTimeout(15_000);
const waits = () => page.getByRole("status").filter({ hasText: "waiting to be sent" });
const look = async (stage) => {
	await page.goto(`/jobs/${JOB}/${stage}`);
	await page.getByRole("heading", { level: 1 }).waitFor();
};
async function note() {
	await look("look-over");
	await page.getByRole("tab", { name: /Walk round/ }).click();
	const words = `note ${noted.length + 1} of the day`;
	await page.getByLabel("A doubt about the paint").fill(words);
	const at = await page.evaluate(() => Date.now());
	const press = page.getByRole("button", { name: "Note it" });
	// A trembling hand now and then.
	if (dice(6) === 0) await press.dblclick();
	else await press.click();
	noted.push({ words, who, at });
	happened.notes++;
	await waits()
		.filter({ hasText: `${noted.length} waiting` })
		.waitFor({ timeout: 10_000 })
		.catch(async () => {
			await page.screenshot({ path: `${tmpdir()}/windrift-day.png` });
			throw new Error(
				`after ${noted.length} notes: ${await page.getByRole("status").allTextContents()} (${tmpdir()}/windrift-day.png)`,
			);
		});
}
for (let passed = 0; passed < HOURS * 3_600_000; passed += STEP_MS) {
	await page.clock.fastForward(STEP_MS);
	await note();
	const next = dice(10);
	if (next < 3) {
		await page.reload();
		happened.reloads++;
	} else if (next < 5) {
		who = who === "Maren" ? "Odd" : "Maren";
		await page.getByLabel("Who are you?").click();
		await page.getByRole("menuitemradio", { name: new RegExp(who) }).click();
		happened.people++;
	} else if (next < 7) {
		await page.close();
		page = await context.newPage();
		await look("lay-down");
		happened.closed++;
	} else {
		await look(STAGES[dice(STAGES.length)]);
		happened.pages++;
	}
}
await waits()
	.filter({ hasText: `${noted.length} waiting` })
	.waitFor();
await serve(HOURS);
const began = performance.now();
// What waits asks again by itself; the phone's clock has to go on for that.
for (let n = 0; n < 300 && (await waits().count()) > 0; n++) {
	await page.clock.runFor(2000);
	await new Promise((done) => setTimeout(done, 200));
}
const took = (performance.now() - began) / 1000;
const entries = [];
for (let after = 0, more = true; more; ) {
	const found = await (await page.request.get(`/api/jobs/${JOB}/record?after=${after}`)).json();
	entries.push(...found.entries);
	after = found.entries.at(-1)?.seq ?? after;
	more = found.more;
}
const wrong = [];
for (const { words, who, at } of noted) {
	const found = entries.filter((e) => e.what.includes(`${words}.`));
	if (found.length !== 1) wrong.push(`“${words}” is there ${found.length} times`);
	else if (found[0].who !== who) wrong.push(`“${words}” is ${found[0].who}’s, not ${who}’s`);
	else {
		// What is sent later says when it was read, by the clock of the shop, which is in UTC here.
		const read = /read ([^)]+)/.exec(found[0].at)?.[1] ?? found[0].at;
		if (Math.abs(Date.parse(`${read} UTC`) - at) > 90_000)
			wrong.push(`“${words}” stands at ${found[0].at}, and was noted at ${new Date(at).toISOString()}`);
	}
}
console.log(
	`${HOURS} hours by the phone’s clock: ${happened.notes} notes, ${happened.reloads} reloads, ${happened.closed} times closed and opened, ${happened.pages} other pages, ${happened.people} changes of person; ` +
		`sent within ${took.toFixed(0)} s of the signal; ${wrong.length} lost, doubled or mixed up`,
);
for (const w of wrong) console.log(w);
await browser.close();
await leave();
process.exit(wrong.length > 0 ? 1 : 0);

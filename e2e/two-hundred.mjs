/**
 * Two hundred people at one server: each has a session of their own, listens to what changes, opens a job as the page does (what a real page asks for is looked
 * up first), with six connections as a browser has, and records every few seconds. Counted: what was answered otherwise than asked, how long answers took, what of
 * the acknowledged entries is not there or is there twice, and who was told of nothing.
 *
 * usage: tools/two-hundred [PEOPLE] [SECONDS]     (which starts everything)
 */
import { randomUUID } from "node:crypto";
import { Agent, request } from "node:http";
import { chromium } from "@playwright/test";
import { CHROMIUM } from "./browser.mjs";

const url = process.env.WINDRIFT_URL;
const people = Number(process.argv[2] ?? 200);
const seconds = Number(process.argv[3] ?? 60);
const JOB = "01980000-0000-7000-8000-000000000004";

// What a page asks for, from a real one.
const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage();
await page.goto(url);
await page.getByRole("button", { name: /Maren/ }).click();
await page.getByRole("heading", { name: "Yard" }).waitFor();
const seen = new Set();
page.on("request", (r) => {
	const at = new URL(r.url());
	if (r.method() === "GET" && at.pathname.startsWith("/api/") && at.pathname !== "/api/live")
		seen.add(at.pathname + at.search);
});
await page.goto(`${url}/jobs/${JOB}/lay-down`);
await page.waitForLoadState("networkidle").catch(() => {});
await page.waitForTimeout(3000);
const asks = [...seen];
const door = await (await page.request.get(`${url}/api/door`)).json();
const job = await (await page.request.get(`${url}/api/jobs/${JOB}`)).json();
const side = job.sides.find((s) => s.pieces > 0);
const pieces = (await (await page.request.get(`${url}/api/sides/${side.id}`)).json()).pieces;
const piece = pieces[0].id;
await browser.close();

const times = { asked: [], recorded: [] };
/** Who was told of anything. */
const heard = new Set();
const otherwise = new Map();
const acknowledged = new Set();
let over = false;

function call(agent, method, path, cookie, body, more = {}) {
	const began = performance.now();
	return new Promise((done) => {
		const headers = { Cookie: cookie, ...more };
		if (body) headers["Content-Type"] = "application/json";
		const asked = request(url + path, { method, agent, headers, timeout: 60_000 }, (answer) => {
			const parts = [];
			answer.on("data", (d) => parts.push(d));
			answer.on("end", () =>
				done({
					status: answer.statusCode,
					cookie: answer.headers["set-cookie"]?.[0]?.split(";")[0],
					text: Buffer.concat(parts).toString(),
					ms: performance.now() - began,
				}),
			);
		});
		asked.on("timeout", () => asked.destroy());
		asked.on("error", (e) => done({ status: 0, text: e.code ?? e.message, ms: performance.now() - began }));
		asked.end(body ? JSON.stringify(body) : undefined);
	});
}
const count = (answer, path) => {
	if (answer.status === 200) return;
	const what = `${answer.status} ${path.split("?")[0].replace(/[0-9a-f-]{36}/g, "ID")} ${answer.text.slice(0, 60)}`;
	otherwise.set(what, (otherwise.get(what) ?? 0) + 1);
};

async function person(n) {
	const agent = new Agent({ keepAlive: true, maxSockets: 6 });
	const own = door.crew[n % door.crew.length];
	const signed = await call(agent, "POST", "/api/sign-in", "", { name: own.name, device: `browser ${n}` });
	count(signed, "/api/sign-in");
	const cookie = signed.cookie ?? "";
	// Listens, as the page does.
	const live = request(`${url}/api/live`, { headers: { Cookie: cookie }, agent: false }, (answer) => {
		if (answer.statusCode !== 200) count({ status: answer.statusCode, text: "" }, "/api/live");
		answer.on("data", () => {
			heard.add(n);
		});
		answer.on("error", () => {});
	});
	live.on("error", (e) => !over && count({ status: 0, text: e.code ?? "" }, "/api/live"));
	live.end();
	// People do not all come in at the same moment.
	await new Promise((r) => setTimeout(r, Math.random() * 5000));
	while (!over) {
		const answers = await Promise.all(asks.map((path) => call(agent, "GET", path, cookie)));
		answers.forEach((a, k) => {
			count(a, asks[k]);
			times.asked.push(a.ms);
		});
		if (over) break;
		if (n % 4 === 0) {
			const id = randomUUID();
			const body = { id, note: { what: "waited", minutes: 5, reason: `browser ${n}` } };
			const answer = await call(agent, "POST", `/api/pieces/${piece}/floor`, cookie, body, {
				"Crew-Id": own.id,
				"Edit-Id": randomUUID(),
			});
			count(answer, "/api/pieces/ID/floor");
			times.recorded.push(answer.ms);
			if (answer.status === 200) acknowledged.add(id);
		}
		await new Promise((r) => setTimeout(r, 5000 + Math.random() * 10_000));
	}
	live.destroy();
	agent.destroy();
	return cookie;
}
const all = Array.from({ length: people }, (_, n) => person(n));
setTimeout(() => {
	over = true;
}, seconds * 1000);
const cookies = await Promise.all(all);
const kept = [];
for (let after = 0, more = true; more; ) {
	const answer = await call(undefined, "GET", `/api/jobs/${JOB}/record?after=${after}`, cookies[0]);
	const page = JSON.parse(answer.text);
	kept.push(...page.entries.filter((e) => /browser \d+/.test(e.what)));
	after = page.entries.at(-1)?.seq ?? after;
	more = page.more;
}
const at = (list, share) => {
	list.sort((a, b) => a - b);
	return list.length ? list[Math.floor(share * (list.length - 1))].toFixed(0) : "-";
};
const line = (name, list) =>
	console.log(
		`${name}: ${list.length}, p50 ${at(list, 0.5)} ms, p95 ${at(list, 0.95)} ms, p99 ${at(list, 0.99)} ms, most ${at(list, 1)} ms`,
	);
console.log(`${people} people, ${seconds} s, ${asks.length} addresses each time a job is opened`);
line("answers", times.asked);
line("recorded", times.recorded);
console.log(
	`acknowledged ${acknowledged.size}, in the record ${kept.length}; told of changes ${heard.size} of ${people}`,
);
for (const [what, n] of otherwise) console.log(`${n} times ${what}`);
const missing = acknowledged.size !== kept.length || heard.size < people;
process.exit(otherwise.size > 0 || missing ? 1 : 0);

/**
 * The floor at its fullest: a tap on two graphics of about 500 cells together with 50 patches, from the press to the new range, over HTTP; and a week of a sensor's readings,
 * one in ten seconds, panned.
 *
 * usage: WINDRIFT_URL=http://127.0.0.1:PORT node floor.mjs     (tools/frames starts everything)
 */
import { randomUUID } from "node:crypto";
import { chromium } from "@playwright/test";
import { CHROMIUM } from "./browser.mjs";
import { door, report, tracing } from "./traced.mjs";

const url = process.env.WINDRIFT_URL ?? "http://127.0.0.1:8123";
const { post, get } = await door(url);
const job = await post("/jobs", {
	id: randomUUID(),
	customer: "Five hundred",
	vehicle_kind: "semi_trailer",
	unit: "inch_sixteenth",
});
const side = job.sides[0].id;
const strip = (entry) => post(`/jobs/${job.id}/strip`, { id: randomUUID(), entry });
let view;
for (const name of ["old print", "older print under it"]) {
	view = await strip({
		what: "found",
		side,
		name,
		kind: "print",
		age_years: 7,
		faced: "sun",
		cold_corner: "chips",
		back_mm: 300,
		drop_mm: 100,
		width_mm: 14000,
		height_mm: 2600,
	});
}
const olds = view.old;
const cells = olds.reduce((sum, o) => sum + o.cells.length, 0);
for (let n = 0; n < 50; n++) {
	const stands_for = ["worst", "typical", "easy"][n % 3];
	const times = { film_seconds: 200 + ((n * 37) % 300), adhesive_seconds: 60 + ((n * 17) % 90) };
	await strip({ what: "patch", old: olds[n % 2].id, stands_for, amount: 0.4, ...times, left: "smear" });
}
const times = [];
for (let n = 0; n < 400; n++) {
	const before = performance.now();
	const done = { what: "done", phase: "film", seconds: 150, old: olds[n % 2].id, cells: [n >> 1] };
	view = await strip(done);
	times.push(performance.now() - before);
}
times.sort((a, b) => a - b);
const at = (share) => times[Math.floor(share * times.length)].toFixed(1);
console.log(
	`tap    ${cells} cells, 50 patches: p50 ${at(0.5)} ms, p95 ${at(0.95)} ms over ${times.length} taps`,
);

const bay = "Measured bay";
const id = randomUUID();
const { key } = await post("/devices", { id, bay, name: "week" });
const END = Date.now();
const EVERY = 10_000;
const COUNT = Math.floor((7 * 24 * 3_600_000 - 60_000) / EVERY);
for (let from = 0; from < COUNT; from += 600) {
	const readings = [];
	for (let n = from; n < Math.min(from + 600, COUNT); n++) {
		const hour = (n * EVERY) / 3_600_000;
		readings.push({
			at: new Date(END - (COUNT - n) * EVERY).toISOString(),
			celsius: 19 + 3 * Math.sin(hour / 3.8) + 0.3 * Math.sin(n),
			humidity: 50,
			surface: 15 + 3 * Math.sin(hour / 3.8 - 0.5),
		});
	}
	await post("/readings", { readings }, { "Device-Key": key });
	await new Promise((r) => setTimeout(r, 60));
}
await post(`/jobs/${job.id}/bay`, { id: randomUUID(), entry: { what: "stands_in", bay } });
const kept = await get(`/devices/${id}/readings?hours=168`);
const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(url);
await page.getByRole("button", { name: /^Maren/ }).click();
await page.getByLabel("Who are you?").waitFor();
await page.goto(`${url}/jobs/${job.id}/prep?side=${side}`);
await page.getByRole("tab", { name: "Bay" }).click();
await page.getByRole("button", { name: "Sensors", exact: true }).click();
await page.getByRole("button", { name: "What it read" }).last().click();
const plot = page.locator("canvas").first();
await plot.waitFor();
await plot.scrollIntoViewIfNeeded();
// The week itself is fetched once, before anybody pans.
await page.waitForLoadState("networkidle");
await page.waitForTimeout(5000);
const box = await plot.boundingBox();
const centre = [box.x + box.width / 2, box.y + box.height / 2];
const { traced, hand } = await tracing(page);
await page.mouse.move(...centre);
await page.mouse.down();
await page.mouse.move(centre[0] + 40, centre[1]);
const swing = (t) => ({
	type: "mouseMoved",
	// Back and forth into the past: past its newest reading nothing is drawn.
	x: centre[0] + 40 + 200 * (1 - Math.cos(t * 12)),
	y: centre[1],
	button: "left",
	buttons: 1,
});
console.log(`week   ${kept.length} readings`);
report("panned", await traced(() => hand(4000, swing)));
await page.mouse.up();
await browser.close();

/**
 * Frames a second of Look over on a side of 600 features, counted in Chromium's own trace: frames that the compositor drew
 * (`DrawFrame`) between the gesture's marks.
 *
 * usage: WINDRIFT_URL=http://127.0.0.1:PORT node frames.mjs     (tools/frames starts everything)
 */
import { randomUUID } from "node:crypto";
import { chromium } from "@playwright/test";
import { CHROMIUM } from "./browser.mjs";
import { door, report, tracing } from "./traced.mjs";

const url = process.env.WINDRIFT_URL ?? "http://127.0.0.1:8123";
const FEATURES = 600;

const { post } = await door(url);
const job = await post("/jobs", {
	id: randomUUID(),
	customer: "Six hundred",
	vehicle_kind: "semi_trailer",
	unit: "inch_sixteenth",
});
const side = job.sides[0].id;
const once = { count: 1, pitch_mm: 0, rows: 1, row_pitch_mm: 0 };
for (let n = 0; n < FEATURES; n++) {
	const back = 150 + (n % 60) * 265;
	const drop = 120 + Math.floor(n / 60) * 250;
	const spec =
		n % 10 === 9
			? { kind: "panel_seam", form: { form: "upright", first_mm: back, pitch_mm: 0, count: 1 } }
			: n % 3 === 0
				? {
						kind: "rivets",
						form: {
							form: "heads",
							first_mm: back,
							pitch_mm: 0,
							columns: 1,
							first_head_mm: drop,
							head_pitch_mm: 40,
							heads: 5,
							head_mm: 12,
						},
					}
				: n % 3 === 1
					? {
							kind: "socket",
							form: { form: "round", back_mm: back, drop_mm: drop, across_mm: 60, repeat: once },
						}
					: {
							kind: "handle",
							form: {
								form: "rectangle",
								back_mm: back,
								drop_mm: drop,
								to: "corner",
								width_mm: 140,
								height_mm: 50,
								repeat: once,
							},
						};
	// Keys in the order of time, as the application makes them.
	const id = `${(Date.now() * 65536 + n).toString(16).padStart(16, "0").slice(0, 16)}${randomUUID().replaceAll("-", "").slice(16)}`;
	await post(`/sides/${side}/features`, {
		id: id.replace(/^(.{8})(.{4})(.{4})(.{4})/, "$1-$2-$3-$4-"),
		spec,
	});
}

const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(url);
await page.getByRole("button", { name: /^Maren/ }).click();
await page.getByLabel("Who are you?").waitFor();
await page.goto(`${url}/jobs/${job.id}/look-over?side=${side}`);
await page.getByRole("tab", { name: `On it (${FEATURES})` }).waitFor();
await page.waitForTimeout(1000);
const view = await page.getByTestId("viewport").boundingBox();
const centre = [view.x + view.width / 2, view.y + view.height / 2];
const { traced, hand } = await tracing(page);
const dragged = (at) => (t) => {
	const [x, y] = at(t);
	return { type: "mouseMoved", x, y, button: "left", buttons: 1 };
};

for (let n = 0; n < 2; n++) await page.getByRole("button", { name: "Nearer" }).click();
await page.waitForTimeout(500);
const swing = (t) => [centre[0] + 260 * Math.sin(t * 12), centre[1] + 50 * Math.sin(t * 17)];
await page.mouse.move(...centre);
await page.mouse.down();
report("pan", await traced(() => hand(4000, dragged(swing))));
await page.mouse.up();
await page.waitForTimeout(500);
report(
	"zoom",
	await traced(() =>
		hand(4000, (t) => ({
			type: "mouseWheel",
			x: centre[0],
			y: centre[1],
			deltaX: 0,
			deltaY: Math.sin(t * 14) * 24,
		})),
	),
);
await page.waitForTimeout(600);
await page.getByRole("button", { name: "Whole" }).click();
await page.getByRole("tab", { name: `On it (${FEATURES})` }).click();
await page
	.getByTestId("bench-work")
	.getByRole("button", { name: /^socket/i })
	.last()
	.click();
// What is chosen lies on a layer of its own.
const box = await page.getByTestId("chosen").boundingBox();
const mark = [box.x + box.width / 2, box.y + box.height / 2];
await page.mouse.move(...mark);
await page.mouse.down();
await page.mouse.move(mark[0] + 10, mark[1]);
report(
	"drag",
	await traced(() =>
		hand(
			4000,
			dragged((t) => [mark[0] + 80 * Math.sin(t * 10), mark[1] + 30 * Math.sin(t * 7)]),
		),
	),
);
await page.mouse.up();
await browser.close();

/**
 * Takes one picture of each main view from the demo's data.
 *
 * usage: WINDRIFT_URL=http://127.0.0.1:PORT node shots.mjs FOLDER [NAME ...]
 */
import { mkdirSync } from "node:fs";
import { chromium } from "@playwright/test";
import { CHROMIUM } from "./browser.mjs";

const [folder = "../docs/screenshots", ...names] = process.argv.slice(2);
const url = process.env.WINDRIFT_URL ?? "http://127.0.0.1:8123";
const DESK = { width: 1280, height: 800 };
const TABLET = { width: 1024, height: 768 };
const PHONE = { width: 390, height: 844 };

const open = async (page, job, stage) => {
	await page.goto(url);
	await page.getByRole("link", { name: job }).click();
	await page.getByRole("link", { name: new RegExp(`^${stage}`) }).click();
	await page.waitForLoadState("networkidle");
};

const VIEWS = {
	yard: { size: DESK, go: (page) => page.goto(url) },
	"look-over": {
		size: DESK,
		go: async (page) => {
			await open(page, /Tideway/, "Look over");
			await page.getByRole("button", { name: /5 rivet columns/ }).click();
		},
	},
	"look-over-walk-round": {
		size: DESK,
		go: async (page) => {
			await open(page, /Limpet/, "Look over");
			await page.getByRole("tab", { name: /Walk round/ }).click();
		},
	},
	"lay-out": { size: DESK, go: (page) => open(page, /Tideway/, "Lay out") },
	"film-on-the-roll": {
		size: DESK,
		go: async (page) => {
			await open(page, /Tideway/, "Film");
			await page.getByRole("tab", { name: "On the roll" }).click();
			await page.getByRole("figure").first().waitFor();
			await page.waitForTimeout(1500);
		},
	},
	"film-where-it-stretches": {
		size: DESK,
		go: async (page) => {
			await open(page, /Skerry/, "Film");
			await page.getByLabel("Which side").click();
			await page.getByRole("option", { name: /curb/ }).click();
			await page.getByRole("tab", { name: "Where it stretches" }).click();
			await page.getByRole("region", { name: "Where it stretches" }).waitFor();
		},
	},
	"film-by-when": {
		size: DESK,
		go: async (page) => {
			await open(page, /Skerry/, "Film");
			await page.getByRole("tab", { name: "By when" }).click();
			await page.getByRole("region", { name: "By when", exact: true }).waitFor();
			await page.getByText("of one pair of hands").waitFor();
		},
	},
	shelf: {
		size: DESK,
		go: async (page) => {
			await page.goto(`${url}/shelf`);
			await page.getByRole("listitem").first().waitFor();
		},
	},
	"lay-out-marking": {
		size: DESK,
		go: async (page) => {
			await open(page, /Gannet/, "Lay out");
			await page.getByLabel("Which side").click();
			await page.getByRole("option", { name: /rear/ }).click();
			await page.getByRole("tab", { name: "Marking" }).click();
			await page.getByRole("region", { name: "Strips" }).waitFor();
		},
	},
	"lay-out-marking-audit": {
		size: DESK,
		go: async (page) => {
			await open(page, /Gannet/, "Lay out");
			await page.getByLabel("Which side").click();
			await page.getByRole("option", { name: /curb/ }).click();
			await page.getByRole("tab", { name: "Marking" }).click();
			await page.getByRole("radio", { name: "As read back" }).click();
			await page.getByRole("tab", { name: "Audit" }).click();
			await page.getByText("✗ not kept").waitFor();
		},
	},
	strip: {
		size: DESK,
		go: async (page) => {
			await open(page, /Limpet/, "Strip");
			await page.getByRole("tab", { name: "How long" }).click();
		},
	},
	prep: {
		size: DESK,
		go: async (page) => {
			await open(page, /Tideway/, "Prep");
			await page.getByRole("tab", { name: "Warm and dry" }).click();
			await page.getByTestId("warm").waitFor();
		},
	},
	"heat-seal": {
		size: TABLET,
		go: async (page) => {
			await open(page, /Skerry/, "Heat");
			await page.getByLabel("Which side").click();
			await page.getByRole("option", { name: /curb/ }).click();
			await page.getByTestId("run-tape").waitFor();
			await page.getByRole("button", { name: "Sensors", exact: true }).click();
			await page.getByLabel("What it reads").selectOption("film behind the heat");
			await page.getByLabel("A thermometer, called").fill("gun side");
			await page.getByRole("button", { name: "Make its key" }).click();
			const key = await page.getByTestId("device-key").textContent();
			await page.getByRole("dialog").getByRole("button", { name: "Close" }).click();
			await page.getByLabel("Who reads").selectOption({ label: "gun side reads" });
			await page.getByRole("button", { name: /^Begin at/ }).waitFor();
			await page.request.post(`${url}/api/heat-readings`, {
				headers: { "Device-Key": key ?? "" },
				data: { readings: [{ celsius: 88.4 }] },
			});
			await page.getByTestId("shows").waitFor();
			await page.getByTestId("run-tape").evaluate((tape) => tape.scrollIntoView({ block: "start" }));
		},
	},
	"lay-down-strokes": {
		size: TABLET,
		go: async (page) => {
			await open(page, /Skerry/, "Lay down");
			for (let n = 0; n < 9; n++) await page.getByRole("button", { name: "Pressed. Next" }).click();
		},
	},
	"hinge-read-both-ends": {
		size: TABLET,
		go: async (page) => {
			await open(page, /Tideway/, "Hinge");
			await page.getByLabel(/^Front flat/).fill("27 3/4");
			await page.getByLabel(/^Rear flat/).fill("27 13/16");
			await page.getByRole("button", { name: "Both read" }).click();
			await page.getByText(/Rear tape up/).waitFor();
		},
	},
	"hinge-phone": {
		size: PHONE,
		go: async (page) => {
			const jobs = await (await page.request.get(`${url}/api/jobs`)).json();
			const job = jobs.jobs.find((j) => /Tideway/.test(j.title));
			const side = job.sides.find((s) => s.pieces > 0);
			await page.goto(`${url}/jobs/${job.id}/hinge?side=${side.id}`);
			await page.getByLabel(/^Front flat/).fill("27 3/4");
			await page.getByLabel(/^Rear flat/).fill("27 13/16");
			await page.getByRole("button", { name: "Both read" }).click();
			await page.getByText(/Rear tape up/).waitFor();
		},
	},
	"comes-off": {
		size: DESK,
		go: async (page) => {
			await page.goto(`${url}/comes-off`);
			await page.getByText("Creamery van").first().waitFor();
		},
	},
	"hand-over": { size: DESK, go: (page) => open(page, /Tideway/, "Hand over") },
};

mkdirSync(folder, { recursive: true });
const browser = await chromium.launch(CHROMIUM);
for (const [name, view] of Object.entries(VIEWS)) {
	if (names.length > 0 && !names.includes(name)) continue;
	const context = await browser.newContext({ viewport: view.size, hasTouch: view.size !== DESK });
	const page = await context.newPage();
	await page.goto(url);
	await page.getByRole("button", { name: /^Maren/ }).click();
	await page.getByLabel("Who are you?").waitFor();
	await view.go(page);
	await page.waitForLoadState("networkidle");
	await page.waitForTimeout(300);
	await page.screenshot({ path: `${folder}/${name}.png` });
	console.log(`${folder}/${name}.png`);
	await context.close();
}
await browser.close();

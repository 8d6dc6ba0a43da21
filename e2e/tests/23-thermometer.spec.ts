import { randomUUID } from "node:crypto";
import { expect, test } from "@playwright/test";
import { addPrint, asCrew, atRest, intoBay, layAll, nextMove, startJob, toStage, typeLength } from "./shop";

test("a thermometer gets its key, shows what it reads, and fills the run from slip to slip", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Knot Nurseries");
	await toStage(page, "Lay out");
	await addPrint(page);
	await typeLength(page, "Width as trimmed", "4");
	await typeLength(page, "Height as trimmed", "2");
	await atRest(page);
	await toStage(page, "Lay down");
	await layAll(page);
	await expect(nextMove(page)).toContainText("lies.");
	await toStage(page, "Heat");
	await intoBay(page, "Oven hall");
	await page.getByRole("button", { name: "Sensors", exact: true }).click();
	const name = `gun side ${randomUUID().slice(0, 6)}`;
	await page.getByLabel("What it reads").selectOption("film behind the heat");
	await page.getByLabel("A thermometer, called").fill(name);
	await page.getByRole("button", { name: "Make its key" }).dblclick();
	const key = (await page.getByTestId("device-key").textContent()) ?? "";
	await page.getByRole("dialog").getByRole("button", { name: "Close" }).click();
	const send = async (readings: { at?: string; celsius: number }[]) => {
		const sent = await page.request.post("/api/heat-readings", {
			headers: { "Device-Key": key },
			data: { readings },
		});
		expect(sent.status()).toBe(200);
	};
	await page.getByLabel("Who reads").selectOption({ label: `${name} reads` });
	await expect(page.getByText(`${name} has not sent anything`)).toBeVisible();
	await send([{ celsius: 88 }]);
	await expect(page.getByTestId("shows")).toContainText("✓ 190 °F");
	await send([{ celsius: 62 }]);
	await expect(page.getByTestId("shows")).toContainText("↓ 144 °F");

	// A slip at its beginning and one at its end; the thermometer reads two seconds behind, and the second half too cold.
	const from = Date.now();
	await page.getByRole("button", { name: "Begin at 0 in" }).click();
	await page.waitForTimeout(2000);
	const to = Date.now();
	await page.getByRole("button", { name: "At 12 in" }).click();
	await page.waitForTimeout(3600);
	// So close that each half inch has one of its own at this pace, and wider than the walk on both hands: on a busy machine a press is stamped later than it was asked for here.
	const read = (warm: number) =>
		Array.from({ length: Math.floor((to - from + 3400) / 50) }, (_, n) => ({
			at: new Date(from + n * 50).toISOString(),
			celsius: n * 50 - 2000 < warm * (to - from) ? 88 : 70,
		}));
	await send(read(0.5));
	// What came late is looked at as it comes, not when the page looks by itself.
	await expect(page.getByTestId("reached")).toContainText("not reached, go back while it is warm", {
		timeout: 12_000,
	});
	await expect(page.getByTestId("run-tape")).toHaveAttribute("aria-label", /% reached.*% not reached/);
	await expect(page.getByTestId("next-move")).toContainText("go back while it is warm");
	// Reloaded, the same thermometer reads on, and the record says what was walked.
	await page.reload();
	await expect(page.getByLabel("Who reads")).toContainText(`${name} reads`);
	await expect(page.getByRole("button", { name: /^Begin at/ })).toBeVisible();
	await toStage(page, "Hand over");
	await expect(page.getByText("A thermometer reads on: edge on the flat, the heat at 12.")).toBeVisible();
});

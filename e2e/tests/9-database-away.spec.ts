import { execFileSync } from "node:child_process";
import { expect, test } from "@playwright/test";
import { asCrew, nextMove, openJob } from "./shop";

const cluster = (what: string) =>
	execFileSync("../tools/cluster", [what, process.env.WINDRIFT_CLUSTER ?? ""], { stdio: "pipe" });

test("PostgreSQL stopped and started under the running server", async ({ page }) => {
	await asCrew(page);
	await openJob(page, /Tideway/, "hinge");
	await expect(nextMove(page)).toContainText("Read the tape");
	const wanted = (
		(await page
			.getByText(/^wanted/)
			.first()
			.textContent()) ?? ""
	).replace("wanted ", "");
	await page.getByLabel(/^Front flat/).fill(wanted);
	await page.getByLabel(/^Rear flat/).fill(wanted);
	cluster("stop");
	try {
		await page.getByRole("button", { name: "Both read" }).click();
		await expect(page.getByText("Kept here; it goes out by itself when there is a signal.")).toBeVisible();
		await expect(page.getByRole("status").filter({ hasText: "1 waiting to be sent" })).toBeVisible();
		await expect(page.getByLabel(/^Front flat/)).toHaveValue(wanted);
	} finally {
		cluster("start");
	}
	await expect(page.getByRole("status").filter({ hasText: "waiting to be sent" })).toBeHidden({
		timeout: 20_000,
	});
	await page.reload();
	await expect(nextMove(page)).toContainText("Both ends read right.");
});

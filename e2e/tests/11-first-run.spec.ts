import { expect, test } from "@playwright/test";

// A shop of its own, with nothing in it.
const EMPTY = process.env.WINDRIFT_EMPTY_URL;
test.skip(!EMPTY, "needs a server with an empty database");

test("an empty shop is set up, its first job started, its crew added and renamed", async ({ page }) => {
	await page.goto(`${EMPTY}/`);
	await expect(page.getByRole("heading", { name: "Your shop is empty. Set it up." })).toBeVisible();
	await page.getByRole("button", { name: "Open the shop" }).click();
	await expect(page.getByRole("alert")).toContainText("Type what the shop is called.");
	await page.getByLabel("The shop is called").fill("Skerry Signs");
	await page.getByLabel(/^Your name/).fill("Ragna");
	await page.getByLabel(/^Your passphrase/).fill("Ragna");
	await page.getByRole("button", { name: "Open the shop" }).click();
	await expect(page.getByRole("alert")).toContainText("at least 10 characters");
	await page.getByLabel(/^Your passphrase/).fill("tern over the breakwater");
	await page.getByRole("combobox", { name: "Traffic keeps to the" }).click();
	await page.getByRole("option", { name: /near side and off side/ }).click();
	await page.getByRole("button", { name: "Open the shop" }).dblclick();
	await expect(page.getByLabel("Who are you?")).toContainText("Ragna");
	await expect(page.getByText("Skerry Signs")).toBeVisible();

	await page.getByRole("button", { name: "Crew" }).click();
	const crew = page.getByRole("dialog", { name: "Crew" });
	await crew.getByLabel("Somebody new").fill("Ragna");
	await crew.getByRole("button", { name: "Add to the crew" }).click();
	await expect(crew.getByRole("alert")).toContainText("There is a Ragna already.");
	await crew.getByLabel("Somebody new").fill("Tove");
	await crew.getByRole("button", { name: "Add to the crew" }).click();
	await expect(crew.getByRole("combobox", { name: "What Tove does" })).toContainText("fitter");
	await crew.getByRole("textbox", { name: "Name" }).last().fill("Tove B.");
	await crew.getByRole("textbox", { name: "Name" }).last().press("Enter");
	await expect(crew.getByRole("combobox", { name: "What Tove B. does" })).toBeVisible();
	// Somebody must lead.
	await crew.getByRole("combobox", { name: "What Ragna does" }).click();
	await page.getByRole("option", { name: /looks and prints/ }).click();
	await expect(crew.getByRole("alert")).toContainText("Somebody must lead.");
	await crew.getByRole("button", { name: "Close" }).click();

	await page.getByRole("button", { name: "Start a job" }).click();
	await page.getByLabel("Whom is it for?").fill("Dunlin Dairy");
	await page.getByRole("button", { name: "Start and measure it" }).click();
	await expect(page.getByRole("heading", { name: /Dunlin Dairy/ })).toBeVisible();
	await expect(page.getByLabel("Which side")).toContainText("near side");

	// The yard finds it by its words, and says where it finds nothing.
	await page.goto(`${EMPTY}/`);
	await page.getByLabel("Find a job").fill("dairy dunlin");
	await expect(page.getByRole("link", { name: /Dunlin Dairy/ })).toBeVisible();
	await page.getByLabel("Find a job").fill("100%");
	await expect(page.getByText("No job has “100%”")).toBeVisible();
	await page.reload();
	await expect(page.getByRole("heading", { name: "Your shop is empty" })).toHaveCount(0);
});

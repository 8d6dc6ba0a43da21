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

test("the lead lets somebody in, who chooses a passphrase and a PIN; on the floor people switch by it", async ({
	page,
	browser,
}) => {
	await page.goto(`${EMPTY}/`);
	await page.getByLabel("Name", { exact: true }).fill("Ragna");
	await page.getByLabel("Passphrase", { exact: true }).fill("tern over the breakwate");
	await page.getByRole("button", { name: "Sign in" }).click();
	await expect(page.getByRole("alert")).toContainText("do not belong together");
	await page.getByLabel("Passphrase", { exact: true }).fill("tern over the breakwater");
	await page.getByRole("button", { name: "Sign in" }).click();
	await page.getByRole("button", { name: "Crew" }).click();
	const crew = page.getByRole("dialog", { name: "Crew" });
	const tove = crew.getByRole("listitem").filter({ hasText: "Tove" });
	await tove.getByRole("button", { name: "Make a code to sign in" }).click();
	const code = (await tove.getByRole("status").locator("strong").textContent()) ?? "";
	await crew.getByRole("button", { name: "Close" }).click();

	// On a phone that stays on the floor.
	const floor = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
	await floor.goto(`${EMPTY}/`);
	await floor.getByLabel("Name", { exact: true }).fill("Tove B.");
	await floor.getByLabel("Passphrase", { exact: true }).fill(code);
	await floor.getByLabel(/A device on the floor/).check();
	await floor.getByLabel("What the device is called").fill("Bay 1");
	await floor.getByRole("button", { name: "Sign in" }).click();
	await floor.getByLabel("A passphrase of your own").fill("gulls at the mole");
	await floor.getByRole("button", { name: "Sign in" }).click();
	await expect(floor.getByLabel("Who are you?")).toContainText("Tove B.");
	// Once, and never again.
	const again = await (await browser.newContext()).newPage();
	await again.goto(`${EMPTY}/`);
	await again.getByLabel("Name", { exact: true }).fill("Tove B.");
	await again.getByLabel("Passphrase", { exact: true }).fill(code);
	await again.getByRole("button", { name: "Sign in" }).click();
	await expect(again.getByRole("alert")).toContainText("do not belong together");
	await again.context().close();

	// The lead's PIN, set at the desk, lets her in on the floor's device with large keys.
	await page.getByLabel("Who are you?").click();
	await page.getByRole("menuitem", { name: /PIN and devices/ }).click();
	const own = page.getByRole("form", { name: /Your PIN/ });
	await own.getByLabel("Your passphrase").fill("tern over the breakwater");
	await own.getByLabel("4 to 8 digits").fill("1234");
	await own.getByRole("button", { name: "Set the PIN" }).click();
	await expect(own.getByRole("alert")).toContainText("tried first");
	await own.getByLabel("4 to 8 digits").fill("4711");
	await own.getByRole("button", { name: "Set the PIN" }).click();
	await expect(own.getByRole("status")).toContainText("Set.");
	const devices = page.getByRole("region", { name: "Devices that are signed in" });
	await expect(devices).toContainText("Bay 1: Tove B.");
	await floor.getByLabel("Who are you?").click();
	await floor.getByRole("menuitemradio", { name: /Ragna/ }).click();
	const sheet = floor.getByRole("dialog", { name: "Ragna" });
	for (const digit of "4712") await sheet.getByRole("button", { name: digit, exact: true }).click();
	await sheet.getByRole("button", { name: "It is me" }).click();
	await expect(sheet.getByRole("alert")).toContainText("That is not it.");
	for (const digit of "4711") await sheet.getByRole("button", { name: digit, exact: true }).click();
	await sheet.getByRole("button", { name: "It is me" }).click();
	await expect(floor.getByLabel("Who are you?")).toContainText("Ragna");

	// Ended from the list, the phone shows nothing more of the shop.
	await page.getByRole("button", { name: "Close" }).click();
	await page.getByLabel("Who are you?").click();
	await page.getByRole("menuitem", { name: /PIN and devices/ }).click();
	await expect(page.getByRole("region", { name: "What happened at the door" })).toContainText(
		"refused: Ragna on Bay 1",
	);
	await devices
		.getByRole("listitem")
		.filter({ hasText: "Bay 1" })
		.getByRole("button", { name: "Sign it out" })
		.click();
	await expect(devices).not.toContainText("Bay 1");
	await floor.reload();
	await expect(floor.getByRole("heading", { name: "Who is there?" })).toBeVisible();
	await expect(floor.getByText("Dunlin Dairy")).toHaveCount(0);
	await floor.context().close();
});

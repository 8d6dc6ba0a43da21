import { expect, test } from "@playwright/test";
import { asCrew, nextMove, openJob, tabTo } from "./shop";

test("the whole path with the keyboard alone", async ({ page }) => {
	const press = (key: string) => page.keyboard.press(key);
	const type = (text: string) => page.keyboard.type(text);
	await page.goto("/");

	await tabTo(page, page.getByRole("button", { name: /^Pella/ }));
	await press("Enter");
	await expect(page.getByLabel("Who are you?")).toContainText("Pella");

	await tabTo(page, page.getByRole("button", { name: "Start a job" }));
	await press("Enter");
	await tabTo(page, page.getByLabel("Whom is it for?"));
	await type("Dunlin Bakery");
	await press("Enter");
	await expect(page.getByRole("heading", { name: /Dunlin Bakery/ })).toBeVisible();

	// The figures of the picture come first: the length is typed where the tape is read.
	await tabTo(page, page.getByRole("textbox", { name: /Length along the top rail.*in the picture/ }));
	await press("ControlOrMeta+a");
	await type("18' 3");
	await press("Enter");
	await expect(
		page.getByTestId("bench-work").getByRole("textbox", { name: /Length along the top rail/ }),
	).toHaveValue("18' 3");
	await tabTo(page, page.getByRole("tab", { name: "Shape" }));
	await press("ArrowRight");
	await tabTo(page, page.getByRole("button", { name: "Add something" }));
	await press("Enter");
	await press("ArrowDown");
	await expect(page.getByRole("menuitem", { name: "Seams, gaps, lines" })).toBeFocused();
	await press("ArrowRight");
	await expect(page.getByRole("menuitem", { name: /^seam upright/i })).toBeFocused();
	await press("Enter");
	await expect(page.getByLabel("How many")).toBeVisible();
	// In the picture: stepped to, moved by keys, removed, brought back.
	const picture = page.getByTestId("viewport");
	await tabTo(page, picture);
	await press("ArrowRight");
	await expect(nextMove(page)).toContainText(/9' 1 9\/16 back/);
	await expect(page.getByTestId("bench-work").getByRole("textbox", { name: /to the first/ })).toHaveValue(
		"9' 1 9/16",
	);
	await press("Delete");
	await expect(page.getByRole("button", { name: /^seam/i })).toHaveCount(0);
	await press("ControlOrMeta+z");
	await expect(page.getByRole("button", { name: /^seam/i })).toHaveCount(1);

	await tabTo(page, page.getByRole("link", { name: "Lay out", exact: true }).last());
	await press("Enter");
	await tabTo(page, page.getByRole("button", { name: "Add lettering" }).last());
	await press("Enter");
	await expect(page.getByLabel("Words", { exact: true })).toHaveValue("NEW LETTERING");
	await tabTo(page, page.getByLabel("Words", { exact: true }));
	await press("ControlOrMeta+a");
	await type("DUNLIN");
	await press("Enter");
	const piece = page.getByTestId("piece-DUNLIN");
	await expect(piece).toBeVisible();
	await tabTo(page, piece);
	await press("ArrowRight");
	await press("ArrowDown");
	await expect(nextMove(page)).toContainText("18 1/16 back, 12 1/16 down.");
	await expect(piece).toHaveAttribute("aria-label", /18 1\/16 back, cap line 12 1\/16 down/);
	// Kept: it is there again after a reload.
	await page.waitForTimeout(1200);
	await page.reload();
	await expect(page.getByTestId("piece-DUNLIN")).toHaveAttribute("aria-label", /18 1\/16 back/);

	await tabTo(page, page.getByRole("link", { name: "Hang it" }));
	await press("Enter");
	for (const end of [/^Front flat/, /^Rear flat/]) {
		await tabTo(page, page.getByLabel(end));
		await type("12 1/16");
	}
	await press("Enter");
	await expect(nextMove(page)).toContainText("Both ends read right.");
	await tabTo(page, page.getByRole("button", { name: "Lock it" }));
	await press("Enter");
	await expect(nextMove(page)).toContainText("Locked");
	await tabTo(page, page.getByRole("link", { name: "Hand over" }).last());
	await press("Enter");
	await tabTo(page, page.getByRole("button", { name: "Issue the plan" }));
	await press("Enter");
	await expect(nextMove(page)).toContainText("Plan 1, issued by Pella.");
});

test("the keys are listed under ?", async ({ page }) => {
	await asCrew(page);
	await openJob(page, /Tideway/, "look-over");
	await expect(page.getByTestId("viewport")).toBeVisible();
	await page.keyboard.press("?");
	await expect(page.getByRole("dialog", { name: "Keys" })).toContainText("Move the chosen piece");
	await page.keyboard.press("Escape");
	await expect(page.getByRole("dialog", { name: "Keys" })).toBeHidden();
});

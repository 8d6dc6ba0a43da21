import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import {
	addLettering,
	asCrew,
	atRest,
	chooseSide,
	nextMove,
	openJob,
	startJob,
	toStage,
	typeLength,
} from "./shop";

/** Boxes of what is in sight, by test id. */
const box = async (page: Page, id: string) => {
	const found = await page.getByTestId(id).first().boundingBox();
	if (!found) throw new Error(`${id} is in sight`);
	return found;
};

/** Every printed figure of the picture is whole: as wide as what it says, within the picture, above the bar. */
async function figuresAreWhole(page: Page, where: string) {
	const cut = await page.evaluate(() => {
		const bar = document.querySelector('[data-testid="next-move"]')?.parentElement?.getBoundingClientRect();
		const picture = document.querySelector('[data-testid="bench-picture"]')?.getBoundingClientRect();
		return [...document.querySelectorAll<HTMLElement>('[data-testid="figure"]')]
			.filter((e) => {
				const own = e.getBoundingClientRect();
				const canvas = document.createElement("canvas").getContext("2d");
				const style = getComputedStyle(e);
				if (canvas) canvas.font = `${style.fontWeight} ${style.fontSize} "B612 Mono"`;
				const text = e instanceof HTMLInputElement ? e.value : (e.textContent ?? "");
				// The space of a mixed number is drawn narrower than the typeface's own.
				const spaces = (text.match(/ /g) ?? []).length * Number.parseFloat(style.fontSize) * 0.3;
				const needs = (canvas?.measureText(text).width ?? 0) - spaces;
				return (
					needs > own.width + 1 ||
					(bar && own.bottom > bar.top + 1) ||
					(picture && (own.left < picture.left - 1 || own.right > picture.right + 1))
				);
			})
			.map((e) => (e instanceof HTMLInputElement ? e.value : e.textContent));
	});
	expect(cut, where).toEqual([]);
}

const DESKS = [
	{ width: 1280, height: 800 },
	{ width: 1024, height: 768 },
	{ width: 1024, height: 700 },
	{ width: 1600, height: 900 },
];

test("the bench: head of 80 px, picture and work in sight together, nothing behind the bar, no figure cut", async ({
	page,
}) => {
	test.setTimeout(120_000);
	await asCrew(page);
	await startJob(page, "Turnstone Removals", "inches to 1/16", "Delivery box");
	// Figures as long as any that is printed.
	await typeLength(page, /Length along the top rail/, "53' 11 15/16");
	await typeLength(page, /Height at the front/, "8' 10 13/16");
	await toStage(page, "Lay out");
	await addLettering(page, "TURNSTONE");
	await page.getByRole("tab", { name: "Place" }).click();
	await typeLength(page, /down to the cap line/, "3' 11 15/16");
	await typeLength(page, /to the first letter/, "16' 10 15/16");
	const own = page.url();
	const views: [string, (page: Page) => Promise<void>][] = [
		["own", async (page) => void (await page.goto(own))],
		["look over", (page) => openJob(page, /Tideway/, "look-over")],
		["lay out", (page) => openJob(page, /Tideway/, "lay-out")],
		["hand over", (page) => openJob(page, /Tideway/, "hand-over")],
		[
			"a rear",
			async (page) => {
				await openJob(page, /Gannet/, "look-over");
				await chooseSide(page, /rear/);
			},
		],
	];
	for (const size of DESKS) {
		await page.setViewportSize(size);
		for (const [name, go] of views) {
			const where = `${name} at ${size.width} × ${size.height}`;
			await go(page);
			await expect(page.getByTestId("bench-work")).toBeVisible();
			await atRest(page);
			const head = await page.getByRole("navigation", { name: "Stages of the job" }).boundingBox();
			expect((head?.y ?? 999) + (head?.height ?? 0), where).toBeLessThanOrEqual(80.5);
			const [picture, work] = [await box(page, "bench-picture"), await box(page, "bench-work")];
			const bar = await page.getByTestId("next-move").locator("..").boundingBox();
			expect(work.y + work.height, where).toBeLessThanOrEqual((bar?.y ?? 0) + 1);
			expect((bar?.y ?? 0) + (bar?.height ?? 0), where).toBeLessThanOrEqual(size.height + 1);
			const beside = work.x > picture.x + 10;
			if (beside) {
				const share = work.width / (size.width - 48);
				expect(share, where).toBeGreaterThan(0.44);
				expect(share, where).toBeLessThan(0.56);
			} else if (size.height >= 800 && name !== "own") {
				expect(picture.height, where).toBeGreaterThanOrEqual(300);
				expect(work.height, where).toBeGreaterThanOrEqual(300);
			} else {
				expect(work.height, where).toBeGreaterThanOrEqual(210);
			}
			const page_ = await page.evaluate(() => [
				document.documentElement.scrollWidth,
				document.documentElement.scrollHeight,
			]);
			expect(page_, where).toEqual([size.width, size.height]);
			await figuresAreWhole(page, where);
		}
	}
});

test("figures are typed where they stand; Tab goes on along the tape; what cannot be read is told and nothing moves", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Whimbrel Tents");
	const length = page.getByRole("textbox", { name: /Length along the top rail.*in the picture/ });
	// A figure that came with the shape says so until it is typed or confirmed.
	await expect(length).toHaveAttribute("aria-label", /not measured yet/);
	await expect(nextMove(page)).toContainText("3 of 3 figures are not measured yet.");
	await length.fill("20' 6");
	await length.press("Enter");
	await expect(nextMove(page)).toContainText("2 of 3 figures are not measured yet.");
	await expect(length).not.toHaveAttribute("aria-label", /not measured yet/);
	await page.getByRole("button", { name: "They are right as they stand" }).click();
	await expect(nextMove(page)).toContainText("Measure what is on it");

	await toStage(page, "Lay out");
	await addLettering(page, "WHIMBREL");
	const front = page.getByRole("textbox", { name: /reads at the front flat/ });
	const before = page.getByRole("textbox", {
		name: "From the front edge to the first letter, in the picture",
	});
	await front.fill("twelve");
	await front.press("Enter");
	await expect(page.getByRole("alert").filter({ hasText: "is not a length" })).toBeVisible();
	await expect(front).toHaveValue("twelve");
	await front.fill("30 1/2");
	await front.press("Enter");
	await expect(front).toHaveValue("30 1/2");
	await expect(page.getByRole("textbox", { name: /reads at the rear flat/ })).toHaveValue("30 1/2");
	await before.fill("21 3/16");
	await before.press("Enter");
	// The piece itself has moved: what stands in the field alone may still be on its way.
	await expect(page.getByTestId("piece-WHIMBREL")).toHaveAttribute(
		"aria-label",
		/first letter 21 3\/16 back/,
	);
	await page.reload();
	await expect(before).toHaveValue("21 3/16");
	await expect(front).toHaveValue("30 1/2");
	// Along the tape: both slips, then the chain.
	await front.focus();
	await page.keyboard.press("Tab");
	await expect(page.getByRole("textbox", { name: /reads at the rear flat/ })).toBeFocused();
	await page.keyboard.press("Tab");
	await expect(before).toBeFocused();
	// The rule says the same, as a sentence.
	await page.getByRole("tab", { name: "Place" }).click();
	await expect(page.getByRole("textbox", { name: /to the first letter$/ })).toHaveValue("21 3/16");
	await expect(page.getByRole("textbox", { name: /down to the cap line/ })).toHaveValue("30 1/2");
});

test("quick words: drawn as they are typed, told apart, completed by Tab, kept by Enter and undone", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Redshank Freight");
	await page.getByRole("tab", { name: /^On it/ }).click();
	const words = page.getByLabel("Quick words", { exact: true });
	await words.fill("rivets 46 3/4 evry 4'");
	await expect(page.getByText("“evry” is not understood")).toBeVisible();
	await words.press("Enter");
	await expect(page.getByRole("button", { name: /rivet column/ })).toHaveCount(0);
	await words.fill("rivets 46 3/4 ev");
	await expect(page.getByRole("button", { name: "every Tab" })).toBeVisible();
	await words.press("Tab");
	await expect(words).toHaveValue("rivets 46 3/4 every ");
	await words.pressSequentially("4' x5, 6 down every 3 x13 head 3/8");
	await expect(page.getByText("✓ Enter keeps it.")).toBeVisible();
	// Half a line is still there after the page was loaded again.
	await page.reload();
	await page.getByRole("tab", { name: /^On it/ }).click();
	await expect(words).toHaveValue(/x13 head 3\/8$/);
	await words.press("Enter");
	await expect(page.getByRole("button", { name: /5 rivet columns/ })).toHaveCount(1);
	await expect(page.getByTestId("quick")).toContainText(
		"rivet column 46 3/4 every 4' 0 x5, 6 down every 3 x13 head 3/8",
	);
	await expect(words).toHaveValue("");
	await expect(words).toBeFocused();
	await words.fill("seam every 48");
	await expect(page.getByText("✓ Enter keeps it.")).toBeVisible();
	await words.press("Enter");
	await words.press("Enter");
	await expect(page.getByRole("button", { name: /5 seams/ })).toHaveCount(1);
	await page.getByRole("button", { name: "Undo" }).click();
	await expect(page.getByRole("button", { name: /5 seams/ })).toHaveCount(0);
});

test.describe("on a phone, by touch", () => {
	test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

	test("no stage and no tab is wider than the screen, from 320 to 430 px", async ({ page }) => {
		test.setTimeout(120_000);
		await asCrew(page);
		for (const width of [320, 390, 430]) {
			await page.setViewportSize({ width, height: 844 });
			for (const stage of ["look-over", "lay-out", "hinge", "lay-down", "hand-over"]) {
				await openJob(page, /Tideway/, stage);
				await expect(nextMove(page)).toBeVisible();
				const fits = async (tab: string) => {
					await atRest(page);
					const wide = await page.evaluate(() => document.documentElement.scrollWidth);
					expect(wide, `${stage}, ${tab}, ${width} px`).toBeLessThanOrEqual(width);
				};
				await fits("as it opens");
				for (const tab of await page.getByRole("tab").all()) {
					await tab.click();
					await fits((await tab.textContent()) ?? "");
				}
				const list = page.getByRole("combobox", {
					name: stage === "hinge" ? "Hinge" : "Lay down",
					exact: true,
				});
				if (stage !== "hinge" && stage !== "lay-down") continue;
				for (const value of await list
					.locator("option")
					.evaluateAll((all) => all.map((o) => (o as HTMLOptionElement).value))) {
					await list.selectOption(value);
					await fits(value);
				}
			}
		}
	});

	test("hinge: field, tape and keys are in sight together, targets of 64 px, half a reading survives a reload", async ({
		page,
	}) => {
		await asCrew(page, "Odd");
		await openJob(page, /Limpet/, "hinge");
		await expect(nextMove(page)).toContainText("Read the tape");
		const inSight = async () => {
			const bar = await page.getByTestId("next-move").locator("..").boundingBox();
			for (const target of await page
				.locator(".floor fieldset button, .floor input, [data-testid=inch-tape]")
				.all()) {
				const own = await target.boundingBox();
				expect(own?.y ?? -1).toBeGreaterThanOrEqual(0);
				expect((own?.y ?? 0) + (own?.height ?? 999)).toBeLessThanOrEqual((bar?.y ?? 0) + 1);
				expect(own?.height ?? 0).toBeGreaterThanOrEqual(64);
			}
		};
		await inSight();
		await page.getByRole("button", { name: "Keys" }).last().tap();
		await inSight();
		for (const key of ["2", "7"]) await page.getByRole("button", { name: key, exact: true }).tap();
		await expect(page.getByLabel(/^Bow flat/)).toHaveValue("27");
		await page.reload();
		await expect(page.getByLabel(/^Bow flat/)).toHaveValue("27");
	});

	test("lay down: the stroke at hand is in sight, a section is done in one tap, and stays done", async ({
		page,
	}) => {
		await asCrew(page, "Odd");
		await openJob(page, /Limpet/, "lay-down");
		const count = page.getByText(/^1 of \d+$/).first();
		await expect(count).toBeVisible();
		const bar = await page.getByTestId("next-move").locator("..").boundingBox();
		const picture = await page.getByRole("img", { name: /stroke 1 of/ }).boundingBox();
		expect((picture?.y ?? 0) + (picture?.height ?? 999)).toBeLessThanOrEqual(bar?.y ?? 0);
		await page.getByRole("button", { name: "Section done" }).tap();
		await expect(page.getByRole("button", { name: /^(Next section|It lies)$/ })).toBeVisible();
		await page.reload();
		await expect(page.getByRole("button", { name: /^(Next section|It lies)$/ })).toBeVisible();
	});
});

test("what is taken away leaves the focus at the work; a dialog opens on its first field; the screen is set for glare and dark", async ({
	page,
}) => {
	await asCrew(page);
	await startJob(page, "Plover Plant");
	await page.getByRole("tab", { name: /^On it/ }).click();
	await page.getByLabel("Quick words").fill("lamp 6 back 20 down amber");
	await page.getByLabel("Quick words").press("Enter");
	await page.getByRole("region", { name: "lamp" }).getByRole("button", { name: "Remove" }).click();
	await expect(page.getByRole("region", { name: "lamp" })).toHaveCount(0);
	expect(await page.evaluate(() => document.activeElement?.tagName)).not.toBe("BODY");
	const paper = () =>
		page.evaluate(() => getComputedStyle(document.body).getPropertyValue("--color-paper").trim());
	const usual = await paper();
	await page.getByRole("button", { name: "Keys and screen" }).click();
	await page.getByRole("radio", { name: "For a dark bay" }).click();
	const dark = await paper();
	await page.reload();
	expect(await paper()).toBe(dark);
	await page.getByRole("button", { name: "Keys and screen" }).click();
	await page.getByRole("radio", { name: /For glare/ }).click();
	expect(new Set([usual, dark, await paper()]).size).toBe(3);
	await page.getByRole("radio", { name: "As usual" }).click();
	await page.getByRole("button", { name: "Close" }).click();
	await page.goto("/");
	await page.getByRole("button", { name: "Start a job" }).click();
	await expect(page.getByLabel("Whom is it for?")).toBeFocused();
});

for (const screen of ["glare", "dark"]) {
	test(`set for ${screen}, every stage still passes the rules of contrast`, async ({ page }) => {
		await asCrew(page);
		await page.addInitScript((s) => localStorage.setItem("windrift.screen", s), screen);
		for (const stage of ["look-over", "lay-out", "hinge", "lay-down", "hand-over"]) {
			await openJob(page, /Tideway/, stage);
			await expect(nextMove(page)).toBeVisible();
			await atRest(page);
			const found = await new AxeBuilder({ page }).withRules(["color-contrast"]).analyze();
			const told = found.violations.flatMap((v) =>
				v.nodes.map((n) => `${stage}: ${n.html.slice(0, 140)} ${n.any[0]?.message}`),
			);
			expect(told).toEqual([]);
		}
	});
}

for (const size of [
	{ width: 1280, height: 800 },
	{ width: 640, height: 400 },
	{ width: 390, height: 844 },
]) {
	test(`by Tab at ${size.width} × ${size.height}: what has the focus is never under the picture or the bar`, async ({
		page,
	}) => {
		await page.setViewportSize(size);
		await asCrew(page);
		await openJob(page, /Tideway/, "lay-out");
		await page.getByRole("tab", { name: "Place" }).click();
		await expect(page.getByRole("group", { name: "Where it goes" })).toBeVisible();
		await page.getByRole("tab", { name: "Place" }).focus();
		let met = 0;
		for (let n = 0; n < 22; n++) {
			await page.keyboard.press("Tab");
			const hidden = await page.evaluate(() => {
				const own = document.activeElement;
				if (!own?.closest('[data-testid="bench-work"]') || own.matches('[role="tabpanel"], [data-testid]'))
					return null;
				const box = own.getBoundingClientRect();
				const middle = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
				return own.contains(middle) || middle?.contains(own) ? "" : own.outerHTML.slice(0, 120);
			});
			if (hidden === null) continue;
			met++;
			expect(hidden).toBe("");
		}
		expect(met).toBeGreaterThan(6);
	});
}

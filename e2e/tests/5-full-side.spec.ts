import { randomUUID } from "node:crypto";
import { expect, test } from "@playwright/test";
import { asCrew, signIn, toStage } from "./shop";

test("a 53 ft side with 40 pieces and 600 rivets is still laid out, moved and read", async ({
	page,
	request,
}) => {
	test.setTimeout(120_000);
	const lead = await signIn(request);
	const shop = await (await request.get("/api/shop")).json();
	const post = async (path: string, data: unknown) => {
		const headers = { "Crew-Id": lead, "Edit-Id": randomUUID() };
		const answer = await request.post(`/api${path}`, { data, headers });
		expect(answer.ok(), await answer.text()).toBe(true);
		return answer.json();
	};
	const job = await post("/jobs", {
		id: randomUUID(),
		customer: "Full Board",
		title: "",
		vehicle_kind: "semi_trailer",
		unit: "inch_sixteenth",
	});
	const side = job.sides[0].id;
	const rivets = {
		kind: "rivets",
		form: {
			form: "heads",
			first_mm: "8",
			pitch_mm: "31",
			columns: 20,
			first_head_mm: "3",
			head_pitch_mm: "3 1/4",
			heads: 30,
			head_mm: "7/16",
		},
	};
	await post(`/sides/${side}/features`, { id: randomUUID(), spec: rivets });
	for (let n = 0; n < 40; n++) {
		const spec = {
			art: {
				is: "lettering",
				text: `Harbour Bay ${n}`,
				typeface: shop.typefaces[n % shop.typefaces.length].id,
				size: { by: "overall_width", width_mm: "7'" },
				colour: "#14524d",
			},
			place: {
				by: "rules",
				along: { rule: "from_front", distance_mm: `${8 + (n % 5) * 120}`, to: "first_letter" },
				down: { rule: "from_datum", distance_mm: `${8 + Math.floor(n / 5) * 12}`, to: "cap_line" },
				angle: { rule: "along_datum" },
			},
		};
		await post(`/sides/${side}/pieces`, { id: randomUUID(), spec });
	}
	await asCrew(page);
	await page.goto(`/jobs/${job.id}/lay-out?side=${side}`);
	await toStage(page, "Lay out");
	await expect(page.getByRole("radiogroup", { name: "Pieces on this side" }).getByRole("radio")).toHaveCount(
		40,
	);
	const piece = page.getByTestId("piece-Harbour Bay 37");
	await piece.focus();
	await page.keyboard.press("ArrowLeft");
	await expect(piece).toHaveAttribute("aria-label", /20' 7 15\/16 back/);
	await expect(page.getByTestId("readings")).toBeVisible();
	expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1280);
	if (process.env.WINDRIFT_LOOK) await page.screenshot({ path: process.env.WINDRIFT_LOOK });
});

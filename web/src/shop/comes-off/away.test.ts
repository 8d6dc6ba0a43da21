import { expect, test } from "vitest";
import { away } from "./away";

test("how far a day is, is said as people say it", () => {
	expect([0, 1, 59, 90, 365, 1826, -3, -400].map(away)).toEqual([
		"today",
		"in 1 day",
		"in 59 days",
		"in 3 months",
		"in 12 months",
		"in 5 years",
		"3 days late",
		"13 months late",
	]);
});

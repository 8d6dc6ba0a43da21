import { expect, test, vi } from "vitest";
import type { Drawing } from "../drawing/frame";

vi.stubGlobal("matchMedia", () => ({ matches: true, addEventListener() {}, removeEventListener() {} }));
const { divide } = await import("./Bench");

const body = (w: number, h: number) => ({ bounds: [0, 0, w, h] }) as Drawing;

test("a 53 ft side has the work below it, a door beside it", () => {
	expect(divide(body(16_154, 2_700), 1232, 640).beside).toBe(false);
	expect(divide(body(900, 1_200), 1232, 640).beside).toBe(true);
});

test("under a long side the work keeps 300 px, and the picture as much, where the screen has them", () => {
	const { height } = divide(body(7_315, 2_400), 1232, 648);
	expect(height).toBeGreaterThanOrEqual(300);
	expect(648 - height).toBeGreaterThanOrEqual(300);
});

test("beside a tall side the work has about half the width", () => {
	const { beside, width } = divide(body(2_400, 2_500), 976, 540);
	expect(beside).toBe(true);
	expect(width / 976).toBeGreaterThanOrEqual(0.45);
	expect(width / 976).toBeLessThanOrEqual(0.55);
});

/** What the measuring scripts have in common: the demo's door, and frames counted in Chromium's own trace. */
import { randomUUID } from "node:crypto";

/** Signs in at the demo; answers how it is written to, and read. */
export async function door(url) {
	const signed = await fetch(`${url}/api/sign-in`, {
		method: "POST",
		headers: { "Content-Type": "application/json" },
		body: JSON.stringify({ name: "Maren" }),
	});
	const cookie = (signed.headers.get("set-cookie") ?? "").split(";")[0];
	const call = async (path, init) => {
		const answer = await fetch(`${url}/api${path}`, init);
		if (!answer.ok) throw new Error(await answer.text());
		return answer.json();
	};
	const post = (path, body, more = {}) => {
		const headers = { Cookie: cookie, "Edit-Id": randomUUID(), "Content-Type": "application/json", ...more };
		return call(path, { method: "POST", headers, body: JSON.stringify(body) });
	};
	return { post, get: (path) => call(path, { headers: { Cookie: cookie } }) };
}

/** Gestures on a page under Chromium's trace. */
export async function tracing(page) {
	const session = await page.context().newCDPSession(page);
	/** Runs a gesture under trace; answers frames a second and the longest time between two frames, ms. */
	const traced = async (gesture) => {
		const events = [];
		const collect = ({ value }) => events.push(...value);
		session.on("Tracing.dataCollected", collect);
		await session.send("Tracing.start", {
			traceConfig: {
				includedCategories: [
					"devtools.timeline",
					"disabled-by-default-devtools.timeline.frame",
					"blink.user_timing",
				],
			},
			transferMode: "ReportEvents",
		});
		await page.evaluate(() => performance.mark("gesture-begins"));
		await gesture();
		await page.evaluate(() => performance.mark("gesture-ends"));
		const done = new Promise((resolve) => session.once("Tracing.tracingComplete", resolve));
		await session.send("Tracing.end");
		await done;
		session.off("Tracing.dataCollected", collect);
		const mark = (name) => events.find((e) => e.name === name)?.ts;
		const [from, to] = [mark("gesture-begins"), mark("gesture-ends")];
		const frames = events
			.filter((e) => e.name === "DrawFrame" && e.ts >= from && e.ts <= to)
			.map((e) => e.ts)
			.sort((a, b) => a - b);
		const gaps = frames.slice(1).map((ts, n) => (ts - frames[n]) / 1000);
		return {
			frames: frames.length,
			perSecond: (frames.length - 1) / ((frames.at(-1) - frames[0]) / 1e6),
			longest: Math.max(...gaps),
		};
	};

	/** Moves of the pointer as a hand makes them: 120 a second for so long, none waiting for the frame before. */
	const hand = async (ms, event) => {
		const begun = Date.now();
		while (Date.now() - begun < ms) {
			session.send("Input.dispatchMouseEvent", event((Date.now() - begun) / ms)).catch(() => {});
			await new Promise((r) => setTimeout(r, 8));
		}
	};
	return { traced, hand };
}

/** A line of what was counted. */
export const report = (what, r) =>
	console.log(
		`${what.padEnd(6)} ${r.perSecond.toFixed(1)} frames a second over ${r.frames} frames, longest wait ${r.longest.toFixed(1)} ms`,
	);

/**
 * How long a shop of ten thousand jobs waits: the yard's first page and one far down, a search by customer, plate, words and year, a job opened; each asked 60
 * times, one after the other, then by eight who ask at once.
 *
 * usage: tools/ten-thousand     (which starts everything)
 */
import { door } from "./traced.mjs";

const { get } = await door(process.env.WINDRIFT_URL);
const finished = (await get("/jobs?finished=true")).jobs;
const open = (await get("/jobs")).jobs;
const some = (list, n) => list[n % list.length];
const BIRDS = ["avocet", "bittern", "dunlin", "heron", "kestrel", "merlin"];
const TRADES = ["bakery", "haulage", "gardens", "glass", "removals"];
const year = new Date().getFullYear();
const ASKS = {
	"the yard": (n) => (n % 2 ? "/jobs" : `/jobs?page=${n % 12}`),
	"finished jobs": (n) => `/jobs?finished=true&page=${n % 150}`,
	"by customer": (n) => `/jobs?find=${some(BIRDS, n)}%20${some(TRADES, n)}`,
	"by plate": (n) => `/jobs?find=wd${String(n % 100).padStart(2, "0")}${n + 100}`,
	"by word and year": (n) => `/jobs?find=${some(BIRDS, n)}%20${year - (n % 3)}`,
	"nothing found": (n) => `/jobs?find=nobody${n}`,
	"a job opened": (n) => `/jobs/${some(n % 2 ? open : finished, n).id}`,
	"its side": (n) => `/sides/${some(n % 2 ? open : finished, n).sides[0].id}`,
};
const at = (times, share) => [...times].sort((a, b) => a - b)[Math.floor(share * times.length)].toFixed(0);
for (const [name, path] of Object.entries(ASKS)) {
	const ask = async (n) => {
		const before = performance.now();
		await get(path(n));
		return performance.now() - before;
	};
	const alone = [];
	for (let n = 0; n < 60; n++) alone.push(await ask(n));
	const together = [];
	const eight = Array.from({ length: 8 }, async (_, k) => {
		for (let n = 0; n < 15; n++) together.push(await ask(8 * n + k));
	});
	await Promise.all(eight);
	console.log(
		`${name.padEnd(18)} p50 ${at(alone, 0.5)} ms, p95 ${at(alone, 0.95)} ms; eight at once p50 ${at(together, 0.5)} ms, p95 ${at(together, 0.95)} ms`,
	);
}

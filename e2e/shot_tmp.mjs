import { chromium } from "@playwright/test";
import { CHROMIUM } from "./browser.mjs";
// usage: node shot_tmp.mjs OUT W H JOBREGEX STAGE [tab] [side]
const [out, w, h, job, stage, tab, sideName] = process.argv.slice(2);
const url = process.env.WINDRIFT_URL ?? "http://127.0.0.1:8430";
const browser = await chromium.launch(CHROMIUM);
const context = await browser.newContext({ viewport: { width: +w, height: +h }, hasTouch: +w < 1100 });
const page = await context.newPage();
page.on("pageerror", (e) => console.log("PAGEERROR", e.message));
const shop = await (await page.request.get(url + "/api/shop")).json();
await page.addInitScript((id) => localStorage.setItem("windrift.crew", id), shop.crew[0]?.id ?? "");
let found;
for (let n = 0; !found && n < 9; n++) {
  const yard = await (await page.request.get(`${url}/api/jobs?page=${n}`)).json();
  found = yard.jobs.find((j) => new RegExp(job).test(j.title));
}
const side = sideName ? found.sides.find((s) => new RegExp(sideName).test(s.name)) : (found?.sides.find((s) => s.pieces > 0) ?? found?.sides[0]);
await page.goto(found ? `${url}/jobs/${found.id}/${stage}?side=${side?.id}` : url);
await page.waitForLoadState("networkidle");
if (tab && tab !== "-") { await page.getByRole("tab", { name: new RegExp(tab) }).click(); await page.waitForTimeout(600); }
await page.waitForTimeout(300);
await page.screenshot({ path: out });
console.log(await page.evaluate(() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight, innerWidth, innerHeight].join(" ")));
await browser.close();

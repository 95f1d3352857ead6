// Takes the pictures in docs/screenshots from the demonstration: `node scripts/screenshots.mjs` after a
// debug build. The clock is set, so that the pictures change only when the pages do.
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { served } from "./served.mjs";

const folder = mkdtempSync(join(tmpdir(), "hold-steady-shots-"));
const args = ["demo", "--port", "0", "--data", folder, "--clock-at", "2026-11-25T16:10:00Z"];
const { server, url } = await served("target/debug/hold-steady", args, { ...process.env, TZ: "Europe/Lisbon" });
const laptop = { width: 1280, height: 800 };
const phone = { width: 390, height: 844 };
const risk = "/plan?food=beef-ribeye&thickness=32+mm&bath=57+%C2%B0C&intact=whole&guests=at-risk&ready=20:30&typed_in=c-mm";
const refused = "/plan?food=beef-strip&thickness=32+mm&bath=52+%C2%B0C&intact=whole&guests=at-risk&ready=20:30&typed_in=c-mm";
const tough = "/plan?food=beef-cheek&intact=whole&ready=tomorrow+19:30&typed_in=c-mm";
const egg = "/plan?food=shell-egg-large&use=raw&guests=at-risk&typed_in=c-mm";
const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] });
// The strip steak of this evening, off the board.
const first = await browser.newPage();
await first.goto(`${url}/board`);
const cook = await first.getByRole("link", { name: /Strip steak/ }).last().getAttribute("href");
await first.close();
const shots = [
  ["plan", risk, laptop, "light"],
  ["plan-refused-dark", refused, laptop, "dark"],
  ["plan-phone", risk, phone, "light"],
  ["plan-tough", tough, laptop, "light"],
  ["before-the-bath", "/plan?food=apple&weight=600+g&in_bag=butter,+cinnamon,+brandy&typed_in=c-mm", laptop, "light", "#prep"],
  ["print", cook, { width: 800, height: 1000 }, "light", null, "/print"],
  ["finish-ways", "/finish?food=beef-strip&thickness=38+mm&bath=54+%C2%B0C&typed_in=c-mm", laptop, "dark", ".ways"],
  ["finish", "/finish?food=beef-strip&thickness=38+mm&bath=54+%C2%B0C&sizes=25+mm,+50+mm&guests=Ana+rare,+Ben+60&typed_in=c-mm", laptop, "light"],
  ["cook", cook, laptop, "light"],
  ["cook-phone", cook, phone, "dark"],
  ["board", "/board", laptop, "light"],
  ["bench", "/bath/vessels/019ac900-0000-7000-8000-000000000002?food=1.2+kg", laptop, "light"],
  ["bath-phone", "/bath", phone, "dark", null, null, ".run-alarm a, .run a"],
  ["book", "/book", laptop, "light"],
  ["know", "/how-we-know", laptop, "light"],
  ["kitchen", "/kitchen", laptop, "light"],
  ["plan-asks", "/plan?food=salmon-fillet&ready=20:00&typed_in=c-mm", laptop, "light"],
];
for (const [name, path, viewport, colorScheme, at, then, click] of shots) {
  const page = await browser.newPage({ viewport, colorScheme });
  const depths = { name: "depths", value: at || name === "plan" ? "explore.prepare.steps" : "", url };
  await page.context().addCookies([depths]);
  await page.goto(url + path);
  await page.evaluate(() => document.fonts.ready);
  if (then) await page.goto(page.url() + then);
  if (at) await page.evaluate((selector) => document.querySelector(selector).scrollIntoView({ behavior: "instant" }), at);
  if (click) await page.locator(click).first().click();
  // What the sear adds comes after the answer, and so does the map.
  const seared = page.locator(".seared:visible");
  if (await seared.count()) {
    const seen = await seared.evaluate((el) => el.getBoundingClientRect().top < innerHeight);
    if (seen) await page.locator(".seared-says:not(:empty)").waitFor();
  }
  if (path.startsWith("/plan") && depths.value) await page.locator(".map:visible").waitFor();
  if (at === ".ways") {
    await page.locator(".way").first().waitFor();
    await page.evaluate(() => document.querySelector(".ways").scrollIntoView({ behavior: "instant" }));
  }
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
  await page.close();
}
// What is due rings on every page.
const page = await browser.newPage({ viewport: laptop });
await page.goto(url + cook);
await page.locator("form.act").getByRole("button", { name: "Pulled", exact: true }).click();
await page.locator("#just", { hasText: "Pulled" }).waitFor();
await page.goto(`${url}/book`);
await page.locator("#flash:visible").waitFor();
await page.screenshot({ path: "docs/screenshots/alarm.png" });
await page.close();
server.kill();
// The same kitchen where a network may reach it: whoever comes first lets others in.
let printed = "";
const another = mkdtempSync(join(tmpdir(), "hold-steady-shots-"));
const door = await served("target/debug/hold-steady", [...args.with(4, another), "--proxy", "127.0.0.1", "--still"], { ...process.env, TZ: "Europe/Lisbon" }, (text) => { printed += text; });
const owner = await browser.newPage({ viewport: laptop });
const code = /\b[A-Z2-9]{4}(-[A-Z2-9]{4}){2}\b/;
while (!code.test(printed)) await new Promise((resolve) => { setTimeout(resolve, 50); });
await owner.goto(`${door.url}/welcome?code=${printed.match(code)[0]}`);
await owner.getByLabel("Your name").fill("Marta");
await owner.getByLabel("Choose a password").fill("three blue kettles");
await owner.getByRole("button", { name: "Come in" }).click();
await owner.waitForURL(/\/plan/);
await owner.goto(`${door.url}/people`);
await owner.getByLabel("Their name").fill("Ida");
await owner.getByRole("button", { name: "Write down" }).click();
await owner.getByRole("button", { name: "Make a code for Ida" }).click();
await owner.locator("#code").waitFor();
await owner.evaluate(() => { document.querySelector("#code").textContent = "ABCD-EFGH-JKLM"; });
await owner.screenshot({ path: "docs/screenshots/people.png" });
await browser.close();
door.server.kill();

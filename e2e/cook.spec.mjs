import { readFileSync } from "node:fs";
import { accessible, expect, fits, test } from "./kitchen.mjs";

async function start(page, url, query = "intact=whole") {
  await page.goto(`${url}/plan?${query}`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
}

const tap = (page, name) => page.locator("form.act").getByRole("button", { name, exact: true }).click();

test("one steak from the refrigerator into the book", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await start(page, url);
  await expect(page.locator(".live-what")).toHaveText("Drop it in");
  await accessible(page);
  await page.getByLabel("happened at").fill("2 h 10 ago");
  await tap(page, "Dropped");
  await expect(page.locator("#problem")).toContainText("is not a time");
  await expect(page.getByLabel("happened at")).toHaveValue("2 h 10 ago");
  await page.getByLabel("happened at").fill("130 min ago");
  await tap(page, "Dropped");
  await expect(page.locator(".centre-now")).toHaveText(/^5[345]\.\d °C$/);
  await expect(page.locator("#next-strip")).toContainText("Pull it");
  await accessible(page);
  await page.getByLabel("happened at").fill("5 min ago");
  await tap(page, "Pulled");
  await expect(page.locator(".live-what")).toContainText("pat it dry");
  await tap(page, "Dried");
  // The sear is counted face by face.
  await page.getByRole("button", { name: "Count" }).click();
  await expect(page.locator("#sear-count")).not.toHaveText("0 s");
  await page.getByRole("button", { name: "Turn" }).click();
  await expect(page.locator("#faces")).toHaveValue(/^\d+$/);
  await page.getByRole("button", { name: "Off the heat" }).click();
  await expect(page.locator("#faces")).toHaveValue(/^\d+ \+ \d+$/);
  await expect(page.locator("main")).toContainText("What a sear does to this piece");
  await page.locator("#faces").fill("45 + 50");
  await tap(page, "Seared");
  await expect(page.locator(".log")).toContainText("45 + 50 s");
  await tap(page, "Eaten");
  await page.getByText("as wanted", { exact: true }).click();
  await page.getByText("melting").click();
  await page.getByLabel("A note").fill("Even to the edge");
  await page.getByLabel("Next time").fill("Dry it longer");
  await accessible(page);
  await page.getByRole("button", { name: "Into the book" }).click();
  await expect(page).toHaveURL(/\/book$/);
  const entry = page.locator(".entry").first();
  await expect(entry).toContainText("centre as wanted");
  // A row opens: planned beside done, and all that happened.
  await entry.locator("summary").click();
  await expect(entry).toContainText("Centre as wanted");
  await expect(entry.locator(".entry-log")).toContainText("seared 45 + 50 s");
  await expect(entry).toContainText("Dry it longer");
  await expect(entry.locator("tr", { hasText: "Sear" })).toContainText("45 + 50 s");
  await accessible(page);
});

test("reload, a second tab and a killed server lose nothing", async ({ page, context, kitchen }) => {
  let url = await kitchen.open();
  await start(page, url);
  await page.getByLabel("happened at").fill("40 min ago");
  await tap(page, "Dropped");
  const centre = page.locator(".centre-now");
  await expect(centre).toBeVisible();
  const path = new URL(page.url()).pathname;
  const before = await centre.textContent();
  await page.reload();
  await expect(centre).toHaveText(before ?? "");
  const second = await context.newPage();
  await second.goto(url + path);
  await second.getByRole("button", { name: "Undo dropped" }).click();
  await expect(second.locator(".live-what")).toHaveText("Drop it in");
  // The first tab still shows the drop; tapping there is answered with how things stand.
  await tap(page, "Pulled");
  await expect(page.locator("#problem")).toContainText("needs the drop first");
  await second.getByRole("button", { name: "Put dropped back" }).click();
  // Only what was answered is promised to outlive a power cut.
  await expect(second.locator(".centre-now")).toBeVisible();
  await second.close();
  await kitchen.kill();
  url = await kitchen.open({ clock: "2026-11-25T16:30:00Z" });
  await page.goto(url + path);
  await expect(page.locator(".log")).toContainText("dropped");
  const [was, now] = [before, await centre.textContent()].map((t) => parseFloat(t ?? ""));
  expect(now).toBeGreaterThan(was);
});

test("a tap is corrected and undone", async ({ page, kitchen }) => {
  await start(page, await kitchen.open());
  await page.getByLabel("happened at").fill("1 h ago");
  await tap(page, "Dropped");
  await page.getByLabel("When dropped really happened").fill("16:20");
  await page.getByRole("button", { name: "Correct" }).click();
  await expect(page.locator(".log")).toContainText("corrected from 16:00");
  await page.getByRole("button", { name: "Undo dropped" }).click();
  await expect(page.locator(".log")).toContainText("undone");
  await page.getByRole("button", { name: "Take this cook off the lists" }).click();
  await expect(page).toHaveURL(/\/book$/);
  await page.goBack();
  await page.reload();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("taken off the lists");
  await accessible(page);
  await page.getByRole("button", { name: "Put it back" }).click();
  await expect(page.locator(".log")).toContainText("cook started");
});

test("the clocks run and the centre follows without a reload", async ({ page, kitchen }) => {
  // Two minutes a second.
  await start(page, await kitchen.open({ rate: 120 }));
  await tap(page, "Dropped");
  const clock = page.locator(".live-when .huge");
  const first = await clock.textContent();
  await expect(clock).not.toHaveText(first ?? "");
  const centre = page.locator(".centre-now");
  const cold = parseFloat((await centre.textContent()) ?? "");
  await expect.poll(async () => parseFloat((await centre.textContent()) ?? ""), { timeout: 30_000 }).toBeGreaterThan(cold + 5);
});

test("what has not changed is not put in anew, and focus stays where it is", async ({ page, kitchen }) => {
  const url = await kitchen.open({ rate: 30 });
  await start(page, url);
  await tap(page, "Dropped");
  const centre = page.locator(".centre-now");
  const before = await centre.textContent();
  // Marked by hand: a part that is put in anew has no such mark.
  await page.evaluate(() => { for (const part of document.querySelectorAll("#live, .live-next, .live-centre, #live-more")) part.kept = true; });
  await page.locator("#where-from").focus();
  await expect(centre).not.toHaveText(before, { timeout: 30_000 });
  expect(await page.evaluate(() => [...document.querySelectorAll("#live, .live-next, .live-centre, #live-more")].map((part) => part.kept))).toEqual([true, true, true, true]);
  await expect(page.locator("#where-from")).toBeFocused();
});

test("the tab counts down, dinner is said to have moved, and what changes is read out once", async ({ page, kitchen }) => {
  await start(page, await kitchen.open());
  await expect(page).toHaveTitle(/^in \d.* min Drop it in · .* · Hold Steady$/);
  await expect(page.locator(".dinner")).toHaveCount(0);
  const said = page.locator("#said");
  await expect(said).toHaveText("");
  // Half an hour before the plan had it, which counts in whole minutes upward.
  await tap(page, "Dropped");
  await expect(page).toHaveTitle(/Pull it · /);
  await expect(page.locator(".dinner")).toHaveText(/^Dinner is now \d\d:\d\d, (30|31) min early\.$/);
  await expect(said).toHaveText(/^Pull it\. /);
  expect(await page.evaluate(() => document.activeElement.id)).toBe("main");
  await tap(page, "Pulled");
  await page.getByLabel("happened at").fill("");
  await tap(page, "Eaten");
  // What is left to do is to say how it was.
  await page.getByRole("link", { name: "How did it come out?" }).click();
  await expect(page.getByRole("button", { name: "Into the book" })).toBeInViewport();
});

test("on a phone the next step is under the thumb", async ({ page, kitchen }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await start(page, await kitchen.open());
  await fits(page);
  const button = page.locator("form.act .btn-primary");
  await expect(button).toBeInViewport();
  expect((await button.boundingBox()).height).toBeGreaterThanOrEqual(48);
  await button.click();
  await expect(page.locator(".centre-now")).toBeVisible();
  await fits(page);
  await accessible(page);
});

test("the book travels: JSON into an empty kitchen, twice; CSV for a table", async ({ page, kitchen }) => {
  const url = await kitchen.open({ demo: true });
  await page.goto(`${url}/book`);
  await expect(page.locator(".entry")).toHaveCount(16);
  const titles = await page.locator(".entry-title").allTextContents();
  const download = async (name) => {
    const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name }).click()]);
    return file.path();
  };
  const json = await download("JSON");
  expect(readFileSync(await download("CSV"), "utf8").trim().split("\n").length).toBeGreaterThanOrEqual(14);
  await kitchen.kill();
  // The same folder holds the demonstration's file only; `serve` begins an empty kitchen beside it.
  const empty = await kitchen.open();
  await page.goto(`${empty}/book`);
  await expect(page.locator(".empty")).toBeVisible();
  await accessible(page);
  const bring = async () => {
    await page.locator("#import-file").setInputFiles({ name: "book.json", mimeType: "application/json", buffer: readFileSync(json) });
    await page.getByRole("button", { name: "Import" }).click();
  };
  await bring();
  await expect(page.getByRole("status")).toContainText("18 new");
  expect(await page.locator(".entry-title").allTextContents()).toEqual(titles);
  await bring();
  await expect(page.getByRole("status")).toContainText("0 new, 0 with further records, 18 already here");
  await expect(page.locator(".entry")).toHaveCount(16);
});

test("lost pages say where to go", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  for (const path of ["/cook/nonsense", "/nowhere"]) {
    await page.goto(url + path);
    await expect(page.getByRole("heading", { level: 1 })).toContainText("There is no such");
    await accessible(page);
  }
  await page.goto(`${url}/cook`);
  await expect(page.locator(".empty")).toContainText("Nothing is under way");
  await accessible(page);
});

test("the book is looked through, and a cook of it is planned again", async ({ page, kitchen }) => {
  const url = await kitchen.open({ demo: true });
  await page.goto(`${url}/book`);
  const all = await page.locator(".entry").count();
  expect(all).toBeGreaterThan(2);
  await accessible(page);
  const first = (await page.locator(".entry-title").first().textContent()).split(",")[0];
  await page.getByLabel("Food or title").fill(first);
  await page.getByRole("button", { name: "Look" }).click();
  for (const title of await page.locator(".entry-title").allTextContents()) expect(title).toContain(first);
  await page.locator(".entry summary").first().click();
  await expect(page.locator(".entry-log").first()).toContainText("dropped");
  await accessible(page);
  await page.getByRole("link", { name: "Cook again" }).first().click();
  await expect(page).toHaveURL(/\/plan\?/);
  await expect(page.locator("#f-food")).toHaveValue(new RegExp(first, "i"));
  // What is about that piece is asked anew.
  await page.goto(`${url}/book?food=zzz`);
  await expect(page.locator("main")).toContainText("Nothing in the book is like that");
  await page.goto(`${url}/book?from=last+week`);
  await expect(page.getByRole("alert")).toContainText("From: “last week” is not a day");
  await expect(page.locator(".entry")).toHaveCount(all);
  await page.goto(`${url}/book?verdict=refused`);
  for (const level of await page.locator(".entry-level").allTextContents()) expect(level).toBe("not safe");
});

test("a bath that was off is told in three presses and a value, and what is refused stays", async ({ page, kitchen }) => {
  let url = await kitchen.open({ clock: "2026-11-25T17:00:00Z" });
  await page.goto(`${url}/plan?food=chicken-breast&thickness=30+mm&bath=60+%C2%B0C&guests=at-risk&typed_in=c-mm`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  await expect(page.locator("#just")).toContainText("Dropped");
  await kitchen.kill();
  url = await kitchen.open({ port: kitchen.port, clock: "2026-11-25T17:40:00Z" });
  await page.reload();
  const due = await page.locator(".live-when time, .live-when").first().innerText();
  const wrong = page.getByRole("dialog", { name: "Something’s wrong" });
  await page.getByRole("button", { name: "Something’s wrong" }).click();
  await wrong.getByRole("button", { name: "It was off" }).click();
  // Without what it reads it is refused, and what was typed is there.
  const again = page.locator(".off-again");
  await expect(again).toContainText("What it reads now says how far it fell");
  await accessible(page);
  await again.getByLabel("Off from").fill("15 min ago");
  await again.getByLabel("and reads now").fill("55");
  await again.getByRole("button", { name: "It was off" }).click();
  await expect(again).toHaveCount(0);
  await expect(page.locator(".live-when").first()).not.toHaveText(due);
  await fits(page);
});

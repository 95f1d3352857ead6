// What is due is heard on every page until it is done: by screen, by keyboard, while somebody types, on the wall.
import { accessible, expect, fits, heard, test } from "./kitchen.mjs";

// A steak that went in at six, and it is ten past eight: it was due for three quarters of an hour.
async function late(page, kitchen) {
  const url = await kitchen.open({ clock: "2026-11-25T17:00:00Z" });
  await page.goto(`${url}/plan?food=beef-strip&thickness=25+mm&bath=56+%C2%B0C&intact=whole&typed_in=c-mm`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  await expect(page.locator("#just")).toContainText("Dropped");
  const cook = page.url();
  await kitchen.kill();
  return { cook, url: await kitchen.open({ port: kitchen.port, clock: "2026-11-25T19:10:00Z" }) };
}

test("a pull that is late rings on every page of every screen until it is heard there, or done", async ({ page, kitchen, browser }) => {
  const { cook, url } = await late(page, kitchen);
  const sheet = page.locator("#flash");
  for (const path of ["/foods", "/bath", "/board", "/finish", "/kitchen", "/how-we-know"]) {
    await page.goto(url + path);
    await expect(sheet).toBeVisible();
  }
  // Named, announced once by taking the focus, and nothing is covered.
  await expect(sheet).toContainText("Strip steak, 25 mm");
  await expect(sheet).toContainText("at its centre now");
  await expect(sheet).toBeFocused();
  await expect(page.locator("#flash-aloud")).toHaveText("");
  await expect(page).toHaveTitle(/⚠/);
  await accessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await fits(page);
  await page.setViewportSize({ width: 1280, height: 800 });
  // Its other tabs are silent with it; another screen is not.
  const tab = await page.context().newPage();
  await tab.goto(`${url}/book`);
  const other = await (await browser.newContext()).newPage();
  await other.goto(`${url}/book`);
  await expect(tab.locator("#flash")).toBeVisible();
  await heard(page);
  await expect(page).not.toHaveTitle(/⚠/);
  await expect(tab.locator("#flash")).toBeHidden({ timeout: 20_000 });
  await expect(other.locator("#flash")).toBeVisible();
  await page.reload();
  await expect(page.locator("#alarms[hx-trigger*=every]")).toHaveCount(1);
  await expect(sheet).toBeHidden();
  // Done, it is silent everywhere.
  await other.locator("#flash").getByRole("link", { name: "Go there" }).click();
  await expect(other).toHaveURL(cook.replace(/^https?:\/\/[^/]+/, url));
  await other.locator("form.act").getByRole("button", { name: "Pulled", exact: true }).click();
  await expect(other.locator("#just")).toContainText("Pulled");
  await expect(other.locator("#flash")).not.toContainText("Pull it");
  await tab.close();
  await other.close();
});

test("it comes and goes, and nothing moves under the finger that is on its way", async ({ page, kitchen }) => {
  const { cook } = await late(page, kitchen);
  const [sheet, pulled] = [page.locator("#flash"), page.locator("form.act").getByRole("button", { name: "Pulled", exact: true })];
  const at = async () => (await pulled.boundingBox()).y;
  for (const [size, scrolled] of [[{ width: 1280, height: 800 }, 0], [{ width: 1280, height: 800 }, 60], [{ width: 800, height: 1200 }, 0]]) {
    await page.setViewportSize(size);
    // No list of alarms comes before the page was looked at.
    let go;
    const looked = new Promise((resolve) => { go = resolve; });
    await page.context().clearCookies({ name: "screen" });
    await page.route("**/alarms", async (route) => { await looked; await route.continue(); });
    await page.goto(cook.replace(/^https?:\/\/[^/]+/, kitchen.url));
    await page.evaluate((y) => scrollTo(0, y), scrolled);
    // A hand is on the page.
    await page.locator("h1").click();
    const before = await at();
    go();
    await expect(sheet).toBeVisible();
    expect(Math.abs((await at()) - before)).toBeLessThan(2);
    await heard(page);
    expect(Math.abs((await at()) - before)).toBeLessThan(2);
    await page.unroute("**/alarms");
  }
  // Where it is there as the page comes, it covers nothing of it.
  await page.context().clearCookies({ name: "screen" });
  await page.reload();
  await expect(sheet).toBeVisible();
  const [lowest, top] = await page.evaluate(() => ["#flash", "header"].map((q, i) => document.querySelector(q).getBoundingClientRect()[i ? "top" : "bottom"]));
  expect(top).toBeGreaterThanOrEqual(lowest - 1);
});

test("whoever types goes on typing and is told; by keyboard it is heard, and the focus comes back", async ({ page, kitchen }) => {
  const { url } = await late(page, kitchen);
  // Nothing rings before the list of alarms has come.
  await page.route("**/alarms", async (route) => { await page.locator("input[name=food]").first().focus(); await route.continue(); });
  await page.goto(`${url}/foods`);
  const box = page.locator("input[name=food]");
  await box.focus();
  await expect(page.locator("#flash")).toBeVisible();
  await expect(box).toBeFocused();
  await page.keyboard.type("steak ");
  await expect(box).toHaveValue("steak ");
  await expect(page.locator("#flash-aloud")).toContainText("Strip steak");
  await page.unroute("**/alarms");
  // Another page, nothing typed: the sheet has the focus, Escape silences it and gives the focus back.
  await page.goto(`${url}/how-we-know`);
  await expect(page.locator("#flash")).toBeFocused();
  await expect(async () => {
    if (await page.locator("#flash").isVisible()) await page.keyboard.press("Escape");
    await expect(page.locator("#flash")).toBeHidden({ timeout: 500 });
  }).toPass();
  expect(await page.evaluate(() => document.activeElement.closest("#flash"))).toBeNull();
});

test("a wall that cannot be heard says so over the whole screen until it is pressed; water without food calls nobody", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  // A cooler filled, and never read: nothing lies in it.
  await page.goto(`${url}/bath`);
  await page.getByRole("link", { name: "cooler" }).first().click();
  await page.getByLabel("Its name").fill("the cooler");
  await page.getByRole("button", { name: "Keep it" }).click();
  await page.getByRole("button", { name: /It is filled/ }).click();
  await expect(page).toHaveURL(/\/bath\/runs\//);
  await page.goto(`${url}/board/kiosk`);
  await expect(page.locator(".lane")).toContainText("the cooler");
  await expect(page.locator("#alarms[hx-trigger*=every]")).toHaveCount(1);
  await expect(page.locator("#alarms li")).toHaveCount(0);
  const press = page.locator("#wall-sound");
  await expect(press).toBeVisible();
  await press.click();
  await expect(press).toBeHidden();
  await expect(page.locator("#sound")).toHaveText("Sound is on here");
});

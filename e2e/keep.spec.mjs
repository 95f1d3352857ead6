// Cooked ahead: chilled, put into a freezer, its freezer read too warm, thawed, eaten, in the book.
import { accessible, expect, fits, test } from "./kitchen.mjs";

test("what is chilled is put away, kept with its last day, and comes into the book once it is eaten", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  let url = await kitchen.open({ clock: "2026-11-25T15:00:00Z" });
  await page.goto(`${url}/keep`);
  await expect(page.locator("main")).toContainText("Nothing is kept.");
  await page.getByLabel("It is").selectOption("freezer");
  await page.getByLabel("Its name").fill("chest by the door");
  await page.getByRole("button", { name: "Keep it" }).click();
  await page.getByRole("link", { name: "chest by the door" }).click();
  await page.getByLabel("It reads").fill("warm");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator("#e-k-degrees")).toContainText("“warm”");
  await expect(page.getByLabel("It reads")).toHaveValue("warm");
  await page.getByLabel("It reads").fill("-9");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator("main")).toContainText("warmer than -18 °C since");
  await accessible(page);

  await page.goto(`${url}/plan?food=chicken-breast&thickness=30+mm&bath=62+%C2%B0C&typed_in=c-mm`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
  const path = new URL(page.url()).pathname;
  const tap = async (name, ago) => {
    if (ago) await page.getByLabel("happened at").fill(ago);
    await page.locator("form.act").getByRole("button", { name, exact: true }).click();
  };
  await tap("Dropped", "5 h ago");
  await expect(page.locator(".live-what")).toContainText("Pull it");
  await tap("Pulled", "90 min ago");
  await page.getByText("Not eaten now?").click();
  await page.getByRole("button", { name: /^Chilled to/ }).click();
  await expect(page.locator(".live-what")).toContainText("Keep it sealed");
  await expect(page.locator(".live-expect").first()).toContainText("Use it by Sun 29 Nov");
  await page.getByLabel("It is kept in").selectOption({ label: "chest by the door" });
  await page.getByRole("button", { name: "Put away there" }).click();
  await expect(page.locator(".live-what")).toHaveText("Keep it frozen");
  await expect(page.locator(".keep-form")).toContainText("Frozen, in chest by the door since 16:00");
  // Weeks later it still keeps, and the board has nothing to do.
  await kitchen.kill();
  url = await kitchen.open({ clock: "2026-12-20T08:00:00Z" });
  await page.goto(`${url}/keep`);
  await expect(page.locator(".kept")).toContainText("the day it comes out is the first of 4 it has left");
  await page.setViewportSize({ width: 390, height: 844 });
  await fits(page);
  await accessible(page);
  await page.goto(url + path);
  await page.getByLabel("It is kept in").selectOption("refrigerator");
  await page.getByRole("button", { name: "Put away there" }).click();
  await expect(page.locator(".live-expect").first()).toContainText("Use it by Wed 23 Dec");
  await tap("Eaten");
  await page.goto(`${url}/book`);
  await expect(page.locator("main")).toContainText("Chicken breast");
  await page.goto(`${url}/keep`);
  await expect(page.locator("main")).toContainText("Nothing is kept.");
});

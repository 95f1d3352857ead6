// Two people at one tablet that the owner enrolled: a name by one tap, a PIN for corrections, “who?” again when nobody touches it.
import { accessible, expect, fits, test } from "./kitchen.mjs";

const PASSWORD = "three blue kettles";
const PIN = "402817";

const welcome = async (page, url, code, password, name) => {
  await page.goto(`${url}/welcome`);
  await page.getByLabel("The code").fill(code);
  await page.getByRole("button", { name: "Go on" }).click();
  if (name) await page.getByLabel("Your name").fill(name);
  await page.getByLabel("Choose a password").fill(password);
  await page.getByRole("button", { name: "Come in" }).click();
  await expect(page).toHaveURL(/\/plan/);
};

test("two people on one tablet: named by a tap, proved by a PIN, asked again when nobody touches it", async ({ page, kitchen, browser }) => {
  await kitchen.open({ more: ["--host", "galley.lan"] });
  await welcome(page, kitchen.url, await kitchen.code(), PASSWORD, "Marta");
  await page.goto(`${kitchen.url}/people`);
  for (const name of ["Ida", "Jon"]) {
    await page.getByLabel("Their name").fill(name);
    await page.getByRole("button", { name: "Write down" }).click();
    await expect(page.locator(".door-people")).toContainText(name);
  }
  await page.getByLabel("The part of Ida").selectOption("chef");
  await page.getByRole("button", { name: "Give Ida this part" }).click();
  // Ida chooses a PIN on a screen of her own.
  await page.getByRole("button", { name: "Make a code for Ida" }).click();
  const code = await page.locator("#code").textContent();
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const own = await phone.newPage();
  await welcome(own, kitchen.url, code, "four green kettles");
  await own.getByRole("link", { name: "Ida" }).click();
  await own.getByLabel("A PIN").fill("123456");
  await own.getByLabel("Your password, to be sure it is you").fill("four green kettles");
  await own.getByRole("button", { name: "Choose it" }).click();
  await expect(own.locator("#e-pin")).toContainText("Whoever guesses begins with that one");
  await fits(own);
  await accessible(own);
  await own.getByLabel("A PIN").fill(PIN);
  await own.getByLabel("Your password, to be sure it is you").fill("four green kettles");
  await own.getByRole("button", { name: "Choose it" }).click();
  await expect(own.locator("main")).toContainText("Your PIN is chosen");
  await phone.close();

  // The owner enrols a tablet, signed in there, and is signed out by it.
  const context = await browser.newContext({ viewport: { width: 1024, height: 768 } });
  const tablet = await context.newPage();
  await tablet.goto(`${kitchen.url}/sign-in`);
  await tablet.getByLabel("Your name").fill("Marta");
  await tablet.getByLabel("Your password").fill(PASSWORD);
  await tablet.getByRole("button", { name: "Sign in" }).click();
  await tablet.goto(`${kitchen.url}/people`);
  await tablet.getByLabel("This browser is").fill("tablet by the pass");
  await tablet.getByRole("button", { name: "Enrol it, and sign me out here" }).click();
  await expect(tablet).toHaveURL(/\/who/);
  await fits(tablet);
  await accessible(tablet);

  // Jon plans and drops, by one tap of his name.
  await tablet.clock.install({ time: new Date("2026-11-25T16:00:00Z") });
  await tablet.goto(`${kitchen.url}/plan?food=beef-strip&thickness=25+mm&bath=55&intact=whole&typed_in=c-mm`);
  await expect(tablet).toHaveURL(/\/who\?to=/);
  await tablet.getByRole("button", { name: "Jon" }).click();
  await expect(tablet).toHaveURL(/\/plan\?food=beef-strip/);
  await tablet.getByRole("button", { name: "Start this cook" }).click();
  await expect(tablet).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
  const cook = tablet.url();
  await tablet.getByRole("button", { name: "Dropped" }).click();
  await expect(tablet.getByRole("button", { name: "Pulled" })).toBeVisible();

  // Nobody touches it: it asks who it is over the page, and Ida's tap is hers.
  await tablet.clock.fastForward("05:10");
  const sheet = tablet.getByRole("dialog", { name: "Who is it?" });
  await expect(sheet).toBeVisible();
  await sheet.getByRole("button", { name: "Ida" }).click();
  await expect(sheet).toBeHidden();
  await expect(tablet.locator(".signed-in")).toContainText("Ida");
  await tablet.getByRole("button", { name: "Pulled" }).click();
  await expect(tablet.getByRole("button", { name: "Pulled" })).toHaveCount(0);

  // What the kitchen settles takes a PIN: it is asked for, and the same goes on.
  await tablet.goto(`${kitchen.url}/kitchen`);
  await tablet.goto(`${kitchen.url}/bath/vessels/new`);
  await expect(tablet).toHaveURL(/\/who\/pin/);
  await tablet.getByLabel("Six digits").fill("402818");
  await tablet.getByRole("button", { name: "Go on" }).click();
  await expect(tablet.locator("#problem")).toContainText("That is not the PIN");
  await accessible(tablet);
  await tablet.getByLabel("Six digits").fill(PIN);
  await tablet.getByRole("button", { name: "Go on" }).click();
  await expect(tablet).toHaveURL(/\/bath\/vessels\/new/);
  // The owner's pages take a password on a screen of one's own.
  await tablet.goto(`${kitchen.url}/people`);
  await expect(tablet.locator("main")).toContainText("does not reach so far");

  // The record says who, and that it was a name and no more.
  await page.goto(cook);
  await expect(page.locator(".log li").filter({ hasText: "dropped" })).toContainText("Jon (named, not proven)");
  await expect(page.locator(".log li").filter({ hasText: "pulled" })).toContainText("Ida (named, not proven)");
  await page.goto(`${kitchen.url}/trail`);
  await expect(page.locator("tbody")).toContainText("tapped their name");
  await expect(page.locator("tbody tr").filter({ hasText: "a wrong PIN was given for Ida" })).toContainText("tablet by the pass");
  await context.close();
});

// What is shown moves with the clock, and what is not known is asked: seen in the real interface.
import { accessible, expect, test } from "./kitchen.mjs";

async function started(page, url, query) {
  await page.goto(`${url}/plan?${query}`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.waitForURL(/\/cook\//);
  return page.url();
}

// A fresh server over the same folder, later on.
async function later(kitchen, page, address, clock) {
  await kitchen.kill();
  const url = await kitchen.open({ clock });
  await page.goto(`${url}${new URL(address).pathname}`);
}

async function tap(page, what, when) {
  await page.getByLabel("happened at").fill(when);
  await page.getByRole("button", { name: what, exact: true }).click();
  // The page is put in anew; what is typed before that is lost with it.
  await expect(page.locator("form[aria-busy=true]")).toHaveCount(0);
}

test("a pulled piece counts down, and is then to be thrown away", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  const address = await started(page, url, "food=chicken-breast&thickness=25+mm&bath=60+%C2%B0C&ready=20:30&typed_in=c-mm");
  await later(kitchen, page, address, "2026-11-25T20:00:00Z");
  await tap(page, "Dropped", "18:00");
  await tap(page, "Pulled", "20:40");
  await expect(page.locator(".verdict h2")).toContainText("Pasteurised, for every guest");
  // No forecast of a bath it has left; the ribbon ends at the pull.
  await expect(page.locator(".live-times")).not.toContainText("pasteurised");
  await expect(page.locator(".live-times")).not.toContainText("best until");
  await expect(page.locator(".live-times")).toContainText("eat, hold hot or chill by 22:40");
  await expect(page.locator(".live-what")).toContainText("Eat it, keep it hot or chill it");
  await accessible(page);
  // Held hot, it may wait; from the last reading on the clock runs.
  await page.getByText("Not eaten now?").click();
  await page.getByLabel("Held hot, at the core").fill("61");
  await page.getByRole("button", { name: "Write the reading down" }).click();
  await expect(page.locator(".log")).toContainText("read while held hot");
  await later(kitchen, page, address, "2026-11-26T12:40:00Z");
  await expect(page.locator(".verdict h2")).toContainText("Not safe to serve");
  await expect(page.locator(".live-what")).toContainText("Throw it away");
  await expect(page.locator(".verdict-means")).toContainText("Heating it again does not make it good");
  await page.locator(".act").getByRole("button", { name: "Thrown away" }).click();
  await expect(page.locator(".live-what")).toContainText("Thrown away");
});

test("headline, list, ribbon and steps say one pull after a bag has floated", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  const address = await started(page, url, "intact=whole&ready=20:30");
  await later(kitchen, page, address, "2026-11-25T18:30:00Z");
  await tap(page, "Dropped", "18:00");
  await expect(page.getByRole("button", { name: "Pulled", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Something’s wrong" }).click();
  await page.getByText("It floats").click();
  await page.getByLabel("Up for at most").fill("20 min");
  await page.getByRole("button", { name: "It is under again" }).click();
  await expect(page.locator("form[aria-busy=true]")).toHaveCount(0);
  const headline = (await page.locator(".live-at").textContent()).match(/\d\d:\d\d/)[0];
  await expect(page.locator("svg.ribbon").first()).toContainText(`pull ${headline}`);
  await expect(page.locator("#step-pull .step-at")).toHaveText(headline);
});

test("nothing that followed stands without what it followed", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  const address = await started(page, url, "intact=whole&ready=20:30");
  await later(kitchen, page, address, "2026-11-25T20:30:00Z");
  await tap(page, "Dropped", "18:00");
  await tap(page, "Pulled", "21:00");
  await page.getByRole("button", { name: "Undo dropped" }).click();
  await expect(page.locator("#problem")).toContainText("needs the drop first");
  await page.getByRole("button", { name: "Undo pulled" }).click();
  await page.getByRole("button", { name: "Undo dropped" }).click();
  await tap(page, "Dropped", "19:00");
  await page.getByRole("button", { name: "Put dropped back" }).click();
  await expect(page.locator("#problem")).toContainText("is already written down");
});

test("a refusal that hangs on a question asks it, and each answer is a plan", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?food=salmon-fillet`);
  await expect(page.locator(".verdict h2")).toContainText("First: was it frozen for parasites?");
  await accessible(page);
  await page.getByRole("link", { name: "Yes, frozen for parasites" }).click();
  await expect(page.locator(".verdict h2")).toContainText("Serve at once");
  await page.goBack();
  await page.getByRole("link", { name: "No, or not sure" }).click();
  await expect(page.locator(".verdict h2")).toContainText("Not like this");
  // A kind that is not exempt is not offered to be.
  await page.goto(`${url}/plan?food=cod-fillet`);
  await expect(page.locator("[name=parasites]")).toHaveCount(2);
  // Chicken is not asked about blades: the answer would change nothing.
  await page.goto(`${url}/plan?food=chicken-breast`);
  await expect(page.locator("#f-intact")).toHaveCount(0);
});

test("out of the refrigerator for how long is asked, and the kitchen settles its water and altitude", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?intact=whole&thickness=25+mm&typed_in=c-mm&ready=23:30`);
  const pull = page.locator(".time-main button").first();
  const usual = await pull.textContent();
  await page.getByLabel("From where").selectOption("counter");
  await expect(page.getByLabel("Out of the refrigerator for")).toBeVisible();
  await page.getByLabel("Out of the refrigerator for").fill("a while");
  await page.getByLabel("Out of the refrigerator for").press("Tab");
  await expect(page.locator("#e-out")).toContainText("a while");
  await expect(page.getByLabel("Out of the refrigerator for")).toHaveValue("a while");
  await page.getByLabel("Out of the refrigerator for").fill("30 min");
  await page.getByLabel("From where").selectOption("refrigerator");
  await expect(page.getByLabel("Out of the refrigerator for")).toHaveCount(0);
  await page.getByLabel("Whether the water is moved").selectOption("still");
  await expect(pull).not.toHaveText(usual);
  await page.goto(`${url}/kitchen`);
  await accessible(page);
  await page.getByLabel("Height above the sea").fill("very");
  await page.getByRole("button", { name: "Settle it" }).click();
  await expect(page.locator("#e-altitude_m")).toContainText("“very” is not a height from 0 m to 6000 m");
  await expect(page.getByLabel("Height above the sea")).toHaveValue("very");
  await page.getByLabel("Height above the sea").fill("4000 m");
  await page.getByLabel("The water of its bath").selectOption("still");
  await page.getByRole("button", { name: "Settle it" }).click();
  await expect(page.getByRole("status")).toContainText("Settled");
  await page.goto(`${url}/plan?food=mussel`);
  await expect(page.locator("#e-bath")).toContainText("water boils there");
  await page.goto(`${url}/plan?intact=whole`);
  await expect(page.getByLabel("Whether the water is moved")).toHaveValue("still");
});

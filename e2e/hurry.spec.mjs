// A cook in a hurry: wrong input, back, reload, a second tab, slow typing, the list left open.
import { accessible, expect, fits, test } from "./kitchen.mjs";

const food = (page) => page.getByRole("combobox", { name: "Food", exact: true });
const blanks = {
  "beef-chuck": ["thickness", "width", "length", "bath", "time", "ready", "weight", "salt", "pieces"],
  "egg-custard": ["thickness", "fill", "glass", "bath", "time", "ready"],
  "shell-egg-large": ["bath", "time", "ready"],
  "carrot": ["thickness", "bath", "time", "ready", "weight", "salt", "pieces"],
};

for (const [id, fields] of Object.entries(blanks)) {
  test(`rubbish in any blank of ${id} is said beside it, kept, and mended`, async ({ page, kitchen }) => {
    const url = await kitchen.open();
    await page.goto(`${url}/plan?food=${id}&intact=whole`);
    for (const field of fields) {
      const blank = page.locator(`#f-${field}`);
      const before = await blank.inputValue();
      await blank.fill("oops, 3 cats");
      await blank.press("Tab");
      await expect(page.locator(`#e-${field}`), field).toBeVisible();
      await expect(blank, field).toHaveValue("oops, 3 cats");
      await expect(page.getByRole("button", { name: "Start this cook" }), field).toHaveCount(0);
      await blank.fill(before);
      await blank.press("Tab");
      await expect(page.locator(`#e-${field}`), field).toBeHidden();
      await expect(page.getByRole("button", { name: "Start this cook" }), field).toBeVisible();
    }
  });
}

test("back, forward and reload keep the food and everything typed", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan`);
  await food(page).fill("duck breast");
  await expect(page.locator(".food-option[aria-selected=true]")).toBeVisible();
  await food(page).press("Enter");
  await expect(page.locator("#sentence-hidden input[name=food_was]")).toHaveValue("duck-breast");
  await page.getByRole("textbox", { name: "Thickness" }).fill("27 mm");
  await page.getByRole("textbox", { name: "Thickness" }).press("Tab");
  await page.getByLabel("Weight in one bag").fill("310 g");
  await page.getByLabel("Weight in one bag").press("Tab");
  await expect(page).toHaveURL(/weight=310\+g/);
  await page.getByRole("link", { name: "Its numbers and sources" }).click();
  await expect(page.locator("h1")).toHaveText("Duck breast");
  await page.goBack();
  await expect(food(page)).toHaveValue("duck breast");
  await expect(page.getByLabel("Weight in one bag")).toHaveValue("310 g");
  await page.reload();
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue("27 mm");
  await page.goForward();
  await expect(page.locator("h1")).toHaveText("Duck breast");
});

test("two tabs plan two foods and do not meet", async ({ page, context, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?food=prawn`);
  const other = await context.newPage();
  await other.goto(`${url}/plan?food=leek`);
  await page.getByLabel("For whom").selectOption("at-risk");
  await expect(page.locator(".verdict h2")).toBeVisible();
  await expect(food(other)).toHaveValue("leeks");
  await expect(other.getByLabel("For whom")).toHaveValue("well");
  await other.close();
});

test("a name typed slowly, finished with Tab, or typed faster than the list comes", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan`);
  await food(page).click();
  await food(page).fill("");
  await food(page).pressSequentially("octop", { delay: 180 });
  await expect(page.locator(".food-option[aria-selected=true]")).toContainText("octopus");
  await page.keyboard.press("Tab");
  await expect(page.locator("#sentence-hidden input[name=food_was]")).toHaveValue("octopus");
  // Faster than the list: what was typed counts, not what stood in the list before.
  await food(page).click();
  await food(page).fill("brisket");
  await food(page).press("Enter");
  await expect(page.locator("#sentence-hidden input[name=food_was]")).toHaveValue("beef-brisket");
  await expect(page.locator("#food-list")).toBeHidden();
});

test("everything is reached and answered by keyboard alone, and nothing leaves the screen of a phone", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${url}/plan?food=pork-loin&intact=whole`);
  // The map comes after the page.
  await expect(page.locator("#map-point-narrow")).toBeVisible();
  const seen = new Set();
  await page.locator("#f-food").focus();
  for (let i = 0; i < 60; i += 1) {
    const id = await page.evaluate(() => document.activeElement?.id ?? "");
    if (id) seen.add(id);
    await page.keyboard.press("Tab");
  }
  for (const id of ["f-food", "f-thickness", "f-width", "f-length", "f-from", "f-done", "f-bath", "f-time", "f-guests", "f-ready", "dial", "late", "scrub", "map-point-narrow", "f-weight", "f-salt", "f-air", "f-hold"]) {
    expect([...seen], id).toContain(id);
  }
  await fits(page);
  await accessible(page);
});

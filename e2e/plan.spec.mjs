import { accessible, expect, fits, test } from "./kitchen.mjs";

const phone = { width: 390, height: 844 };

test("each change answers at once, and reload and back keep the sentence", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(url);
  await page.evaluate(() => { window.stayed = true; });
  await expect(page.locator(".verdict")).toContainText("Treated as pierced");
  await page.getByText("whole, never pierced").click();
  await expect(page.locator(".verdict h2")).toHaveText("Serve at once, to guests not at risk");
  await page.getByLabel("For whom").selectOption("at-risk");
  await expect(page.locator(".verdict h2")).toContainText("Pasteurised at");
  const before = await page.locator(".big").first().textContent();
  await page.getByRole("textbox", { name: "Thickness" }).fill("1 3/4 in");
  await expect(page.locator(".big").nth(2)).not.toHaveText(before ?? "");
  await expect(page).toHaveURL(/thickness=1\+3%2F4\+in/);
  await page.getByLabel("Ready at").fill("tomorrow 13:00");
  await expect(page.locator(".time-main", { hasText: "Serve" }).locator("button")).toHaveText("13:00");
  await expect(page.locator(".serve-day")).toContainText("Thursday 26 November");
  expect(await page.evaluate(() => window.stayed)).toBe(true);
  await page.reload();
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue("1 3/4 in");
  await expect(page.getByLabel("Ready at")).toHaveValue("tomorrow 13:00");
  await page.getByRole("link", { name: "Book", exact: true }).click();
  await page.goBack();
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue("1 3/4 in");
  await expect(page.getByLabel("For whom")).toHaveValue("at-risk");
  await accessible(page);
});

test("doneness and temperature follow each other without taking the cook's typing", async ({ page, kitchen }) => {
  await page.goto(await kitchen.open());
  await page.getByLabel("How done", { exact: true }).selectOption("rare");
  await expect(page.getByRole("textbox", { name: "Bath temperature" })).toHaveValue("51.5 °C");
  await page.getByRole("textbox", { name: "Bath temperature" }).fill("131f");
  await expect(page.getByLabel("How done", { exact: true })).toHaveValue("medium-rare");
  await page.getByRole("textbox", { name: "Bath temperature" }).fill("56.3");
  await expect(page.getByLabel("How done", { exact: true })).toHaveValue("own");
  await expect(page.getByRole("textbox", { name: "Bath temperature" })).toBeFocused();
  await expect(page.getByRole("textbox", { name: "Bath temperature" })).toHaveValue("56.3");
  await page.getByLabel("Food", { exact: true }).fill("flank");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("textbox", { name: "Bath temperature" })).toHaveValue("56.3");
  await expect(page.locator(".times-row")).toContainText("Best until");
});

test("rubbish is said beside the field, kept, and harms nothing", async ({ page, kitchen }) => {
  await page.goto(await kitchen.open());
  await page.getByRole("textbox", { name: "Thickness" }).pressSequentially("<script>alert(1)</script>");
  await expect(page.locator("#e-thickness")).toContainText("is not a thickness");
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue(/<script>/);
  await page.getByRole("textbox", { name: "Bath temperature" }).fill("140");
  await expect(page.locator("#e-bath")).toContainText("Did you mean °F?");
  await page.getByLabel("Ready at").fill("when it is done");
  await expect(page.locator("#e-ready")).toContainText("is not a time");
  await expect(page.getByRole("button", { name: "Start this cook" })).toHaveCount(0);
  await accessible(page);
  await page.getByRole("textbox", { name: "Thickness" }).fill("25mm");
  // One press answers what was asked.
  await page.locator("#e-bath").getByRole("button", { name: "140 °F" }).click();
  await expect(page.getByRole("textbox", { name: "Bath temperature" })).toHaveValue("140 °F");
  await page.getByLabel("Ready at").fill("");
  await expect(page.locator("#sentence-errors")).toBeHidden();
  await expect(page.getByRole("button", { name: "Start this cook" })).toBeVisible();
});

test("a blank is entered to be overwritten, and Escape puts back what stood", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?intact=whole&thickness=32+mm&typed_in=c-mm`);
  const thickness = page.getByRole("textbox", { name: "Thickness" });
  await thickness.click();
  await page.keyboard.type("40");
  await expect(thickness).toHaveValue("40");
  await page.keyboard.press("Escape");
  await expect(thickness).toHaveValue("32 mm");
  await expect(page.locator(".answer")).not.toHaveClass(/is-stale/);
  await page.keyboard.type("28 mm");
  await page.keyboard.press("Tab");
  await expect(page.locator("#prep-says, .words").first()).toBeVisible();
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue("28 mm");
});

test("the late control changes verdict and words, by mouse and keyboard", async ({ page, kitchen }) => {
  await page.goto(`${await kitchen.open()}/plan?intact=whole`);
  const late = page.getByLabel("Pull this many minutes after the drop");
  const words = page.locator("#stop-words");
  await expect(words).toContainText("as planned");
  await late.focus();
  await page.keyboard.press("Home");
  await expect(words).toContainText("Still warming");
  await expect(words).toContainText("early");
  await page.keyboard.press("End");
  await expect(words).toContainText("Past its best");
  await expect(words).toContainText("late");
  const box = await late.boundingBox();
  await page.mouse.click(box.x + box.width * 0.95, box.y + box.height / 2);
  await expect(words).toContainText("Pasteurised, for every guest");
});

test("a cold bath for a guest at risk is refused with the way out", async ({ page, kitchen }) => {
  await page.goto(`${await kitchen.open()}/plan?intact=whole&guests=at-risk&bath=52`);
  await expect(page.locator(".verdict h2")).toHaveText("Not for a guest at risk");
  await expect(page.locator(".verdict")).toContainText("set the bath to 54.5 °C");
  await expect(page.getByRole("button", { name: "Start this cook" })).toHaveCount(0);
  await expect(page.locator(".big")).toHaveCount(0);
  await accessible(page);
});

test("every number opens to its inputs, method, source and basis", async ({ page, kitchen }) => {
  await page.goto(`${await kitchen.open()}/plan?intact=whole`);
  const numbers = page.locator("button.num");
  const count = await numbers.count();
  expect(count).toBeGreaterThanOrEqual(9);
  for (let i = 0; i < count; i += 1) {
    await numbers.nth(i).click();
    const opened = page.locator(".opened:popover-open");
    await expect(opened).toContainText("Method.");
    await expect(opened).toContainText("Source.");
    await expect(opened).toContainText("Basis:");
    if (i === 0) await accessible(page);
    await page.keyboard.press("Escape");
    await expect(opened).toHaveCount(0);
  }
});

test("the slice is scrubbed through time", async ({ page, kitchen }) => {
  await page.goto(`${await kitchen.open()}/plan?intact=whole`);
  const scrub = page.getByRole("slider", { name: "Time in the bath", exact: true });
  const centre = page.locator(".slice-wide .slice-centre");
  const colour = () => page.locator(".slice-wide .slice-layers rect").first().getAttribute("fill");
  await scrub.focus();
  await page.keyboard.press("Home");
  await expect(centre).toHaveText("5.0 °C");
  const raw = await colour();
  await page.keyboard.press("End");
  await expect(centre).toHaveText(/^5[45]\.\d °C$/);
  expect(await colour()).not.toBe(raw);
});

test("units are switched anywhere and remembered", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?intact=whole&thickness=38.1`);
  await page.getByRole("button", { name: "°C and millimetres. Switch to °F and inches" }).click();
  await expect(page.getByRole("textbox", { name: "Bath temperature" })).toHaveValue("131 °F");
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue("1 1/2 in");
  await page.goto(`${url}/book`);
  await expect(page.getByRole("button", { name: "°F and inches. Switch to °C and millimetres" })).toBeVisible();
  await page.goto(`${url}/plan`);
  await expect(page.getByRole("textbox", { name: "Bath temperature" })).toHaveValue("131 °F");
  await page.getByRole("textbox", { name: "Thickness" }).fill("2");
  await expect(page).toHaveURL(/thickness=2&/);
  await page.getByRole("button", { name: /Switch to °C and millimetres/ }).click();
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue("51 mm");
  // Shown whole, it is two inches still.
  await page.getByRole("button", { name: /Switch to °F and inches/ }).click();
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue(/^2( in)?$/);
});

test("on a phone it fits, and the places sit under the thumb", async ({ page, kitchen }) => {
  await page.setViewportSize(phone);
  await page.goto(`${await kitchen.open()}/plan?intact=whole&guests=at-risk`);
  await fits(page);
  const nav = await page.getByRole("navigation", { name: "Places" }).boundingBox();
  expect(nav.y + nav.height).toBeGreaterThan(phone.height - 4);
  await expect(page.locator(".ribbon-narrow")).toBeVisible();
  await expect(page.locator(".ribbon-wide")).toBeHidden();
  await page.getByRole("textbox", { name: "Thickness" }).fill("25 mm");
  await expect(page.locator(".verdict h2")).toContainText("Pasteurised at");
  await accessible(page);
});

test("in the dark it can be read", async ({ page, kitchen }) => {
  await page.emulateMedia({ colorScheme: "dark" });
  await page.goto(`${await kitchen.open()}/plan?intact=whole`);
  await accessible(page);
});

test("without scripts the sentence is a form that works", async ({ browser, kitchen }) => {
  const url = await kitchen.open();
  const context = await browser.newContext({ javaScriptEnabled: false });
  const page = await context.newPage();
  await page.goto(`${url}/plan`);
  await page.getByText("whole, never pierced").click();
  await page.getByRole("button", { name: "Work it out" }).click();
  await expect(page.locator(".verdict h2")).toHaveText("Serve at once, to guests not at risk");
  await context.close();
});

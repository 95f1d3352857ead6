// How many taps and keys the work takes; docs/usability.md has the counts. (The project's own goals.)
import { expect, test } from "./kitchen.mjs";

const phone = { width: 390, height: 844 };

// A tap on whatever is tapped; choosing from a native list is one more.
const counted = (page) => {
  let taps = 0;
  return {
    tap: async (locator) => {
      taps += 1;
      await locator.click();
    },
    choose: async (locator, value) => {
      taps += 2;
      await locator.selectOption(value);
    },
    taps: () => taps,
    page,
  };
};

test("phone: two ribeyes, frozen, a pregnant guest, 19:30, °F, started within nine taps", async ({ page, context, kitchen }) => {
  await context.clearCookies();
  await page.setViewportSize(phone);
  const url = await kitchen.open();
  await page.goto(`${url}/plan`);
  const hand = counted(page);
  await hand.tap(page.getByRole("button", { name: /Switch to °F/ }));
  await expect(page.getByRole("button", { name: /Switch to °C/ })).toBeVisible();
  await hand.tap(page.getByLabel("How many pieces"));
  await page.keyboard.type("2");
  await page.keyboard.press("Enter");
  await page.getByLabel("How many pieces").blur();
  await expect(page.locator("#f-food")).toHaveValue("strip steaks");
  await hand.tap(page.locator("#f-food"));
  await page.keyboard.press("ControlOrMeta+a");
  await page.keyboard.type("ribeye");
  await page.keyboard.press("Enter");
  await expect(page.locator("#f-food")).toHaveValue("ribeyes");
  // An inch and a quarter is what a ribeye starts with.
  await expect(page.locator("#f-thickness")).toHaveValue("1 1/4 in");
  await hand.choose(page.getByLabel("From where"), "freezer");
  await hand.choose(page.getByLabel("For whom"), "at-risk");
  await hand.tap(page.locator("#f-ready"));
  await page.keyboard.type("tomorrow 19:30");
  await page.keyboard.press("Tab");
  await expect(page.getByRole("button", { name: "Start this cook" })).toBeVisible();
  await hand.tap(page.getByRole("button", { name: "Start this cook" }));
  await expect(page).toHaveURL(/\/cook\//);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("2 ribeyes, 1 1/4 in, 135 °F");
  console.log(`phone, first page to a started cook: ${hand.taps()} taps`);
  expect(hand.taps()).toBeLessThanOrEqual(9);
  // Floating: three taps, nothing scrolled.
  await page.getByRole("button", { name: "Dropped", exact: true }).click();
  await expect(page.getByRole("button", { name: "Pulled", exact: true })).toBeVisible();
  const float = counted(page);
  for (const what of [page.getByRole("button", { name: "Something’s wrong" }), page.getByText("It floats", { exact: true }), page.getByRole("button", { name: "It is under again" })]) {
    await expect(what).toBeInViewport();
    await float.tap(what);
  }
  console.log(`phone, it floats: ${float.taps()} taps`);
  expect(float.taps()).toBeLessThanOrEqual(3);
  // The rating, after it was eaten: three taps too.
  for (const step of ["Pulled", "Dried", "Eaten"]) {
    await page.getByRole("button", { name: step, exact: true }).click();
    await expect(page.locator(".log")).toContainText(step.toLowerCase());
  }
  const rate = counted(page);
  for (const what of [page.getByRole("link", { name: "How did it come out?" }), page.getByText("as wanted", { exact: true }), page.getByRole("button", { name: "Into the book" })]) {
    await expect(what).toBeInViewport();
    await rate.tap(what);
    // The page has glided to it before the next tap, which would stop it on its way.
    await expect(page.getByRole("button", { name: "Into the book" }).or(page.locator(".entry").first())).toBeInViewport();
  }
  console.log(`phone, it is rated: ${rate.taps()} taps`);
  expect(rate.taps()).toBeLessThanOrEqual(3);
});

test("chef: four cooks by keyboard within ninety keys", async ({ page, context, kitchen }) => {
  await context.clearCookies();
  const url = await kitchen.open();
  await page.goto(`${url}/plan`);
  let keys = 0;
  const press = async (...all) => {
    for (const key of all) {
      keys += 1;
      await page.keyboard.press(key);
    }
  };
  for (const food of ["flan", "thigh", "duck b", "carr"]) {
    await press("p");
    await expect(page).toHaveURL(/\/plan/);
    await page.waitForLoadState("load");
    await expect(page.locator("#f-food")).toBeVisible();
    await press("f", "Control+a");
    for (const letter of food) await press(letter === " " ? "Space" : letter);
    await expect(page.locator("#food-list [role=option]").first()).toBeVisible();
    const answered = page.waitForResponse((r) => r.url().includes("/plan/answer"));
    await press("Enter");
    await answered;
    await expect(page.locator("#answer")).not.toHaveClass(/is-stale/);
    await expect(page.getByRole("button", { name: "Start this cook" })).toBeEnabled();
    // Out of the blank, then start.
    await press("Escape", "s", "Enter");
    await expect(page).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
  }
  console.log(`chef, four cooks by keyboard: ${keys} keys`);
  expect(keys).toBeLessThanOrEqual(90);
});

// How many taps and keys the work takes; docs/usability.md has the counts. (The project's own goals.)
import { expect, tank, test } from "./kitchen.mjs";

const phone = { width: 390, height: 844 };

// A tap on whatever is tapped; choosing from a native list is one more; a value typed is one, wherever it is typed.
const counted = (page) => {
  let taps = 0;
  return {
    type: async (locator, value) => {
      taps += 1;
      await locator.fill(value);
    },
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

test("phone: two ribeyes, frozen, a pregnant guest, 19:30, °F, started within eight taps", async ({ page, context, kitchen }) => {
  await context.clearCookies();
  await page.setViewportSize(phone);
  const url = await kitchen.open();
  await page.goto(`${url}/plan`);
  const hand = counted(page);
  await hand.tap(page.getByRole("button", { name: /Switch to °F/ }));
  await expect(page.getByRole("button", { name: /Switch to °C/ })).toBeVisible();
  // How many is typed before what.
  await hand.tap(page.locator("#f-food"));
  await page.keyboard.press("ControlOrMeta+a");
  await page.keyboard.type("2 ribeye");
  await expect(page.locator(".food-option[aria-selected=true]")).toHaveText(/ribeye/);
  await page.keyboard.press("Enter");
  await expect(page.locator("#count")).toHaveText("2");
  await expect(page.locator("#f-food")).toHaveValue("ribeyes");
  await expect(page.locator("#how-said")).toHaveText("2 pieces in a bag");
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
  expect(hand.taps()).toBeLessThanOrEqual(8);
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

const said = (what, hand, most) => {
  console.log(`${what}: ${hand.taps()} taps`);
  expect(hand.taps(), what).toBeLessThanOrEqual(most);
};

test("phone: a steak, its question answered, is started within six taps", async ({ page, context, kitchen }) => {
  await context.clearCookies();
  await page.setViewportSize(phone);
  await page.goto(await kitchen.open());
  const hand = counted(page);
  await hand.type(page.getByRole("textbox", { name: "Thickness" }), "30 mm");
  await expect(page).toHaveURL(/thickness=30/);
  await hand.tap(page.getByText("whole, never pierced"));
  await expect(page.locator(".verdict h2")).toHaveText("Serve at once, to guests not at risk");
  await hand.type(page.locator("#f-ready"), "tomorrow 19:30");
  await expect(page).toHaveURL(/ready=tomorrow/);
  await hand.tap(page.getByRole("button", { name: "Start this cook" }));
  await expect(page).toHaveURL(/\/cook\//);
  await hand.tap(page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }));
  await expect(page.locator("#just")).toContainText("Dropped");
  said("phone, a steak dropped, its question answered", hand, 6);
});

test("a cooler, from nothing to a steak in its water, within nine taps", async ({ page, context, kitchen }) => {
  await context.clearCookies();
  const url = await kitchen.open();
  await page.goto(`${url}/bath`);
  const hand = counted(page);
  await hand.tap(page.getByRole("link", { name: "20 l insulated cooler" }));
  await hand.tap(page.getByRole("button", { name: "Keep it" }));
  await hand.type(page.locator("#b-target"), "56 °C");
  await expect(page.locator(".bench-line", { hasText: "Fill at" }).locator(".bench-figure")).toHaveText(/^5[6789]/);
  await hand.tap(page.getByRole("button", { name: /It is filled/ }));
  await expect(page).toHaveURL(/\/bath\/runs\//);
  await hand.tap(page.getByRole("link", { name: "Plan a piece for it" }));
  await hand.tap(page.getByText("whole, never pierced"));
  await expect(page.locator("[name=intact]:checked")).toHaveValue("whole");
  await expect(page.locator("#answer")).not.toHaveClass(/is-stale/);
  await hand.tap(page.getByRole("button", { name: "Start this cook" }));
  await expect(page).toHaveURL(/\/cook\//);
  await hand.tap(page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }));
  await expect(page.locator("#just")).toContainText("Dropped");
  said("cooler, from nothing to a steak in the water", hand, 9);
});

test("in a hurry: guests late, undo, a bag moved, a bath that was off", async ({ page, kitchen }) => {
  let url = await kitchen.open({ clock: "2026-11-25T16:00:00Z" });
  for (const name of ["the near box", "the far box"]) await tank(page, url, name);
  await page.goto(`${url}/plan?food=chicken-breast&thickness=30+mm&bath=60+%C2%B0C&guests=at-risk&typed_in=c-mm`);
  await page.locator("#f-vessel").selectOption({ label: "the near box" });
  await expect(page.locator(".plan-water")).toContainText("the near box");
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  await expect(page.locator("#just")).toContainText("Dropped");
  const cook = new URL(page.url()).pathname;
  const late = counted(page);
  await late.type(page.getByLabel("guests come at another time"), "21:30");
  await late.tap(page.getByRole("button", { name: "Move it" }));
  await expect(page.locator("#just")).toContainText("Planned anew: served 21:30");
  await expect(page.locator(".live-when")).toContainText("21:");
  said("guests late", late, 2);
  const undo = counted(page);
  await undo.tap(page.locator("#just").getByRole("button", { name: "Undo" }));
  await expect(page.locator("#just")).toContainText("Undone: planned anew");
  await expect(page.locator(".live-when")).not.toContainText("21:");
  said("undo", undo, 1);
  await page.goto(`${url}/board`);
  const move = counted(page);
  await move.tap(page.getByText(/^more/));
  await move.tap(page.getByRole("button", { name: "Moved" }));
  await expect(page.getByRole("region", { name: "the far box" })).toContainText("Chicken breast");
  said("a bag moved", move, 2);
  await kitchen.kill();
  url = await kitchen.open({ port: kitchen.port, clock: "2026-11-25T16:40:00Z" });
  await page.goto(url + cook);
  const off = counted(page);
  await off.tap(page.getByRole("button", { name: "Something’s wrong" }));
  const wrong = page.getByRole("dialog", { name: "Something’s wrong" });
  await off.type(wrong.getByLabel("and reads now"), "57");
  await off.tap(wrong.getByRole("button", { name: "It was off" }));
  await expect(page.locator(".log")).toContainText("off");
  said("a power cut, with what it reads now", off, 3);
});

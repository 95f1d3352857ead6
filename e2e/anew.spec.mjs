import { test, expect, accessible, fits } from "./kitchen.mjs";

test("guests come later, the piece was thicker: planned anew from plan to book, two bags together", async ({ page, kitchen }) => {
  const url = await kitchen.open("2026-11-25T16:00:00Z");
  await page.goto(`${url}/plan?food=beef-strip&thickness=25+mm&bath=57+%C2%B0C&intact=whole&guests=at-risk&ready=20:30&typed_in=c-mm`);
  await page.getByLabel("Bags alike").fill("2");
  await page.getByRole("button", { name: "Start this cook" }).click();
  await expect(page.locator(".lane, .bag").first()).toBeVisible();
  await page.getByRole("link", { name: /Strip steak, 25 mm, 57 °C, bag A/ }).first().click();
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  await expect(page.locator("#just")).toContainText("Dropped");
  await page.getByRole("link", { name: "Change the plan" }).click();
  await expect(page.getByText("That is how it is planned")).toBeVisible();
  // Typed slowly: what it gives follows, and nothing typed is lost.
  await page.getByLabel("Ready at").pressSequentially("", { delay: 80 });
  await page.getByLabel("Ready at").fill("21:1");
  await expect(page.locator("#anew-gives")).toContainText(/ready at 21:01|understood/);
  await page.getByLabel("Ready at").fill("21:45");
  await expect(page.locator(".anew-changes")).toContainText("ready at 21:45, was 20:30");
  await expect(page.locator(".anew-pairs")).toContainText("On the plate");
  await accessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await fits(page);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.getByRole("button", { name: "Take this plan" }).click();
  await expect(page).toHaveURL(/\/cook\/[^/]+$/);
  const dinner = page.locator("#steps");
  await dinner.locator("summary").click();
  await expect(dinner).toContainText("Planned first");
  await expect(dinner).toContainText("serve Wed 25 Nov, 21:4");
  // The other bag is wanted then too.
  const first = page.url();
  await page.goto(`${url}/board`);
  await page.getByRole("link", { name: /bag B/ }).first().click();
  await page.locator("#log summary").click();
  await expect(page.locator("#log")).toContainText("planned anew");
  await page.goto(first);
  // A second screen that still shows the old plan writes nothing over the new one.
  const other = await page.context().newPage();
  await other.goto(`${first}/plan?thickness=30+mm`);
  await page.getByRole("link", { name: "Change the plan" }).click();
  await page.getByText("It is another piece than was written down").click();
  await page.getByLabel("Thick", { exact: true }).fill("35 mm");
  await expect(page.locator(".anew-changes")).toContainText("35 mm, was 25 mm");
  await page.getByRole("button", { name: "Correct it" }).click();
  await expect(page.locator("h1")).toContainText("35 mm");
  await expect(page.locator(".cook-head")).toContainText("Corrected:");
  await other.getByRole("button", { name: "Correct it" }).click();
  await expect(other.getByText("It was planned anew meanwhile")).toBeVisible();
  await expect(other.getByLabel("Thick", { exact: true })).toHaveValue("30 mm");
  // Undone, it is as it was.
  await page.locator("#log summary").click();
  await page.getByRole("button", { name: "Undo the piece corrected" }).click();
  await expect(page.locator("h1")).toContainText("25 mm");
  await page.goto(`${first}/print`);
  await expect(page.locator("main")).toContainText("Planned last");
});

test("a guest is kept, a plan is for them, what they must not eat is said, and removed they leave a number", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/kitchen`);
  await page.getByLabel("Another guest: name").fill("Mira");
  await page.getByLabel("Must not eat").last().fill("Fish, sesame");
  await page.locator("#risk").selectOption("at-risk");
  await page.locator("form", { has: page.locator("#guest") }).getByRole("button", { name: "Write down" }).click();
  await expect(page.locator(".guests")).toContainText("Mira, at risk; no fish, sesame");
  await accessible(page);
  await page.goto(`${url}/plan?food=salmon&thickness=25+mm&bath=60+%C2%B0C&parasites=frozen&typed_in=c-mm`);
  await page.locator("#f-guests").selectOption({ label: "Mira, at risk" });
  await expect(page.getByRole("alert")).toContainText("Mira must not eat fish, and it is in this.");
  await page.goto(`${url}/kitchen`);
  await page.locator(".guests summary").click();
  await page.getByRole("button", { name: "Remove Mira for good" }).click();
  await expect(page.locator(".guests")).toHaveCount(0);
});

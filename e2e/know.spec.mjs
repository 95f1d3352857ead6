import { accessible, expect, fits, test } from "./kitchen.mjs";

test("how we know: every comparison is drawn, the misses too", async ({ page, kitchen }) => {
  await page.goto(await kitchen.open());
  await page.getByRole("link", { name: "How we know" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("How we know");
  const rows = page.locator(".evidence tbody tr");
  expect(await rows.count()).toBeGreaterThan(150);
  // The two remembered rows that a correct computation does not meet, and a piece that hung, of others without the vapour's flow.
  await expect(page.locator(".evidence tr.missed")).toHaveCount(3);
  await expect(page.locator("main")).toContainText("published (memory)");
  await accessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await fits(page);
});

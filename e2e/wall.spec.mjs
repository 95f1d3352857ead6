// The wall: read from three metres, six pieces at once, and what rings stands beside them.
import { expect, fits, tank, test } from "./kitchen.mjs";

const wall = { width: 1920, height: 1080 };

test("six pieces stand on a wall without scrolling, in letters to be read from three metres", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  for (const name of ["the left box", "the right box"]) await tank(page, url, name);
  for (let i = 0; i < 6; i += 1) {
    await page.goto(`${url}/plan?food=chicken-breast&thickness=${24 + i}+mm&bath=60+%C2%B0C&guests=well&typed_in=c-mm`);
    await page.locator("#f-vessel").selectOption({ label: i % 2 ? "the left box" : "the right box" });
    await expect(page.locator(".plan-water")).toContainText(i % 2 ? "the left box" : "the right box");
    await page.getByRole("button", { name: "Start this cook" }).click();
    await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
    await expect(page.locator("#just")).toContainText("Dropped");
  }
  await page.setViewportSize(wall);
  await page.goto(`${url}/board/kiosk`);
  await page.locator("#wall-sound").click();
  await expect(page.locator(".bag:not(.board-hours)")).toHaveCount(6);
  await fits(page);
  const [lowest, height] = await page.evaluate(() => [Math.max(...[...document.querySelectorAll(".bag")].map((b) => b.getBoundingClientRect().bottom)), innerHeight]);
  expect(lowest).toBeLessThanOrEqual(height);
  const small = await page.evaluate(() => {
    const out = [];
    const walk = document.createTreeWalker(document.querySelector("#board"), NodeFilter.SHOW_TEXT);
    while (walk.nextNode()) {
      const [el, text] = [walk.currentNode.parentElement, walk.currentNode.textContent.trim()];
      const seen = text && el.checkVisibility() && !el.closest(".visually-hidden");
      const most = el.closest(".board-what, .board-count, .lane-degrees, .bag-degrees, .bag-verdict, .board-clock") ? 48 : 28;
      if (seen && parseFloat(getComputedStyle(el).fontSize) < most) out.push(`${text}: ${getComputedStyle(el).fontSize}`);
    }
    return out;
  });
  expect(small).toEqual([]);
});

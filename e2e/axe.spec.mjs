// Nothing that axe knows of, at any level, on any page: light, dark, phone, narrowest, print. (axe-core, its whole list.)
import { accessible, fits, test } from "./kitchen.mjs";

const looks = [
  ["light", { width: 1280, height: 800 }, { colorScheme: "light" }],
  ["dark", { width: 1280, height: 800 }, { colorScheme: "dark" }],
  ["phone", { width: 390, height: 844 }, { colorScheme: "dark" }],
  ["narrowest", { width: 320, height: 640 }, { colorScheme: "light" }],
  ["print", { width: 800, height: 1000 }, { colorScheme: "light", media: "print" }],
];
const pages = [
  "/plan?intact=whole&ready=tomorrow+19:30",
  "/plan?food=beef-strip&bath=52+%C2%B0C&guests=at-risk&intact=whole&typed_in=c-mm",
  "/plan?food=shell-egg-large&use=raw",
  "/plan?food=beef-cheek&intact=whole",
  "/plan?food=salmon-fillet",
  "/bath",
  "/bath/vessels/019ac900-0000-7000-8000-000000000001?cover=none&hours=72+h",
  "/bath/vessels/019ac900-0000-7000-8000-000000000002/change",
  "/finish",
  "/finish/pace?food=beef-strip&face=45+s",
  "/board",
  "/board/kiosk",
  "/devices",
  "/book",
  "/foods",
  "/foods/shell-egg-large",
  "/kitchen",
  "/how-we-know",
];

for (const [name, viewport, media] of looks) {
  test(`axe finds nothing on any page, ${name}`, async ({ page, kitchen }) => {
    const url = await kitchen.open({ demo: true });
    await page.setViewportSize(viewport);
    await page.emulateMedia(media);
    for (const path of pages) {
      await page.goto(url + path);
      if (name !== "print") await fits(page);
      await accessible(page);
    }
    await page.goto(`${url}/bath`);
    await page.locator(".run a").first().click();
    await page.waitForURL(/\/bath\/runs\//);
    await page.locator(".run-log").waitFor();
    if (name !== "print") await fits(page);
    await accessible(page);
    await page.goto(`${url}/cook`);
    await page.locator(".bag-title a").first().click();
    await page.waitForURL(/\/cook\/[0-9a-f-]{36}$/);
    await page.locator("#live").waitFor();
    if (name !== "print") await fits(page);
    await accessible(page);
    await page.goto(`${page.url()}/print`);
    await accessible(page);
  });
}

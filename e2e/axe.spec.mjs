// Nothing that axe knows of, at any level, on any page: light, dark, phone, narrowest, print. (axe-core, its whole list.)
import { accessible, fits, test } from "./kitchen.mjs";

const looks = [
  ["light", { width: 1280, height: 800 }, { colorScheme: "light" }],
  ["dark", { width: 1280, height: 800 }, { colorScheme: "dark" }],
  ["phone", { width: 390, height: 844 }, { colorScheme: "dark" }],
  ["narrowest", { width: 320, height: 640 }, { colorScheme: "light" }],
  ["enlarged four times", { width: 320, height: 256 }, { colorScheme: "light" }],
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

// Pages whose address nobody knows before: from a list, by its first link.
const behind = [
  ["/bath", ".run a", /\/bath\/runs\//, ".run-log"],
  ["/cook", ".bag-title a", /\/cook\/[0-9a-f-]{36}$/, "#live"],
];

for (const [name, viewport, media] of looks) {
  const look = async (page) => {
    await page.setViewportSize(viewport);
    await page.emulateMedia(media);
  };
  const sound = async (page) => {
    if (name !== "print") await fits(page);
    await accessible(page);
  };
  // A few pages a test: none runs long on a busy machine, and files are fetched once for several.
  for (let first = 0; first < pages.length; first += 3) {
    const some = pages.slice(first, first + 3);
    test(`axe finds nothing on ${some.map((p) => p.split("?")[0]).join(", ")} (${first}), ${name}`, async ({ page, demo }) => {
      await look(page);
      for (const path of some) {
        await page.goto(demo + path);
        await sound(page);
      }
    });
  }
  for (const [list, link, address, there] of behind) {
    test(`axe finds nothing on the first page behind ${list}, ${name}`, async ({ page, demo }) => {
      await look(page);
      await page.goto(demo + list);
      await page.locator(link).first().click();
      await page.waitForURL(address);
      await page.locator(there).waitFor();
      await sound(page);
      if (list === "/cook") {
        await page.goto(`${page.url()}/print`);
        await accessible(page);
      }
    });
  }
}

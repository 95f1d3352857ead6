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
  "/keep",
  "/how-we-know",
];

// Pages whose address nobody knows before: from a list, by its first link.
const behind = [
  ["/bath", ".run a", /\/bath\/runs\//, ".run-log"],
  ["/cook", ".bag-title a", /\/cook\/[0-9a-f-]{36}$/, "#live"],
];

// One page a test, in every look: none runs long on a busy machine, and what the server works out for it is worked out once.
async function soundInEveryLook(page) {
  for (const [name, viewport, media] of looks) {
    await test.step(name, async () => {
      await page.setViewportSize(viewport);
      await page.emulateMedia({ media: null, ...media });
      if (name !== "print") await fits(page);
      await accessible(page);
    });
  }
}

pages.forEach((path, i) => {
  test(`axe finds nothing on ${path.split("?")[0]} (${i})`, async ({ page, demo }) => {
    await page.goto(demo + path);
    await soundInEveryLook(page);
  });
});

for (const [list, link, address, there] of behind) {
  test(`axe finds nothing on the first page behind ${list}`, async ({ page, demo }) => {
    await page.goto(demo + list);
    await page.locator(link).first().click();
    await page.waitForURL(address);
    await page.locator(there).waitFor();
    await soundInEveryLook(page);
  });
}

test("axe finds nothing on a cook's print", async ({ page, demo }) => {
  await page.goto(`${demo}/cook`);
  await page.goto(`${demo}${await page.locator(".bag-title a").first().getAttribute("href")}/print`);
  await soundInEveryLook(page);
});

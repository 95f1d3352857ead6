import { readFileSync } from "node:fs";
import ICAL from "ical.js";
import jsQR from "jsqr";
import { accessible, expect, fits, test } from "./kitchen.mjs";

const phone = { width: 390, height: 844 };

async function download(page, name) {
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name }).click()]);
  return readFileSync(await file.path(), "utf8");
}

test("season and bag: each blank answers at once", async ({ page, kitchen }) => {
  await page.goto(`${await kitchen.open()}/plan?intact=whole`);
  const says = page.locator("#prep-says");
  await expect(says).toContainText("Salt it with 1 % of its weight, 10 g for every kilogram");
  await page.getByLabel("Weight in one bag").fill("420 g");
  await page.getByLabel("Weight in one bag").press("Tab");
  await expect(says).toContainText("Salt it with 4.2 g");
  await page.getByLabel("When to salt").selectOption("48");
  await expect(says).toContainText("goes deeper");
  await page.getByLabel("Salted already").selectOption("piece");
  await expect(says).toContainText("No more salt");
  await page.getByLabel("What else is in the bag").fill("rosemary, coarse pepper, garlic");
  await page.getByLabel("What else is in the bag").press("Tab");
  await expect(says).toContainText("burns in a hot sear");
  await expect(says).toContainText("botulism");
  const pull = page.locator(".time-main button").nth(1);
  const usual = await pull.textContent();
  const thickness = page.getByRole("textbox", { name: "Thickness" });
  await thickness.fill("20 mm");
  await thickness.press("Tab");
  await expect(pull).not.toHaveText(usual);
  const before = await pull.textContent();
  await page.getByLabel("How many pieces").fill("2");
  await page.getByLabel("How they lie").selectOption("stacked");
  await expect(pull).not.toHaveText(before);
  await expect(says).toContainText("Better: one layer");
  await page.getByLabel("Weight in one bag").fill("a handful");
  await page.getByLabel("Weight in one bag").press("Tab");
  await expect(page.locator("#e-weight")).toContainText("“a handful” is not a weight");
  await expect(page.getByLabel("Weight in one bag")).toHaveValue("a handful");
  await accessible(page);
  // On a phone the sentence comes first, and this after the answer.
  await page.getByLabel("Weight in one bag").fill("");
  await page.setViewportSize(phone);
  const top = async (selector) => (await page.locator(selector).boundingBox()).y;
  expect(await top(".words")).toBeLessThan(await top("#answer"));
  expect(await top("#answer")).toBeLessThan(await top("#prep"));
  await fits(page);
});

test("the steps are ticked, and guidance stays away once dismissed", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?intact=whole&weight=420+g&typed_in=c-mm`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  const steps = page.locator(".steps li");
  await expect(steps.first()).toContainText("Heat the bath to 55 °C");
  await expect(page.locator("#step-salt")).toContainText("4.2 g");
  await page.locator("#step-salt").getByRole("button", { name: "Salted" }).click();
  await expect(page.locator("#step-salt")).toContainText("done");
  await expect(page.locator("#step-salt").getByRole("button")).toHaveCount(0);
  await expect(page.locator("#step-pull .step-expect")).toContainText("grey and dull");
  await accessible(page);
  await page.getByRole("button", { name: "Hide tips" }).click();
  await expect(page.locator(".step-expect")).toHaveCount(0);
  await page.reload();
  await expect(page.locator(".step-expect")).toHaveCount(0);
  await page.getByRole("button", { name: "Guide me" }).click();
  await expect(page.locator("#step-pull .step-expect")).toBeVisible();
  // In the bath, a bag that floated is counted later.
  await page.getByLabel("happened at").fill("30 min ago");
  await page.getByRole("button", { name: "Dropped" }).click();
  const pull = page.locator("#step-pull .step-at");
  const before = await pull.textContent();
  await expect(page.getByRole("button", { name: "Pulled", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Something’s wrong" }).click();
  await page.getByText("It floats", { exact: true }).click();
  await page.getByLabel("Up for at most").fill("15 min");
  await page.getByRole("button", { name: "It is under again" }).click();
  await expect(page.locator(".log")).toContainText("floated");
  await expect(pull).not.toHaveText(before);
  await page.setViewportSize(phone);
  await fits(page);
  await accessible(page);
});

test("the calendar is read by another program, and a second download updates the first", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?intact=whole&ready=tomorrow+19:30`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  const read = (text) => {
    expect(text.split("\r\n").every((line) => Buffer.byteLength(line) <= 75), "lines are folded at 75 octets").toBe(true);
    const calendar = new ICAL.Component(ICAL.parse(text));
    expect(calendar.getFirstPropertyValue("version")).toBe("2.0");
    return calendar.getAllSubcomponents("vevent").map((e) => {
      const event = new ICAL.Event(e);
      const alarms = e.getAllSubcomponents("valarm");
      expect(alarms).toHaveLength(1);
      expect(alarms[0].getFirstPropertyValue("action")).toBe("DISPLAY");
      expect(alarms[0].getFirstPropertyValue("trigger").toSeconds()).toBe(0);
      return { uid: event.uid, sequence: event.sequence, summary: event.summary, start: event.startDate.toJSDate(), utc: event.startDate.zone.tzid };
    });
  };
  const first = read(await download(page, "Into the calendar"));
  const drop = first.find((e) => e.uid.startsWith("drop."));
  expect(first.every((e) => e.utc === "UTC")).toBe(true);
  expect(new Set(first.map((e) => e.uid)).size).toBe(first.length);
  // In the kitchen it is an hour later than in UTC.
  const shown = await page.locator("#step-drop .step-at").textContent();
  const vienna = drop.start.toLocaleTimeString("en-GB", { timeZone: "Europe/Vienna", hour: "2-digit", minute: "2-digit" });
  expect(shown).toContain(vienna);
  await page.locator("#step-bag").getByRole("button", { name: "Bagged" }).click();
  await expect(page.locator("#step-bag")).toContainText("done");
  const second = read(await download(page, "Into the calendar"));
  // What is done has left, and what comes before it and is passed; the rest are the same entries, newer.
  const passed = await page.locator("#steps .step-done").filter({ hasText: /^passed$/ }).count();
  expect(second.length).toBe(first.length - 1 - passed);
  for (const event of second) {
    const was = first.find((e) => e.uid === event.uid);
    expect(was, event.uid).toBeTruthy();
    expect(event.sequence).toBeGreaterThan(was.sequence);
  }
});

test("a plan taken along is opened by dropping it on the page", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?food=cod-fillet&parasites=frozen&thickness=31+mm&weight=280+g&typed_in=c-mm`);
  const text = await download(page, "This plan as a file");
  expect(JSON.parse(text).format).toBe("hold-steady/plan");
  await page.goto(`${url}/plan`);
  const drop = async (content) => {
    const files = await page.evaluateHandle((json) => {
      const data = new DataTransfer();
      data.items.add(new File([json], "a.plan.json", { type: "application/json" }));
      return data;
    }, content);
    await page.dispatchEvent("body", "drop", { dataTransfer: files });
  };
  await drop(text);
  await expect(page.getByRole("combobox", { name: "Food", exact: true })).toHaveValue("cod");
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue("31 mm");
  await expect(page.getByLabel("Weight in one bag")).toHaveValue("280 g");
  await drop('{\n"format": "hold-steady/plan",\n"version": }');
  await expect(page.locator("#problem")).toContainText("line 3");
  await accessible(page);
});

test("a preset asks for all that is about today's piece and guests, and plans it", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?food=beef-ribeye&thickness=40+mm&bath=57+%C2%B0C&intact=whole&typed_in=c-mm`);
  await page.getByLabel("Keep this plan as").fill("Friday steak");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("button", { name: "Friday steak" })).toBeVisible();
  await page.goto(`${url}/plan`);
  await page.getByRole("button", { name: "Friday steak" }).click();
  await page.getByLabel("How thick is this one?").fill("33 mm");
  await page.getByLabel("How heavy, in the bag?").fill("390 g");
  await accessible(page);
  // What is left open is asked by the plan, beside its field, and nothing is assumed.
  await page.getByRole("button", { name: "Plan it" }).click();
  await expect(page.locator("#e-from")).toContainText("Say where this piece comes from");
  await expect(page.locator("#e-guests")).toContainText("Say who eats it this time");
  await expect(page.locator(".verdict")).toHaveCount(0);
  await page.goBack();
  await page.getByRole("button", { name: "Friday steak" }).click();
  const box = page.getByRole("dialog", { name: /Friday steak/ });
  await box.getByLabel("How thick is this one?").fill("33 mm");
  await box.getByLabel("How heavy, in the bag?").fill("390 g");
  await box.getByLabel("From where").selectOption("freezer");
  await box.getByLabel("For whom").selectOption("well");
  await box.getByLabel("Whole or bladed").selectOption("whole");
  await box.getByRole("button", { name: "Plan it" }).click();
  await expect(page.getByRole("combobox", { name: "From where" })).toHaveValue("freezer");
  await expect(page.getByRole("textbox", { name: "Thickness" })).toHaveValue("33 mm");
  await expect(page.getByRole("textbox", { name: "Bath temperature" })).toHaveValue("57 °C");
  await expect(page.locator("#prep-says")).toContainText("3.9 g");
  await page.getByRole("button", { name: "Friday steak" }).click();
  await page.getByRole("button", { name: "Remove this preset" }).click();
  await page.getByRole("button", { name: "Put it back" }).click();
  await expect(page.getByRole("button", { name: "Friday steak" })).toBeVisible();
});

test("the print is one page, with a code that leads to the cook", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  for (const query of ["intact=whole", "food=beef-cheek&intact=whole&weight=1.2+kg&typed_in=c-mm", "food=egg-custard"]) {
    await page.goto(`${url}/plan?${query}`);
    await page.getByRole("button", { name: "Start this cook" }).click();
    await page.getByRole("link", { name: "One page to print" }).click();
    await expect(page.locator(".sheet-code svg")).toBeVisible();
    await expect(page.locator(".sheet-steps li").first()).toBeVisible();
    await accessible(page);
    // The code, read by another program, is the address of the cook.
    const pixels = await page.evaluate(async () => {
      const svg = new XMLSerializer().serializeToString(document.querySelector(".sheet-code svg"));
      const image = new Image();
      image.src = `data:image/svg+xml,${encodeURIComponent(svg)}`;
      await image.decode();
      const canvas = new OffscreenCanvas(400, 400).getContext("2d");
      canvas.drawImage(image, 0, 0, 400, 400);
      return [...canvas.getImageData(0, 0, 400, 400).data];
    });
    const code = jsQR(Uint8ClampedArray.from(pixels), 400, 400);
    expect(code?.data).toBe(page.url().replace("/print", ""));
    const pdf = (await page.pdf({ preferCSSPageSize: true, printBackground: true })).toString("latin1");
    expect(pdf.match(/\/Type\s*\/Page\b/g), query).toHaveLength(1);
  }
});

// The live board: lanes and devices, two pages at once, a line that is cut, alarms, a power cut, a log brought in.
import { accessible, expect, fits, heard, tank, test } from "./kitchen.mjs";

async function device(page, url, name) {
  await page.goto(`${url}/devices`);
  await page.getByLabel("Make one known: its name").fill(name);
  await page.getByRole("button", { name: "Make its token" }).click();
  const token = await page.locator(".token-text").textContent();
  await expect(page.locator(".token pre")).toContainText("/api/v1/readings");
  return token;
}

const report = (url, token, readings, set = 60) => fetch(`${url}/api/v1/readings`, {
  method: "POST",
  headers: { authorization: `Bearer ${token}`, "content-type": "application/json" },
  body: JSON.stringify({ readings, set_celsius: set }),
}).then((r) => r.json());

async function cook(page, url, minutesAgo) {
  await page.goto(`${url}/plan?food=chicken-breast&thickness=30+mm&bath=60+%C2%B0C&typed_in=c-mm`);
  await page.locator("#f-vessel").selectOption({ label: "the tank" });
  await expect(page.locator(".plan-water")).toContainText("the tank");
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.getByLabel("happened at").fill(`${minutesAgo} min ago`);
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  await expect(page.locator(".live-what")).toContainText("Pull it");
}

test("a device is laid into a bath, a power cut is seen and said, on every open page", async ({ page, kitchen, browser }) => {
  const url = await kitchen.open();
  await tank(page, url);
  await cook(page, url, 50);
  const token = await device(page, url, "circulator");
  await page.goto(`${url}/board`);
  const lane = page.locator(".lane", { hasText: "the tank" });
  // An assumed value never looks like a reading.
  await expect(lane.locator(".lane-degrees.is-assumed")).toHaveText("60 °C");
  await expect(lane).toContainText("assumed, not read");
  await lane.getByText("devices in it").click();
  await lane.getByRole("button", { name: "circulator lies in it now" }).click();
  await expect(lane).toContainText("circulator reports this bath");
  const second = await browser.newPage();
  await second.goto(`${url}/board`);
  // What a hand opened and typed stays through what the board is told.
  await page.getByText(/^more/).click();
  await page.getByLabel(/out of the water/).fill("soo");
  expect((await report(url, token, [{ celsius: 60.0 }])).taken).toBe(1);
  for (const p of [page, second]) {
    await expect(p.locator(".lane-degrees")).toHaveText("60.0 °C");
    await expect(p.locator(".lane-degrees.is-assumed")).toHaveCount(0);
  }
  await expect(page.getByLabel(/out of the water/)).toBeVisible();
  await expect(page.getByLabel(/out of the water/)).toHaveValue("soo");
  await page.getByText(/^more/).click();
  await expect(lane.locator(".bag-verdict")).toContainText("warming through until");
  const before = await lane.locator(".bag-says").textContent();
  await accessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await fits(page);
  await page.setViewportSize({ width: 1280, height: 800 });
  // The probe hangs out of the water.
  await expect.poll(async () => (await report(url, token, [{ celsius: 40.1 }])).taken).toBe(1);
  for (const p of [page, second]) {
    await expect(p.locator(".lane-trouble")).toContainText("is the probe in the water?");
    await expect(p.locator("#flash")).toContainText("jumped from 60.0 °C to 40.1 °C");
  }
  // Heard on one screen, it rings on the other until it is heard there.
  await heard(second);
  await expect(page.locator("#flash")).toBeVisible();
  await heard(page);
  // What such a reading does to the bag is shown, until it is struck out.
  await expect(lane.locator(".bag-says")).not.toHaveText(before);
  await lane.getByRole("link", { name: "the tank" }).click();
  await page.getByRole("button", { name: /strike out read 40.1/ }).click();
  await expect(page.getByText("Written down.")).toBeVisible();
  await page.goto(`${url}/board`);
  await expect(page.locator(".lane-degrees")).toHaveText("60.0 °C");
  await second.close();
});

test("a line that is cut is said at once, and a server that comes back shows the same board", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  const port = kitchen.port;
  await tank(page, url);
  await cook(page, url, 20);
  const token = await device(page, url, "circulator");
  await page.goto(`${url}/devices`);
  await page.getByLabel("It lies in").selectOption({ label: "the tank" });
  await Promise.all([page.waitForEvent("load"), page.getByRole("button", { name: "Say so" }).click()]);
  expect((await report(url, token, [{ celsius: 59.9 }])).taken).toBe(1);
  await page.goto(`${url}/board`);
  await expect(page.locator(".lane-degrees")).toHaveText("59.9 °C");
  kitchen.troubled = true;
  await kitchen.kill();
  await expect(page.locator("#board-says")).toContainText("No line to the kitchen’s machine since");
  await expect(page.locator("#board")).toHaveClass(/is-old/);
  await kitchen.open({ port, clock: "2026-11-25T16:01:00Z" });
  await expect(page.locator("#board-says")).toContainText("was started anew");
  await expect(page.locator("#board")).not.toHaveClass(/is-old/);
  await expect(page.locator(".lane-degrees")).toHaveText("59.9 °C");
  await expect(page.locator(".bag-title")).toContainText("Chicken breast");
  await page.locator("#board-says").click();
  await expect(page.locator("#board-says")).toBeHidden();
});

test("a log is looked at before it is taken, line by line", async ({ page, kitchen }) => {
  const url = await kitchen.open({ clock: "2026-11-25T15:00:00Z" });
  await page.goto(`${url}/bath`);
  await page.locator("#thermometer-name").fill("logger");
  await page.locator("form", { has: page.locator("#thermometer-name") }).getByRole("button").click();
  await expect(page.locator(".thermometer")).toContainText("logger");
  const bath = await tank(page, url);
  await kitchen.kill();
  const again = await kitchen.open({ clock: "2026-11-25T18:00:00Z" });
  await page.goto(`${again}/bath/runs/${bath}`);
  await page.getByText("Bring in a log").click();
  const log = "Time;Temp\n2026-11-25 16:10;140,1\n2026-11-25 16:11;140,2\n2026-11-25 16:11;140\n2026-11-25 15:00;60\nlater;60\n2026-11-25 16:12;139,9\n";
  await page.getByLabel(/The log’s text/).fill(log);
  await page.getByRole("button", { name: "Look at it first" }).click();
  await expect(page.locator(".log-columns")).toContainText("“Temp”, in °C");
  await expect(page.locator(".not-taken li")).toHaveCount(5);
  await page.getByLabel("Bare numbers are").selectOption("f");
  await page.getByRole("button", { name: "Look again" }).click();
  await expect(page.locator(".log-columns")).toContainText("3, from Wed 25 Nov, 16:10");
  await expect(page.locator(".not-taken")).toContainText("line 4: 2026-11-25T15:11:00Z was read in an earlier line already.");
  await expect(page.locator(".not-taken")).toContainText("line 6: “later” is no date with a time of day.");
  await accessible(page);
  await page.getByRole("button", { name: "Write down these 3" }).click();
  await expect(page.locator("[role=status]")).toContainText("3 readings were written down, 3 lines were not taken");
  await page.getByRole("link", { name: "To the bath" }).click();
  await expect(page.locator(".run-log")).toContainText("read 60.1 °C with logger");
});

test("the demonstration's circulators report, faster than the clock, and what is due is heard", async ({ page, kitchen }) => {
  const url = await kitchen.open({ demo: true, rate: 60 });
  await page.goto(`${url}/board`);
  await expect(page.locator(".lane")).toHaveCount(3);
  const tank = page.getByRole("region", { name: "the weir tank" });
  await expect(tank).toContainText("set to 66 °C");
  const read = await tank.locator(".lane-says").textContent();
  await expect(tank.locator(".lane-says")).not.toHaveText(read);
  await expect(tank.locator(".lane-line polyline")).toHaveCount(1);
  await expect(tank.locator(".bag-says")).toContainText("of the way to safe", { timeout: 60_000 });
  await tank.getByText(/^more/).click();
  await expect(tank.locator(".bag-more")).toContainText("of what is needed");
  // An hour and a half is ninety seconds here.
  await expect(page.locator("#flash")).toBeVisible({ timeout: 120_000 });
  await expect(page).toHaveTitle(/⚠/);
  await heard(page);
  await page.goto(`${url}/board/kiosk`);
  await expect(page.locator(".lane")).toHaveCount(3);
  await accessible(page);
});

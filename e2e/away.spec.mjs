// The kitchen's machine gone, slow, failing or restarted: what the pages say then, and that no tap is lost.
import { chromium } from "@playwright/test";
import { test, expect } from "./kitchen.mjs";

const plan = (url) => `${url}/plan?food=beef-strip&intact=whole&thickness=25+mm&bath=55&typed_in=c-mm`;
const lost = (page) => page.locator("#lost-answer");
const thickness = (page) => page.locator("#f-thickness");
const verdict = (page) => page.locator("#answer .verdict h2");

async function retype(page, text) {
  await thickness(page).fill(text);
  // At once, before anything has been asked: it is not that sentence's answer.
  await expect(page.locator("#answer")).toHaveAttribute("aria-busy", "true");
  // Off, or gone with the answer already: where nothing listens the refusal comes faster than this line.
  await expect(page.locator("#answer .start button:enabled")).toHaveCount(0);
}

async function nothingOld(page) {
  await expect(page.locator("#answer")).not.toContainText(/Pasteurised|Drop by|Serve|\d\d:\d\d/);
  await expect(page.locator("#answer form")).toHaveCount(0);
  await expect(thickness(page)).toHaveValue("60 mm");
}

test("with the machine gone no old answer stands beside the new sentence, and the new one comes by itself", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  const url = await kitchen.open();
  await page.goto(plan(url));
  await expect(verdict(page)).toBeVisible();
  await kitchen.kill();
  await retype(page, "60 mm");
  await expect(lost(page)).toContainText("cannot be reached");
  await nothingOld(page);
  await kitchen.open({ port: kitchen.port });
  await expect(verdict(page)).toBeVisible({ timeout: 15_000 });
  await expect(lost(page)).toHaveCount(0);
  await expect(page.locator("#answer")).toHaveAttribute("aria-busy", "false");
  await expect(page.locator("#sentence-hidden input[name=food_was]")).toHaveValue("beef-strip");
});

test("a machine that hangs for four seconds, and one that fails, are said to", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  const url = await kitchen.open();
  await page.goto(plan(url));
  kitchen.pause();
  await retype(page, "60 mm");
  await expect(lost(page)).toContainText("has not answered for four seconds", { timeout: 9_000 });
  await nothingOld(page);
  kitchen.resume();
  await expect(verdict(page)).toBeVisible({ timeout: 15_000 });
  let failures = 0;
  await page.route("**/plan/answer?*", (route) => {
    failures += 1;
    return failures > 2 ? route.continue() : route.fulfill({ status: failures === 1 ? 500 : 503, body: "no" });
  });
  await thickness(page).fill("30 mm");
  await expect(lost(page)).toContainText("Something failed");
  await expect(lost(page)).toContainText("busy", { timeout: 9_000 });
  await expect(verdict(page)).toBeVisible({ timeout: 15_000 });
  expect(failures).toBe(3);
});

test("an answer typed back to what it was is no longer old", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(plan(url));
  await retype(page, "26 mm");
  await thickness(page).fill("25 mm");
  await expect(page.locator("#answer")).toHaveAttribute("aria-busy", "false");
  await expect(page.locator("#answer .start button")).toBeEnabled();
});

test("an answer on its way while more is typed stays marked as old", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(plan(url));
  // The first answer is held back until more was typed; the next until the first was looked at.
  const asked = [];
  const held = [];
  await page.route("**/plan/answer?*", async (route) => {
    asked.push(new URL(route.request().url()).searchParams.get("thickness"));
    const answer = await route.fetch().catch(() => null);
    await new Promise((resolve) => held.push(resolve));
    if (answer) await route.fulfill({ response: answer }).catch(() => {});
  });
  await retype(page, "40 mm");
  await expect.poll(() => held.length).toBe(1);
  await page.evaluate(() => {
    document.addEventListener("htmx:afterSettle", (e) => { if (e.target.querySelector?.("input[name=thickness]")?.value === "40 mm") window.settledBusy = e.target.getAttribute("aria-busy"); });
  });
  // What is typed is said by the page before it asks again, 300 ms later.
  await page.evaluate(() => {
    const field = document.getElementById("f-thickness");
    field.focus();
    field.value = "60 mm";
    field.dispatchEvent(new InputEvent("input", { bubbles: true }));
  });
  held[0]();
  await expect.poll(() => held.length).toBe(2);
  expect(asked).toEqual(["40 mm", "60 mm"]);
  held[1]();
  await expect(page.locator("#answer .start button")).toBeEnabled();
  // Where the first answer came at all, it stood there as old.
  expect(await page.evaluate(() => window.settledBusy ?? "true")).toBe("true");
  await expect(page.locator("#answer input[name=thickness]").first()).toHaveValue("60 mm");
});

test("what is answered is not asked again when a blank is left, and the keyboard keeps its place", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(plan(url));
  let asked = 0;
  page.on("request", (r) => { asked += r.url().includes("/plan/answer") ? 1 : 0; });
  await thickness(page).focus();
  await page.keyboard.type("40 mm");
  await expect(page.locator("#answer input[name=thickness]").first()).toHaveValue("40 mm");
  await expect(thickness(page)).toBeFocused();
  // Out of the blank with a click on nothing, then on by key.
  await page.mouse.click(4, 400);
  await page.keyboard.press("s");
  await expect(page.locator("#start")).toBeFocused();
  // Some while in which a browser that tells of a change once more would have had its answer.
  await expect.poll(() => asked, { intervals: [700] }).toBe(1);
  await expect(page.locator("#start")).toBeFocused();
});

test("the cook's clocks say how old the last word is, and go on", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  const url = await kitchen.open();
  await page.goto(plan(url));
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.getByRole("button", { name: "Dropped" }).click();
  await expect(page.locator(".centre-now")).toBeVisible();
  await kitchen.kill();
  const away = page.locator("#live-away");
  await expect(away).toContainText("No word from the kitchen’s machine for", { timeout: 20_000 });
  await expect(away).toContainText(/those of \d\d:\d\d:\d\d/);
  const left = page.locator(".live-when [data-until]");
  const then = await left.textContent();
  // In minutes: within one.
  await expect(left).not.toHaveText(then, { timeout: 65_000 });
  await kitchen.open({ port: kitchen.port, clock: "2026-11-25T16:01:00Z" });
  await expect(away).toHaveCount(0, { timeout: 20_000 });
});

test("a tap while the machine is away waits in the page and is sent once, with the time it was tapped", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  const url = await kitchen.open();
  await page.goto(plan(url));
  await page.getByRole("button", { name: "Start this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
  const cook = page.url();
  await kitchen.kill();
  await page.getByRole("button", { name: "Dropped" }).click();
  await expect(page.locator("#waiting")).toContainText("“Dropped”, tapped at");
  expect(page.url()).toBe(cook);
  // Somebody walks over to the machine.
  for (const _ of [1, 2]) await page.waitForEvent("requestfailed");
  await kitchen.open({ port: kitchen.port, clock: "2026-11-25T16:07:00Z" });
  await expect(page.getByRole("button", { name: "Pulled" })).toBeVisible({ timeout: 15_000 });
  await expect(page.locator("#waiting")).toHaveCount(0);
  const dropped = page.locator(".log li").filter({ hasText: "dropped" });
  await expect(dropped).toHaveCount(1);
  // Some seconds before the machine was back, whatever its clock says now.
  await expect(dropped.locator(".log-at")).toHaveText("17:06");
});

test("two taps that wait are two events, in their order, and a tap made before they are sent comes after them", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  const url = await kitchen.open();
  await page.goto(plan(url));
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.getByLabel("happened at").fill("3 h ago");
  await page.getByRole("button", { name: "Dropped" }).click();
  await page.getByRole("button", { name: "Pulled" }).click();
  await expect(page.getByRole("button", { name: "Dried" })).toBeVisible();
  // The same form, two buttons, while the machine is away.
  await page.route("**/event", (route) => route.abort("connectionrefused"));
  await page.locator("form.act").getByRole("button", { name: "Dried" }).click();
  await expect(page.locator("#waiting p")).toHaveCount(1);
  await page.locator("form.act").getByRole("button", { name: "Dried" }).click();
  await page.locator("form.act").getByRole("button", { name: "Eaten" }).click();
  await expect(page.locator("#waiting p")).toHaveCount(2);
  await page.unroute("**/event");
  await expect(page.locator("#waiting")).toHaveCount(0, { timeout: 15_000 });
  for (const what of ["dried", "eaten"]) await expect(page.locator(".log li").filter({ hasText: what })).toHaveCount(1);
});

test("a tap whose answer was lost is one event", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  const url = await kitchen.open();
  await page.goto(plan(url));
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.getByRole("button", { name: "Dropped" }).click();
  await expect(page.getByRole("button", { name: "Pulled" })).toBeVisible();
  let once = true;
  await page.route("**/event", async (route) => {
    if (!once) return route.continue();
    once = false;
    // It arrives, and the answer does not.
    await route.fetch({ maxRedirects: 0 });
    return route.abort("connectionreset");
  });
  await expect(page.getByRole("button", { name: "Pulled", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Something’s wrong" }).click();
  await page.getByText("It floats").click();
  await page.getByLabel("Up for at most").fill("0 min");
  await page.getByRole("button", { name: "It is under again" }).click();
  await expect(page.locator("#waiting")).toBeVisible();
  await expect(page.locator("#waiting")).toHaveCount(0, { timeout: 15_000 });
  await page.reload();
  await expect(page.locator(".log li").filter({ hasText: "floated" })).toHaveCount(1);
});

test("a waiting tap that cannot be taken is handed back with the reason", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  const url = await kitchen.open();
  await page.goto(plan(url));
  await page.getByRole("button", { name: "Start this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
  await page.route("**/event", (route) => route.abort("connectionrefused"));
  await page.getByRole("button", { name: "Dropped" }).click();
  await expect(page.locator("#waiting")).toBeVisible();
  // Somebody else has tapped it meanwhile.
  const other = await page.request.post(`${page.url()}/event`, { form: { what: "dropped" }, headers: { Origin: url } });
  expect(other.ok()).toBe(true);
  await page.unroute("**/event");
  await expect(page.locator("#refused-tap")).toContainText("already written down", { timeout: 15_000 });
  await expect(page.locator("#waiting")).toHaveCount(0);
});

test("a page of another site whose name is pointed at this machine reads nothing", async ({ kitchen }) => {
  const url = await kitchen.open();
  const port = new URL(url).port;
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: ["--no-sandbox", "--host-resolver-rules=MAP evil.example 127.0.0.1",
      // Its own guard against pages that reach into the network; a browser without it must be refused too.
      "--disable-features=LocalNetworkAccessChecks,BlockInsecurePrivateNetworkRequests"],
  });
  try {
    const page = await browser.newPage();
    await page.route("**/attack", (route) => route.fulfill({ contentType: "text/html", body: "<h1>Recipes</h1>" }));
    await page.goto(`http://evil.example:${port}/attack`);
    const read = (headers) => page.evaluate(async (h) => {
      const answer = await fetch("/book/export.json", { headers: h });
      return [answer.status, (await answer.text()).includes("hold-steady/kitchen")];
    }, headers);
    for (const headers of [{}, { "X-Forwarded-Host": "localhost" }, { Forwarded: "host=localhost" }]) {
      expect(await read(headers)).toEqual([403, false]);
    }
    const own = await page.goto(`http://evil.example:${port}/book`);
    expect(own.status()).toBe(403);
  } finally {
    await browser.close();
  }
});

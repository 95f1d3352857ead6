// The bath: a cooler from filling to the verdict, a pot on the stove, the bench, thermometers that are off.
import { accessible, expect, fits, test, vessel } from "./kitchen.mjs";

async function thermometer(page, url, name, read, is) {
  await page.goto(`${url}/bath`);
  await page.locator("#thermometer-name").fill(name);
  await page.locator("form", { has: page.locator("#thermometer-name") }).getByRole("button").click();
  const own = page.locator(".thermometer", { hasText: name });
  await expect(own).toContainText("never checked");
  if (read === undefined) return;
  await own.locator("summary").click();
  await own.getByLabel("It reads").fill(read);
  await own.getByLabel("The better one reads").fill(is);
  await own.getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator(".thermometer", { hasText: name })).toContainText("taken off its readings");
}

async function read(page, degrees, when, probe) {
  await page.locator("#degrees").fill(degrees);
  if (probe) await page.locator(".read-form select[name=thermometer]").selectOption({ label: probe });
  await page.getByLabel("read at").fill(when);
  const lines = await page.locator(".run-log li").count();
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator(".run-log li")).toHaveCount(lines + 1);
  await expect(page.locator(".run-log")).toContainText(`read ${degrees}`);
}

async function begin(page) {
  await page.getByRole("button", { name: /It is filled/ }).click();
  await expect(page).toHaveURL(/\/bath\/runs\//);
}

async function startIn(page, url, query, name) {
  await page.goto(`${url}/plan?${query}`);
  await page.locator("#f-vessel").selectOption({ label: name });
  await expect(page.locator(".plan-water")).toContainText(name);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
}

test("a cooler, from filling to the verdict: what is read counts, and nothing else", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await vessel(page, url, "20 l insulated cooler", "the picnic box");
  const line = (what) => page.locator(".bench-line", { hasText: what });
  await page.locator("#b-target").fill("61 °C");
  await expect(line("Fill at").locator(".bench-figure")).toHaveText(/^6[345](\.\d)? °C$/);
  await expect(line("Look every")).toContainText("30 min");
  await expect(line("Scalds")).toContainText("tongs");
  await accessible(page);
  await thermometer(page, url, "thin probe", "57.0", "57.0");
  await page.goto(`${url}/bath`);
  await page.getByRole("link", { name: /the picnic box/ }).first().click();
  await page.locator("#b-target").fill("61 °C");
  await expect(line("Fill at").locator(".bench-figure")).toHaveText(/^6[345]/);
  await begin(page);
  await expect(page.locator(".live-what")).toHaveText("Stir and read it");
  await expect(page.locator("[role=alert]").first()).toContainText("Nobody has read this water");
  const run = page.url();
  await startIn(page, url, "food=chicken-breast&thickness=30+mm&bath=61&guests=at-risk&typed_in=c-mm", "the picnic box");
  await page.getByLabel("happened at").fill("200 min ago");
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  // Never read: nothing is known of it, so nothing is safe.
  await expect(page.locator(".verdict")).toHaveClass(/verdict-refused/);
  const cook = page.url();
  await page.goto(run);
  // As water cools: by less the less warm it is.
  const fallen = (min) => 21 + 47 * Math.exp(-(202 - min) / 1479);
  for (const min of [202, 180, 160, 140, 120, 100, 80, 60, 40, 20]) await read(page, `${fallen(min).toFixed(1)} °C`, `${min} min ago`);
  await read(page, "62.0 °C", "");
  await expect(page.locator("main")).toContainText("read right at 57 °C");
  await accessible(page);
  await page.goto(cook);
  await expect(page.locator(".verdict")).toHaveClass(/verdict-pasteurized/);
  // Its readings teach what it loses.
  await page.goto(run);
  await page.getByRole("button", { name: "Go by that from now on" }).click();
  await expect(page.getByRole("status")).toContainText("Learned");
  // Food is in it: it is not emptied.
  await page.getByRole("button", { name: "It was emptied" }).click();
  await expect(page.locator(".water-acts [role=alert]")).toContainText("Pull it first");
});

test("a pot on the stove for eggs: kettle water, a lid, a mistyped reading, two thermometers that disagree", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await vessel(page, url, "8 l pot on the stove", "the egg pot");
  await thermometer(page, url, "thin probe", "57.4", "57.0");
  await thermometer(page, url, "old dial");
  await page.goto(`${url}/bath`);
  await page.getByRole("link", { name: /the egg pot/ }).first().click();
  await page.locator("#b-target").fill("57");
  await page.locator("#b-food").fill("700 g");
  await expect(page.locator(".bench-line", { hasText: "Fill at" })).toContainText("on the burner");
  await begin(page);
  await startIn(page, url, "food=shell-egg-large&use=raw&bath=57&typed_in=c-mm", "the egg pot");
  await page.getByLabel("happened at").fill("170 min ago");
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  const cook = page.url();
  await page.goto(`${url}/bath`);
  await page.getByRole("link", { name: /the egg pot .*read it|the egg pot.*Stir/ }).first().click();
  for (let min = 172; min > 5; min -= 8) await read(page, "57.8 °C", `${min} min ago`, "thin probe");
  await read(page, "5.7 °C", "3 min ago", "thin probe");
  await page.goto(cook);
  await expect(page.locator(".centre-now")).not.toHaveText(/^57/);
  await page.goBack();
  await page.getByRole("button", { name: "Mistyped: strike out read 5.7 °C with thin probe" }).click();
  await expect(page.locator(".run-log s")).toHaveText("read 5.7 °C with thin probe");
  await read(page, "57.8 °C", "1 min ago", "thin probe");
  await page.goto(cook);
  await expect(page.locator(".verdict")).toHaveClass(/verdict-pasteurized/);
  await page.goBack();
  // Kettle water, as the page says it.
  await read(page, "56.0 °C", "", "thin probe");
  await expect(page.locator(".live-what")).toHaveText(/^Warm it to 57\.6 °C$/);
  await expect(page.locator(".live-expect").first()).toContainText("from the kettle");
  await expect(page.getByLabel("added")).toHaveValue(/^\d+ ml$/);
  await page.getByRole("button", { name: "Added", exact: true }).click();
  await expect(page.getByRole("status")).toContainText("read it again");
  await page.getByRole("button", { name: "It was open" }).click();
  // The next reading is one tap.
  await page.getByRole("button", { name: "Write down 55.9 °C" }).click();
  await expect(page.locator(".run-log")).toContainText("read 55.9 °C with thin probe");
  await expect(page.locator(".run-log")).toContainText("open for 2 min");
  await read(page, "57.9 °C", "", "thin probe");
  await read(page, "60.1 °C", "", "old dial");
  await expect(page.locator("main")).toContainText("The lower one is believed");
  await expect(page.locator(".sides li")).toHaveCount(2);
  await accessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await fits(page);
  // Wrong input is said beside it, and kept.
  await page.locator("#degrees").fill("570");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator("#e-degrees")).toContainText("0 °C to 100 °C");
  await expect(page.locator("#degrees")).toHaveValue("570");
});

test("the bench answers at once, keeps what is wrong, and a plan takes its vessel's water", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await vessel(page, url, "12 l clear box", "the box");
  const line = (what) => page.locator(".bench-line", { hasText: what });
  await page.locator("#b-hours").fill("72 h");
  await page.locator("#b-cover").selectOption("none");
  await expect(line("Evaporates")).toContainText("Top up");
  await expect(line("Evaporates")).toContainText("with a lid");
  await page.locator("#b-target").fill("92");
  await expect(line("Too hot for it")).toContainText("90 °C");
  await page.locator("#b-target").fill("hot");
  await expect(page.locator("#bench-errors")).toContainText("“hot” is not a temperature");
  await expect(page.locator("#b-target")).toHaveValue("hot");
  await page.locator("#b-target").fill("55");
  await page.locator("#b-food").fill("40 kg");
  await expect(line("Water in")).toContainText("no room between the lines");
  await expect(page).toHaveURL(/food=40\+kg/);
  await page.reload();
  await expect(page.locator("#b-food")).toHaveValue("40 kg");
  // A plan into it: still warming is a choice with its own times.
  await page.goto(`${url}/plan?intact=whole&bath=60&typed_in=c-mm`);
  await page.locator("#f-vessel").selectOption({ label: "the box" });
  await expect(page.locator(".plan-water")).toContainText("Water in");
  const drop = page.locator("#answer .big").first();
  const before = await drop.textContent();
  await page.locator("#f-heated").selectOption("warming");
  await expect(drop).not.toHaveText(before);
  await accessible(page);
  // Taken off the list, and put back.
  await page.goto(`${url}/bath`);
  await page.getByRole("link", { name: /^Change/ }).click();
  await page.getByLabel("Highest water line").fill("900 mm");
  await page.getByRole("button", { name: "Keep the change" }).click();
  await expect(page.locator("#e-max")).toContainText("brim");
  await accessible(page);
  await page.getByRole("button", { name: "Take it off the list" }).click();
  await page.getByRole("button", { name: "Put it back" }).click();
  await expect(page.getByRole("link", { name: /^the box/ })).toBeVisible();
});

// The finish: plan to finish to book; a sentence that is mistyped, changed and reloaded; the plan's own sear.
import { accessible, expect, fits, test } from "./kitchen.mjs";

const tap = (page, name) => page.locator("form.act").getByRole("button", { name, exact: true }).click();

test("from the plan to the finish, paced, to the book", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?food=beef-strip&thickness=38+mm&bath=54+%C2%B0C&intact=whole&typed_in=c-mm`);
  await expect(page.locator(".seared")).toContainText(/Finish it so: open and dry it, .* s a face.* in a cast iron pan at \d+ °C/);
  await expect(page.locator(".seared")).not.toContainText("a bath at");
  // Pulled early, the middle stays colder: the late control says what the sear makes of it.
  await page.locator("#late").fill("60");
  const early = await page.locator("#stop-seared").textContent();
  await page.locator("#late").fill("170");
  await expect(page.locator("#stop-seared")).not.toHaveText(early);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.getByLabel("happened at").fill("175 min ago");
  await tap(page, "Dropped");
  await page.getByLabel("happened at").fill("1 min ago");
  await tap(page, "Pulled");
  await tap(page, "Dried");
  // Nobody seared it yet: what it may be served as hangs on that.
  await expect(page.locator("#live .verdict")).toContainText("Only once every face and edge is seared");
  await page.getByRole("link", { name: "What a sear does to this piece" }).click();
  await expect(page).toHaveURL(/\/finish\?cook=/);
  await expect(page.locator(".finish-figures")).toContainText("on average");
  await expect(page.locator(".finish-go")).toContainText("from the pull");
  await accessible(page);
  await page.locator(".proposal", { hasText: "Fastest" }).click();
  await expect(page.locator(".proposal.is-chosen")).toContainText("Fastest");
  // Chosen for the cook, its work goes by it; and from there one comes back to it as it was chosen.
  const face = await page.locator("#s-face").inputValue();
  const hot = await page.locator("#s-at").inputValue();
  await page.getByRole("button", { name: "Choose it for this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/.*#step-heat$/);
  await expect(page.locator("#step-heat")).toContainText(`Heat a cast iron pan to ${hot}`);
  await expect(page.locator("#step-sear")).toContainText(`${face} a face`);
  await expect(page.locator(".log")).toContainText("finish chosen");
  await accessible(page);
  await page.getByRole("link", { name: "What a sear does to this piece" }).click();
  await expect(page.locator(".finish-go")).toContainText("This is the finish chosen for it");
  await expect(page.locator("#s-face")).toHaveValue(face);
  await page.getByRole("link", { name: "Begin" }).click();
  await expect(page.locator("#pace-list")).toContainText(`First face down ${face}`);
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.locator("#pace-count")).toHaveText(/^\d/);
  await accessible(page);
  // Reloaded in the middle of it, it goes on counting.
  await page.keyboard.press(" ");
  const now = await page.locator("#pace-what").textContent();
  await page.reload();
  await expect(page.locator("#pace-what")).toHaveText(now);
  await expect(page.locator("#pace-count")).toHaveText(/^[+\d]/);
  // The hands are faster than the clock here; space is as good as the button.
  for (let i = 0; i < 30 && await page.locator("#pace-on").isVisible(); i += 1) await page.keyboard.press(" ");
  await expect(page.locator("#pace-what")).toHaveText("Done. Cut and look.");
  await expect(page.locator("#pace-faces")).toHaveValue("1 + 1");
  await page.locator("#pace-faces").fill("44 + 46");
  await page.getByLabel("the faces, not the edges").check();
  await page.getByRole("button", { name: "Into the record" }).click();
  await expect(page).toHaveURL(/\/cook\//);
  await expect(page.locator(".log")).toContainText("the faces, not the edges");
  await expect(page.locator("#live .verdict")).toContainText("Only once every face and edge is seared");
  // The edges too, after all.
  await page.locator("#log").evaluate((log) => { log.open = true; });
  await page.getByRole("button", { name: "Undo seared" }).click();
  await expect(page.locator("#faces")).toBeVisible();
  await page.locator("#faces").fill("44 + 46");
  await page.getByLabel("both faces and every edge").check();
  await tap(page, "Seared");
  await expect(page.locator(".log")).toContainText("every face and edge");
  await expect(page.locator("#live .verdict")).not.toContainText("Only once");
  await tap(page, "Eaten");
  await page.getByText("as wanted", { exact: true }).click();
  await page.getByRole("button", { name: "Into the book" }).click();
  await expect(page).toHaveURL(/\/book$/);
  const entry = page.locator(".entry").first();
  await entry.locator("summary").click();
  await expect(entry.locator("tr", { hasText: "Sear" })).toContainText("44 + 46 s");
  await expect(entry.locator("tr", { hasText: "Sear" })).toContainText(`a cast iron pan at ${hot}`);
});

test("a sentence mistyped, another hearth, reload, a phone, the slice scrubbed", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/finish`);
  await expect(page.locator("#s-hearth")).toHaveValue("iron-pan");
  await page.locator("#s-thickness").fill("1 1/2 in");
  await page.locator("#s-thickness").press("Tab");
  await expect(page).toHaveURL(/thickness=1\+1/);
  await expect(page.locator(".finish-slice h2")).toContainText("38 mm");
  await page.locator("#s-rest").fill("for ever");
  await page.locator("#s-rest").press("Tab");
  await expect(page.locator("#finish-errors")).toContainText("“for ever” is not a time from 0 s to 60 min.");
  await expect(page.locator("#s-rest")).toHaveValue("for ever");
  await page.locator("#s-rest").fill("2 min");
  await page.locator("#s-rest").press("Tab");
  await expect(page.locator("#finish-errors .field-error")).toHaveCount(0);
  // Another hearth: its own temperature, and a pattern looked for anew.
  await page.locator("#s-hearth").selectOption("deep-oil");
  await expect(page.locator("#s-at")).toHaveValue("200 °C");
  await expect(page.locator(".cautions")).toContainText("Never above 204 °C");
  await page.locator("#s-at").fill("230");
  await page.locator("#s-at").press("Tab");
  await expect(page.locator("#finish-errors")).toContainText("to 204 °C");
  await page.locator("#s-hearth").selectOption("charcoal");
  await expect(page.locator("#s-at")).toHaveCount(0);
  await expect(page.locator(".finish-figures")).toContainText("30 min");
  const figures = await page.locator(".finish-figures").textContent();
  await page.reload();
  await expect(page.locator(".finish-figures")).toHaveText(figures);
  // Thin and thick from one bath, and who gets which; a size that is none is named and kept.
  await page.locator("#s-hearth").selectOption("iron-pan");
  await page.locator("#s-sizes").fill("25 mm, 9 km");
  await page.locator("#s-sizes").press("Tab");
  await expect(page.locator("#finish-errors")).toContainText("9 km");
  await expect(page.locator("#s-sizes")).toHaveValue("25 mm, 9 km");
  await page.locator("#s-sizes").fill("25 mm, 50 mm");
  await page.locator("#s-guests").fill("Ana rare, Ben 61");
  await page.locator("#s-guests").press("Tab");
  await expect(page.locator(".finish-sizes tbody tr")).toHaveCount(3);
  await expect(page.locator(".finish-who tr").last().locator(".which")).toHaveText("25 mm");
  await page.locator("#finish-sources summary").click();
  await expect(page.locator("#finish-sources")).toContainText("J/kgK");
  // Along the sear.
  await page.locator("#finish-scrub").fill("3");
  await expect(page.locator("#finish-when")).toContainText("middle");
  const before = await page.locator("#cut-table rect").nth(2).getAttribute("fill");
  await page.locator("#finish-scrub").fill(await page.locator("#finish-scrub").getAttribute("max"));
  expect(await page.locator("#cut-table rect").nth(2).getAttribute("fill")).not.toBe(before);
  // Other ways, when they come into view.
  await page.locator(".ways").scrollIntoViewIfNeeded();
  await expect(page.locator(".way")).toHaveCount(7);
  await expect(page.locator(".way").first()).toContainText("bath, then the sear");
  await accessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await fits(page);
  await page.getByRole("button", { name: /Switch to °F/ }).click();
  await expect(page.locator("#s-bath")).toHaveValue(/°F/);
  await fits(page);
  // Two pieces through one pan: the second goes on the heat at once, and the turns of both are one sear.
  await page.goto(`${url}/finish/pace?food=beef-strip&face=30+s&pause=5+min&pieces=2&edges=1&edge=5+s&typed_in=c-mm`);
  const on = page.locator("#pace-on");
  await on.click();
  for (let i = 0; i < 30 && (await page.locator("#pace-record").isHidden()); i += 1) await on.click();
  await expect(page.locator("#pace-faces")).toHaveText("1 + 1");
  await on.click();
  await expect(page.locator("#pace-what")).toHaveText("First face down");
  while (await on.isVisible()) await on.click();
  await expect(page.locator("#pace-faces")).toHaveText("1 + 1 + 1 + 1");
});

test("what takes longer than it may be out is said", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  await page.goto(`${url}/plan?food=beef-strip&thickness=38+mm&bath=54+%C2%B0C&intact=whole&typed_in=c-mm`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await page.getByLabel("happened at").fill("175 min ago");
  await tap(page, "Dropped");
  await page.getByLabel("happened at").fill("1 min ago");
  await tap(page, "Pulled");
  await page.goto(`${url}/finish`);
  await expect(page.locator(".finish-go")).toContainText("its clocks leave");
  await expect(page.locator("#finish .note-warn")).toHaveCount(0);
  await page.locator("#s-pause").fill("2 h");
  await page.locator("#s-pause").press("Tab");
  await expect(page.locator("#finish .note-warn")).toContainText("not to be served as it was judged");
  await expect(page.locator("#s-pause")).toHaveValue("120 min");
});

test("each food is finished as a cook would, and what was typed for one is not another's", async ({ page, kitchen }) => {
  const url = await kitchen.open();
  const first = page.locator(".finish-first p");
  await page.goto(`${url}/finish?food=salmon-fillet`);
  await expect(first).toHaveText(/ s on one face$/);
  await expect(page.locator("#s-faces")).toHaveValue("one");
  await expect(page.locator("#s-edges")).toHaveValue("0");
  await expect(page.locator("#s-rest")).toHaveValue("0 s");
  // A duck: its skin, from a cold pan; and not as the salmon was.
  await page.locator("#s-food").selectOption("duck-breast");
  await expect(first).toContainText(/Into the cold pan .* skin side down, 20 s on the other face/);
  await expect(page.locator("#s-bath")).toHaveValue("57 °C");
  await expect(page.locator("#s-pan")).toHaveValue("cold");
  await expect(page.locator(".finish-figures")).toContainText("with it in");
  await accessible(page);
  await page.getByRole("link", { name: "Begin" }).click();
  await expect(page.locator("#pace-list")).toContainText("Skin down into the cold pan");
  // A burger has no rim to sear; a thin steak is done in a hotter pan, and sooner.
  await page.goto(`${url}/finish?food=burger`);
  await expect(first).toHaveText(/\d+ s a face$/);
  await page.goto(`${url}/finish?food=beef-strip&thickness=12+mm&bath=54+%C2%B0C&typed_in=c-mm`);
  await expect(page.locator("#s-at")).toHaveValue("260 °C");
  await expect(page.locator(".proposal").first()).toContainText("It smokes: the hood on");
  // Butter does not bear that, and a non-stick pan neither.
  await page.locator("#s-fat").selectOption("oil-butter");
  await expect(page).toHaveURL(/fat=oil-butter/);
  await page.getByRole("link", { name: "Propose anew" }).click();
  await expect(page.locator("#s-at")).toHaveValue(/^(190|1[5-8]\d) °C$/);
  await page.locator("#s-hearth").selectOption("coated-pan");
  await expect(page).toHaveURL(/hearth=coated-pan/);
  await page.locator("#s-at").fill("260");
  await page.locator("#s-at").press("Tab");
  await expect(page.locator("#finish-errors")).toContainText("to 230 °C");
  // Of a kitchen with bare pans more is proposed.
  await page.goto(`${url}/kitchen`);
  await page.locator("#pans").selectOption("bare");
  await page.locator("form").filter({ has: page.locator("#pans") }).getByRole("button").first().click();
  await expect(page).toHaveURL(/done=settled/);
  await page.goto(`${url}/finish?food=beef-strip&thickness=12+mm&bath=54+%C2%B0C&fat=none&typed_in=c-mm`);
  await expect(page.locator(".proposal").first()).toContainText("no oil at all");
});

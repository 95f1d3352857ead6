// One evening, plan to book: every figure that stands on more than one page is the same on each of them.
import { expect, tank, test } from "./kitchen.mjs";

const text = async (page, selector) => (await page.locator(selector).first().textContent()).replace(/\s+/g, " ").trim();
const clock = (words) => words.match(/\b\d\d:\d\d\b/)?.[0];

// The calendar's entries: what, and when by the kitchen's clock.
async function calendar(page, cook) {
  const ics = await (await page.request.get(`${cook}/steps.ics`)).text();
  const plain = ics.replace(/\r?\n[ \t]/g, "");
  return [...plain.matchAll(/BEGIN:VEVENT[\s\S]*?END:VEVENT/g)].map(([event]) => {
    const at = event.match(/DTSTART:(\d{8}T\d{6}Z)/)[1].replace(/(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)Z/, "$1-$2-$3T$4:$5:$6Z");
    const time = new Intl.DateTimeFormat("en-GB", { timeStyle: "short", timeZone: "Europe/Vienna" }).format(new Date(at));
    return { time, what: event.match(/SUMMARY:(.*)/)[1].trim() };
  });
}

// What a cook's own page says.
async function own(page, cook) {
  await page.goto(cook);
  const next = await text(page, ".live-what");
  const at = await page.locator(".live-at").count() > 0 ? clock(await text(page, ".live-at")) : undefined;
  const until = at && Number(await page.locator(".live-when [data-until]").getAttribute("data-until"));
  const centre = await page.locator(".centre-now").count() > 0 ? await text(page, ".centre-now") : undefined;
  const note = centre ? await text(page, ".live-centre .live-expect") : "";
  const verdict = await page.locator(".verdict h2").count() > 0 ? await text(page, ".verdict h2") : undefined;
  const times = Object.fromEntries(await page.locator(".live-times li").evaluateAll((all) => all.map((li) => {
    const time = li.querySelector(".tnum").textContent.trim();
    return [li.textContent.replace(time, "").trim(), time];
  })));
  return { next, at, until, centre, likely: note.match(/most likely ([\d.]+)/)?.[1], verdict, times };
}

test("a cook's figures are the same on its page, the board, the print, the calendar and the steps", async ({ page, kitchen }) => {
  kitchen.troubled = true;
  test.slow();
  let url = await kitchen.open({ clock: "2026-11-25T15:00:00Z" });
  await tank(page, url);
  await page.goto(`${url}/plan?food=chicken-breast&thickness=30+mm&bath=60+%C2%B0C&ready=19:30&typed_in=c-mm`);
  await page.locator("#f-vessel").selectOption({ label: "the tank" });
  await expect(page.locator(".plan-water")).toContainText("the tank");
  const planned = Object.fromEntries(await page.locator(".time-main").evaluateAll((all) => all.map((el) => [el.querySelector("dt").textContent.trim().toLowerCase(), el.querySelector("button").textContent.trim()])));
  const verdict = await text(page, ".verdict h2");
  await page.getByRole("button", { name: "Start this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
  const path = new URL(page.url()).pathname;
  const drop = Object.entries(planned).find(([what]) => what.includes("drop"))[1];
  const serve = Object.entries(planned).find(([what]) => /serve|eat|plate|ready|dinner/.test(what))?.[1];

  // As planned: the page, its steps, the print and the calendar.
  const said = await text(page, "#steps .soft-words");
  expect(said).toContain(`drop by ${drop}`);
  if (serve) expect(said).toContain(serve);
  const entries = await calendar(page, url + path);
  const lower = entries.find((e) => /^Lower it in/.test(e.what));
  expect(lower.time).toBe(drop);
  const print = await page.request.get(`${url}${path}/print`).then((r) => r.text());
  expect(print).toContain(drop);
  expect(print.replace(/<[^>]*>/g, " ")).toContain(verdict.split(/[ ,]/)[0]);

  await page.goto(url + path);
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  await expect(page.locator(".live-what")).toContainText("Pull it");

  // In the bath, at several minutes.
  for (const minute of ["2026-11-25T15:40:00Z", "2026-11-25T16:50:00Z", "2026-11-25T18:20:00Z"]) {
    await kitchen.kill();
    url = await kitchen.open({ clock: minute });
    const at = await own(page, url + path);
    await page.goto(`${url}/board`);
    const bag = page.locator(".bag", { has: page.locator(".bag-title") }).first();
    const board = (await bag.textContent()).replace(/\s+/g, " ");
    expect(board, minute).toContain(at.next.replace(/ in$/, ""));
    if (at.until) {
      const there = Number(await page.locator(".board-now [data-until]").first().getAttribute("data-until"));
      expect(Math.abs(there - at.until), minute).toBeLessThan(60_000);
    }
    // An estimate moves in the seconds between two pages: to a tenth.
    const there = Number((await bag.locator(".bag-degrees").textContent()).match(/[\d.]+/)?.[0]);
    expect(Math.abs(there - Number(at.centre.match(/[\d.]+/)[0])), minute).toBeLessThanOrEqual(0.11);
    const warming = board.match(/warming through until (\d\d:\d\d)/)?.[1];
    if (warming) expect(warming, minute).toBe(at.times["heated through"]);
    else expect(board.toLowerCase(), minute).toContain(at.verdict.replace(/^(If pulled now|Not heated through; if pulled now): /, "").toLowerCase().slice(0, 11));
    const bestThere = board.match(/best until (\d\d:\d\d)/)?.[1];
    if (bestThere) expect(bestThere, minute).toBe(at.times["best until"]);
    const likely = board.match(/most likely ([\d.]+)/)?.[1];
    if (likely) expect(Math.abs(likely - at.likely), minute).toBeLessThanOrEqual(0.11);
    const pulls = (await calendar(page, url + path)).find((e) => /^Pull/.test(e.what));
    if (pulls && at.at) expect(pulls.time, minute).toBe(at.at);
    const paper = (await page.request.get(`${url}${path}/print`).then((r) => r.text())).replace(/<[^>]*>/g, " ").replace(/\s+/g, " ");
    if (at.at) expect(paper, minute).toContain(at.at);
    // No time stands before the one it follows.
    const { "heated through": through, "not safe from": end, "best until": best } = at.times;
    if (through && end && !through.includes(" ") && !end.includes(" ")) expect(through < end, `${through} ${end}`).toBe(true);
    if (best && at.at && !best.includes(" ")) expect(best >= at.at, `${best} ${at.at}`).toBe(true);
  }
});

test("one finish stands in the plan, the steps, the cook's page, the finish and its pace", async ({ page, kitchen }) => {
  const url = await kitchen.open({ clock: "2026-11-25T15:00:00Z" });
  await page.goto(`${url}/plan?food=beef-strip&thickness=38+mm&bath=56+%C2%B0C&intact=whole&ready=20:00&typed_in=c-mm`);
  await page.getByRole("button", { name: "Start this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
  const cook = page.url();
  await page.locator("form.act").getByRole("button", { name: "Dropped", exact: true }).click();
  await expect(page.locator("#just")).toContainText("Dropped");
  await page.goto(`${url}/finish?cook=${cook.split("/").pop()}`);
  const first = await page.locator(".finish-first p").textContent();
  await page.getByRole("button", { name: "Choose it for this cook" }).click();
  await expect(page).toHaveURL(/\/cook\/.*#step-heat$/);
  const seconds = (await page.locator("#steps").textContent()).match(/(\d+) s on (?:each|a) face|(\d+) s a face/);
  const chosen = await page.locator("#log").textContent();
  const face = chosen.match(/(\d+) s a face/)[1];
  expect(first).toContain(`${face} s a face`);
  if (seconds) expect(seconds[1] ?? seconds[2]).toBe(face);
  await page.goto(`${url}/finish?cook=${cook.split("/").pop()}`);
  await expect(page.locator("#f-face, [name=face]").first()).toHaveValue(new RegExp(`^${face} s$`));
  const paced = page.locator("a[href*='/finish/pace']").first();
  await page.goto(url + await paced.getAttribute("href"));
  await expect(page.locator("#pace-list")).toContainText(`${face} s`);
});

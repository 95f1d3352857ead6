// Starts and stops the real program for a test, with a data folder and a clock of its own.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import AxeBuilder from "@axe-core/playwright";
import { test as base, expect } from "@playwright/test";

const binary = process.env.HOLD_STEADY ?? "target/debug/hold-steady";

export class Kitchen {
  constructor(folder) {
    this.folder = folder;
  }

  // Serves at `clock`; a demonstration when `demo` is set.
  async open({ clock = "2026-11-25T16:00:00Z", rate = 1, demo = false, port = 0, more = [] } = {}) {
    const args = [demo ? "demo" : "serve", "--port", String(port), "--log", "error", "--data", this.folder, "--clock-at", clock, "--clock-rate", String(rate), ...more];
    if (!demo) args.push("--time-zone", "Europe/Vienna");
    this.process = spawn(binary, args, { stdio: ["ignore", "pipe", "inherit"], env: { ...process.env, TZ: "Europe/Vienna" } });
    this.url = await new Promise((resolve, reject) => {
      let out = "";
      this.process.stdout.on("data", (chunk) => {
        out += chunk;
        this.printed = out;
        const at = out.match(/https?:\/\/\S+/);
        if (at) resolve(at[0].replace(/\/$/, ""));
      });
      this.process.on("exit", (code) => reject(new Error(`ended with ${code}: ${out}`)));
    });
    return this.url;
  }

  // The code it printed for the first owner.
  async code() {
    const found = () => this.printed.match(/\b[A-Z2-9]{4}-[A-Z2-9]{4}-[A-Z2-9]{4}\b/)?.[0];
    await expect.poll(found).toBeTruthy();
    return found();
  }

  // What a machine does that hangs, and hangs no longer.
  pause() { this.process.kill("SIGSTOP"); }
  resume() { this.process.kill("SIGCONT"); }

  get port() { return Number(new URL(this.url).port); }

  // As a power cut would.
  async kill() {
    const running = this.process;
    this.process = undefined;
    if (!running || running.exitCode !== null || running.signalCode !== null) return;
    this.taken = true;
    running.removeAllListeners("exit");
    const gone = new Promise((resolve) => running.once("exit", resolve));
    running.kill("SIGKILL");
    await gone;
  }
}

export const test = base.extend({
  // One demonstration for all tests of a worker that only look.
  // eslint-disable-next-line no-empty-pattern
  demo: [async ({}, use) => {
    const folder = mkdtempSync(join(tmpdir(), "hold-steady-demo-"));
    const kitchen = new Kitchen(folder);
    await use(await kitchen.open({ demo: true }));
    await kitchen.kill();
    rmSync(folder, { recursive: true, force: true });
  }, { scope: "worker" }],
  // eslint-disable-next-line no-empty-pattern
  kitchen: async ({}, use) => {
    const folder = mkdtempSync(join(tmpdir(), "hold-steady-"));
    const kitchen = new Kitchen(folder);
    await use(kitchen);
    await kitchen.kill();
    rmSync(folder, { recursive: true, force: true });
  },
  // Any error in the page's console, and any request that leaves this machine, fails the test.
  // The kitchen is asked for so that it outlives the page: else the last request of a page is cut off.
  // eslint-disable-next-line no-unused-vars
  page: async ({ page, kitchen }, use) => {
    // The second depth is open where a test does not say otherwise.
    await page.context().addCookies([{ name: "depths", value: "explore.prepare.why.steps.log.how", domain: "127.0.0.1", path: "/" }]);
    // SLOW=6 npx playwright test: as on a tired tablet, to find what only holds on a fast machine.
    if (process.env.SLOW) await (await page.context().newCDPSession(page)).send("Emulation.setCPUThrottlingRate", { rate: Number(process.env.SLOW) });
    const errors = [];
    page.on("console", (m) => {
      // A refused form answers 422 and a lost page 404, and the browser says so; a request overtaken by a
      // newer one is given up, and htmx says so; so it does of the list of alarms a page asked for that was left at once.
      if (m.type() === "error" && !/status of (4\d\d)|htmx:(afterRequest|sendAbort)|htmx:sendError, \[object HTMLUListElement\]/.test(m.text())) errors.push(m.text());
    });
    page.on("pageerror", (e) => errors.push(e.message));
    page.on("request", (r) => {
      const host = new URL(r.url()).hostname;
      if (r.url().startsWith("http") && host !== "127.0.0.1") errors.push(`left for ${host}`);
    });
    await use(page);
    // Every page asks for its alarms: where the server was taken away the browser says that it was not there.
    const notThere = (text) => kitchen.taken && /ERR_CONNECTION_(REFUSED|RESET|CLOSED|ABORTED)|ERR_SOCKET_NOT_CONNECTED|ERR_EMPTY_RESPONSE|ERR_INCOMPLETE_CHUNKED_ENCODING|htmx:sendError/.test(text);
    // A test that is about a server in trouble says so: then the browser has more to say.
    if (!kitchen.troubled) expect(errors.filter((text) => !notThere(text))).toEqual([]);
  },
});

// Nothing serious by the accessibility rules. (Legacy: in the page itself. No page of ours holds another, and a second page
// opened to sum up what was found takes longer than the search.)
export async function accessible(page) {
  // What is being worked out is faint on purpose.
  await expect(page.locator("[aria-busy=true]")).toHaveCount(0);
  // Every rule is tried; what is sound is not listed element by element, which takes as long again.
  const axe = new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ["violations"] });
  const { violations } = await axe.analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(" ")).join("; ")}`)).toEqual([]);
}

// No sideways scrolling.
export async function fits(page) {
  const over = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  expect(over).toBeLessThanOrEqual(0);
}

// A vessel is kept under a name; its bench stands there.
export async function vessel(page, url, shape, name) {
  await page.goto(`${url}/bath`);
  await page.getByRole("link", { name: shape }).click();
  await page.getByLabel("Its name").fill(name);
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.locator("#bench-answer .bench-line").first()).toBeVisible();
}

// A clear box with a heater, filled and on at 60 °C. (Its button waits for the bench's answer.)
export async function tank(page, url, name = "the tank") {
  await vessel(page, url, "26 l clear box", name);
  await page.locator("#b-target").fill("60 °C");
  await page.locator("#b-food").fill("1 kg");
  await page.getByRole("button", { name: "It is filled and on" }).click();
  await expect(page).toHaveURL(/\/bath\/runs\//);
  await expect(page.locator("main")).toContainText("60 °C");
  return page.url().split("/").pop();
}

export { expect };

// Silences what rings on a screen. (A press within the first moment counts as one meant for what stood there before.)
export async function heard(page) {
  const sheet = page.locator("#flash");
  await expect(sheet).toBeVisible();
  await expect(async () => {
    if (await sheet.isVisible()) await sheet.getByRole("button", { name: "Heard" }).click();
    await expect(sheet).toBeHidden({ timeout: 500 });
  }).toPass();
}

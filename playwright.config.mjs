import { existsSync } from "node:fs";
import { defineConfig } from "@playwright/test";

// Debian's Chromium in the form that draws on no screen, which takes an eighth less time; else the whole one.
const shell = "/usr/bin/chromium-headless-shell";
const chromium = process.env.CHROMIUM ?? (existsSync(shell) ? shell : "/usr/bin/chromium");

// The real interface in Debian's Chromium; each test starts servers of its own (e2e/kitchen.mjs).
export default defineConfig({
  testDir: "e2e",
  timeout: 120_000,
  // Machines are noisy: waiting longer makes no wrong answer right.
  expect: { timeout: 15_000 },
  // Much of a test is waiting for a countdown or a drawing: two computing places keep three of them going.
  workers: 3,
  fullyParallel: true,
  retries: 0,
  reporter: [["list"]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: chromium,
      args: ["--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
    },
  },
});

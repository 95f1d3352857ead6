import { defineConfig } from "@playwright/test";

// The real interface in Debian's Chromium; each test starts servers of its own (e2e/kitchen.mjs).
export default defineConfig({
  testDir: "e2e",
  timeout: 120_000,
  // Machines are noisy: waiting longer makes no wrong answer right.
  expect: { timeout: 15_000 },
  workers: 2,
  fullyParallel: true,
  retries: 0,
  reporter: [["list"]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
    },
  },
});

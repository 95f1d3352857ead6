// An encrypted line with a kitchen's own certificate: a browser that was told to trust its authority shows no warning, keeps the
// screen awake and notifies; one that was not is kept out.
import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { expect, test } from "./kitchen.mjs";

const binary = process.env.HOLD_STEADY ?? "target/debug/hold-steady";
const made = (folder, ...more) => execFileSync(binary, ["certificate", "galley.lan", "127.0.0.1", "--data", folder, ...more], { encoding: "utf8" });

test("a browser that trusts the kitchen's authority is on an encrypted line; another is warned", async ({ kitchen }) => {
  const said = made(kitchen.folder);
  const files = join(kitchen.folder, "certificate");
  const fingerprint = said.match(/(?:[0-9A-F]{2}:){31}[0-9A-F]{2}/)[0];
  // Independent of ours: what OpenSSL makes of the file.
  const openssl = (...args) => execFileSync("openssl", args, { encoding: "utf8" });
  expect(openssl("x509", "-in", join(files, "authority.crt"), "-noout", "-fingerprint", "-sha256")).toContain(fingerprint);
  expect(openssl("x509", "-in", join(files, "authority.crt"), "-noout", "-text")).toMatch(/Name Constraints: critical\s+Permitted:\s+DNS:galley\.lan\s+IP:127\.0\.0\.1/);
  expect(openssl("verify", "-CAfile", join(files, "authority.crt"), join(files, "kitchen.crt"))).toContain("OK");
  await kitchen.open({ clock: new Date().toISOString(), more: ["--host", "galley.lan", "--tls-cert", join(files, "kitchen.crt"), "--tls-key", join(files, "kitchen.key")] });
  expect(kitchen.url).toMatch(/^https:/);

  // The browser's own store of authorities is in its home.
  const home = mkdtempSync(join(tmpdir(), "hold-steady-home-"));
  const store = join(home, ".pki/nssdb");
  mkdirSync(store, { recursive: true });
  execFileSync("certutil", ["-d", `sql:${store}`, "-N", "--empty-password"]);
  const { launchOptions } = test.info().project.use;
  const args = [...(launchOptions?.args ?? []), "--host-resolver-rules=MAP galley.lan 127.0.0.1"];
  const launch = () => chromium.launch({ ...launchOptions, args, env: { ...process.env, HOME: home } });
  const at = `https://galley.lan:${kitchen.port}`;
  let browser = await launch();
  try {
    const untrusted = await browser.newPage();
    await expect(untrusted.goto(`${at}/trust`)).rejects.toThrow(/ERR_CERT_AUTHORITY_INVALID/);
    await browser.close();
    execFileSync("certutil", ["-d", `sql:${store}`, "-A", "-n", "kitchen", "-t", "C,,", "-i", join(files, "authority.crt")]);
    browser = await launch();
    const context = await browser.newContext();
    await context.grantPermissions(["notifications", "screen-wake-lock"], { origin: at });
    const page = await context.newPage();
    const first = await page.goto(`${at}/trust`);
    expect(first.headers()["strict-transport-security"]).toBe("max-age=31536000");
    await expect(page.locator(".fingerprint")).toHaveText(fingerprint);
    const fetched = await page.request.get(`${kitchen.url}/trust/authority.crt`, { ignoreHTTPSErrors: true });
    expect(fetched.headers()["content-type"]).toBe("application/x-x509-ca-cert");
    // Signed in, over a cookie that is held to this host.
    await page.goto(`${at}/welcome`);
    await page.getByLabel("The code").fill(await kitchen.code());
    await page.getByRole("button", { name: "Go on" }).click();
    await page.getByLabel("Your name").fill("Marta");
    await page.getByLabel("Choose a password").fill("three blue kettles");
    await page.getByRole("button", { name: "Come in" }).click();
    await expect(page).toHaveURL(/\/plan/);
    const cookie = (await context.cookies()).find((c) => c.name === "__Host-hs-session");
    expect([cookie.secure, cookie.httpOnly, cookie.sameSite]).toEqual([true, true, "Strict"]);
    expect(await page.evaluate(() => isSecureContext)).toBe(true);
    expect(await page.evaluate(async () => (await navigator.wakeLock.request("screen")).type)).toBe("screen");
    // (A browser that draws on no screen calls the constructor's own permission denied, whatever was granted.)
    expect(await page.evaluate(async () => (await navigator.permissions.query({ name: "notifications" })).state)).toBe("granted");
    // Another certificate is taken up without a restart; this browser, which does not trust its authority, is warned.
    made(kitchen.folder, "--again");
    await expect(async () => {
      const anew = await browser.newContext();
      const failed = await (await anew.newPage()).goto(`${at}/healthz`).then(() => "", (e) => e.message);
      await anew.close();
      expect(failed).toContain("ERR_CERT_AUTHORITY_INVALID");
    }).toPass({ timeout: 20_000 });
  } finally {
    await browser.close();
    rmSync(home, { recursive: true, force: true });
  }
});

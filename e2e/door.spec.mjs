// A kitchen that is reached by a name: the first owner comes in with the printed code, lets a cook in, and each sees their own.
import { accessible, expect, fits, test } from "./kitchen.mjs";

const PASSWORD = "three blue kettles";

test("from the printed code to a second cook signed in, in ten taps; each stands beside what they tap", async ({ page, kitchen, browser }) => {
  let taps = 0;
  const tap = async (locator) => { taps += 1; await locator.click(); };
  await kitchen.open({ more: ["--host", "galley.lan"] });
  const code = await kitchen.code();
  await page.goto(`${kitchen.url}/plan`);
  await expect(page.getByRole("heading", { name: "Who is it?" })).toBeVisible();
  await fits(page);
  await accessible(page);
  await tap(page.getByRole("link", { name: "I have a code" }));
  await page.getByLabel("The code").fill(code.toLowerCase());
  await tap(page.getByRole("button", { name: "Go on" }));
  await accessible(page);
  await page.getByLabel("Your name").fill("Marta");
  await page.getByLabel("Choose a password").fill("password123");
  await page.getByRole("button", { name: "Come in" }).click();
  await expect(page.locator("#e-password")).toContainText("Many people chose that password");
  await expect(page.getByLabel("Your name")).toHaveValue("Marta");
  await page.getByLabel("Choose a password").fill(PASSWORD);
  await tap(page.getByRole("button", { name: "Come in" }));
  await expect(page).toHaveURL(/\/plan/);
  await tap(page.getByRole("link", { name: /what it has settled|My kitchen/ }).first());
  await tap(page.getByRole("link", { name: "People, their parts and passwords" }));
  await page.getByLabel("Their name").fill("Ida");
  await tap(page.getByRole("button", { name: "Write down" }));
  await tap(page.getByRole("button", { name: "Make a code for Ida" }));
  const hers = await page.locator("#code").textContent();
  await fits(page);
  await accessible(page);

  // On her own phone.
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, colorScheme: "dark" });
  const ida = await phone.newPage();
  await ida.goto(`${kitchen.url}/welcome`);
  await ida.getByLabel("The code").fill(hers);
  await tap(ida.getByRole("button", { name: "Go on" }));
  await expect(ida.getByRole("heading", { name: "Welcome, Ida" })).toBeVisible();
  await fits(ida);
  await accessible(ida);
  await ida.getByLabel("Choose a password").fill("four green kettles");
  await tap(ida.getByRole("button", { name: "Come in" }));
  await expect(ida).toHaveURL(/\/plan/);
  await fits(ida);
  expect(taps, "taps from the code to the second cook").toBeLessThanOrEqual(10);

  // What is the owner's is refused in words, and stands in the trail.
  await ida.goto(`${kitchen.url}/people`);
  await expect(ida.locator("main")).toContainText("Your part in this kitchen does not reach so far");
  await page.goto(`${kitchen.url}/trail`);
  await expect(page.locator("tbody tr").first()).toContainText("was refused /people");
  await expect(page.locator("tbody tr").first()).toContainText("Ida");
  await fits(page);
  await accessible(page);

  // Signed out by the owner, her next tap waits for her and is sent when she is in again, in her name.
  await ida.goto(`${kitchen.url}/plan?food=beef-strip&thickness=25+mm&bath=55&intact=whole&typed_in=c-mm`);
  await ida.getByRole("button", { name: "Start this cook" }).click();
  await expect(ida).toHaveURL(/\/cook\/[0-9a-f-]{36}$/);
  await page.goto(`${kitchen.url}/people`);
  await page.getByRole("button", { name: "Sign Ida out everywhere" }).click();
  await expect(page.getByRole("button", { name: "Sign Ida out everywhere" })).toHaveCount(0);
  await ida.getByRole("button", { name: "Dropped" }).click();
  await expect(ida.locator("#waiting")).toContainText("Sign in first");
  await ida.locator("#waiting").getByRole("link", { name: "Sign in" }).click();
  await ida.getByLabel("Your name").fill("ida");
  await ida.getByLabel("Your password").fill("four green kettles");
  await ida.getByRole("button", { name: "Sign in" }).click();
  await expect(ida).toHaveURL(/\/cook\//);
  await expect(ida.getByRole("button", { name: "Pulled" })).toBeVisible();
  await expect(ida.locator("#waiting")).toHaveCount(0);
  // In the record it is hers.
  await page.goto(ida.url());
  await expect(page.locator(".log li").filter({ hasText: "dropped" })).toContainText("Ida");
  await phone.close();
});

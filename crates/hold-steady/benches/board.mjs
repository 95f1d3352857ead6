// Twenty bags in six baths, six circulators and twenty probes in the pieces, each one reading a second for a minute, and
// pages that are asked meanwhile: `cargo build --release && node crates/hold-steady/benches/board.mjs [seconds] [binary]`.
// Prints how long the interface took; every reading that was answered with success is counted at the end.
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { everyUntil, id, poster, printTimes, served, sixBoxes } from "../../../scripts/served.mjs";

const seconds = Number(process.argv[2] ?? 60);
const binary = process.argv[3] ?? "target/release/hold-steady";
const folder = mkdtempSync(join(tmpdir(), "hold-steady-board-"));
const { server, url } = await served(binary, ["serve", "--port", "0", "--log", "error", "--data", folder]);
process.on("exit", () => server.kill());
const post = poster(url);
const foods = ["beef-strip", "chicken-breast", "pork-chop", "salmon-fillet", "duck-breast"];
const tokens = [];
const device = async (n, name, place) => {
  const page = await (await post("/devices", { id: id("d", n), name })).text();
  tokens.push(page.match(/class="token-text">([^<]+)/)[1]);
  await post(`/devices/${id("d", n)}/place`, place);
};
await sixBoxes(post, "58");
for (let n = 0; n < 6; n += 1) await device(n, `circulator ${n}`, { bath: id("b", n) });
for (let n = 0; n < 20; n += 1) {
  const food = foods[n % foods.length];
  const began = await post("/plan/start", { cook: id("c", n), food, thickness: `${24 + (n % 10)} mm`, bath: food === "salmon-fillet" ? "50 °C" : "58 °C", intact: "whole", parasites: "frozen", vessel: id("a", n % 6), typed_in: "c-mm" });
  if (began.status !== 303) throw new Error(`${food}: ${(await began.text()).match(/field-error[^>]*>[^<]+/g)}`);
  await post(`/cook/${id("c", n)}/event`, { what: "dropped" });
  const page = await (await fetch(`${url}/cook/${id("c", n)}`)).text();
  const piece = page.match(/name="piece" value="([^"]+)"/)[1];
  await device(20 + n, `probe ${n}`, { bath: id("b", n % 6), piece });
}
const took = { readings: [], "/board/live": [], "/plan/answer": [], "/cook": [], "/foods": [] };
let [taken, failed] = [0, 0];
const timed = async (kind, ask) => {
  const start = performance.now();
  const reply = await ask();
  const text = await reply.text();
  took[kind].push(performance.now() - start);
  if (!reply.ok && reply.status !== 303) failed += 1;
  return text;
};
const until = performance.now() + seconds * 1000;
const every = everyUntil(until);
const report = (token, n) => every(1000, async () => {
  const celsius = n < 6 ? 58 + Math.sin(performance.now() / 1e4) * 0.1 : 5 + Math.sqrt(performance.now() / 1000);
  const text = await timed("readings", () => fetch(`${url}/api/v1/readings`, { method: "POST", headers: { authorization: `Bearer ${token}`, "content-type": "application/json" }, body: JSON.stringify({ readings: [{ celsius }] }) }));
  const told = JSON.parse(text);
  taken += told.taken + told.known;
});
const stream = await fetch(`${url}/events`);
await Promise.all([
  ...tokens.map(report),
  every(1500, () => timed("/board/live", () => fetch(`${url}/board/live`))),
  every(1500, () => timed("/board/live", () => fetch(`${url}/board/live`))),
  every(500, () => timed("/plan/answer", () => fetch(`${url}/plan/answer?food=beef-strip&intact=whole&typed_in=c-mm`))),
  every(500, () => timed("/foods", () => fetch(`${url}/foods`))),
  every(1000, () => timed("/cook", () => fetch(`${url}/cook/${id("c", 3)}`))),
]);
await stream.body.cancel();
console.log(`20 bags, 6 baths, 26 devices, ${seconds} s; ${taken} readings answered with success, ${failed} failed; milliseconds:`);
printTimes(took);
process.exit(failed ? 1 : 0);

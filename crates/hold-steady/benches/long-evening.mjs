// Six baths that have run for three days with twenty devices at one reading a second, five boards open, a copy being made and
// a download nobody hurries: `cargo build --release && node crates/hold-steady/benches/long-evening.mjs [hours] [seconds]
// [binary]`. Prints what pages cost before there was a reading and after, and how long taps, boards and plans took.
import { spawn } from "node:child_process";
import { mkdtempSync, readFileSync, statSync } from "node:fs";
import { connect } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { everyUntil, id, poster, printTimes, served, sixBoxes } from "../../../scripts/served.mjs";

const hours = Number(process.argv[2] ?? 72);
const seconds = Number(process.argv[3] ?? 60);
const binary = process.argv[4] ?? "target/release/hold-steady";
const folder = mkdtempSync(join(tmpdir(), "hold-steady-long-"));
const began = Math.floor(Date.now() / 1000) - hours * 3600;
const instant = (s) => new Date(s * 1000).toISOString().replace(".000Z", "Z");
const start = (...more) => served(binary, ["serve", "--port", "0", "--log", "error", "--data", folder, ...more]);
let { server, url } = await start("--clock-at", instant(began));
process.on("exit", () => server.kill());
const post = poster(url);
const tokens = [];
await sixBoxes(post, "60");
for (let n = 0; n < 6; n += 1) {
  await post("/plan/start", { cook: id("c", n), food: "beef-chuck", thickness: `${50 + n} mm`, bath: "60 °C", time: `${hours} h`, intact: "whole", vessel: id("a", n), typed_in: "c-mm" });
  await post(`/cook/${id("c", n)}/event`, { what: "dropped" });
}
for (let n = 0; n < 20; n += 1) {
  const page = await (await post("/devices", { id: id("d", n), name: `device ${n}` })).text();
  tokens.push(page.match(/class="token-text">([^<]+)/)[1]);
  await post(`/devices/${id("d", n)}/place`, { bath: id("b", n % 6) });
}
const cpu = () => {
  const stat = readFileSync(`/proc/${server.pid}/stat`, "utf8").split(") ")[1].split(" ");
  return (Number(stat[11]) + Number(stat[12])) * 10;
};
const costs = async (what) => {
  const line = [];
  for (const path of ["/board/live", "/plan/answer?food=beef-strip&intact=whole&typed_in=c-mm", `/cook/${id("c", 3)}`, `/cook/${id("c", 3)}/live`, `/bath/runs/${id("b", 0)}`]) {
    const before = cpu();
    const times = [];
    for (let i = 0; i < 8; i += 1) {
      const from = performance.now();
      await (await fetch(url + path)).text();
      times.push(performance.now() - from);
    }
    times.sort((a, b) => a - b);
    line.push(`${path.split("?")[0].replace(/019[^/]+/, "…")} ${((cpu() - before) / 8).toFixed(0)} ms of processor, ${times[4].toFixed(0)} ms`);
  }
  console.log(`${what}: ${line.join("; ")}`);
};
const again = async (...more) => {
  server.kill("SIGTERM");
  await new Promise((gone) => { server.once("exit", gone); });
  ({ server, url } = await start(...more));
};
await costs("without a reading");
await again();
const noise = (n, s) => 60 + (((s * 7919 + n * 104729) % 41) - 20) / 100;
const send = (n, body) => fetch(`${url}/api/v1/readings`, { method: "POST", headers: { authorization: `Bearer ${tokens[n]}`, "content-type": "text/csv" }, body });
const from = performance.now();
// As devices send what they kept: in parts of less than a megabyte.
const PART = 30000;
for (let s = 0; s < hours * 3600; s += PART) {
  for (let n = 0; n < 20; n += 1) {
    let csv = "time,celsius\n";
    for (let k = s; k < Math.min(s + PART, hours * 3600); k += 1) csv += `${instant(began + k)},${noise(n, k).toFixed(2)}\n`;
    for (;;) {
      const reply = await send(n, csv);
      const said = await reply.json();
      if (reply.status === 429) { await new Promise((r) => { setTimeout(r, 1000 * Number(reply.headers.get("retry-after"))); }); continue; }
      if (reply.status !== 200 || said.not_taken.length) throw new Error(JSON.stringify(said).slice(0, 300));
      break;
    }
  }
}
const size = () => ["", "-wal"].map((end) => { try { return statSync(join(folder, `hold-steady.db${end}`)).size / 1e6; } catch { return 0; } }).reduce((a, b) => a + b).toFixed(0);
console.log(`${(hours * 3600 * 20 / 1e6).toFixed(2)} million readings written in ${((performance.now() - from) / 1000).toFixed(0)} s; ${size()} MB`);
await costs(`after ${hours} h`);

const took = { tap: [], board: [], plan: [], reading: [] };
let failed = 0;
const timed = async (kind, ask) => {
  const at = performance.now();
  const reply = await ask();
  await reply.text();
  took[kind].push(performance.now() - at);
  if (reply.status >= 400) { failed += 1; console.log(kind, reply.status); }
};
const until = performance.now() + seconds * 1000;
const every = everyUntil(until);
const page = await (await fetch(`${url}/bath/runs/${id("b", 0)}`)).text();
const probe = page.match(/<option value="([0-9a-f-]{36})"/)[1];
const streams = await Promise.all([0, 1, 2, 3, 4].map(() => fetch(`${url}/events`)));
// A copy of the night, again and again; a download taken a kilobyte at a time.
let copies = 0;
const copying = (async () => {
  while (performance.now() < until) {
    const made = spawn(binary, ["backup", "--data", folder, join(folder, `copy-${copies}.db`)], { stdio: "ignore" });
    if (await new Promise((done) => { made.once("exit", done); })) throw new Error("a copy failed");
    copies += 1;
    await new Promise((r) => { setTimeout(r, 5000); });
  }
})();
const slow = connect(new URL(url).port, "127.0.0.1");
slow.write(`GET /kitchen/copy.sqlite3 HTTP/1.1\r\nHost: localhost\r\n\r\n`);
slow.pause();
const sip = setInterval(() => slow.read(1024), 1000);
await Promise.all([
  ...tokens.map((_, n) => every(1000, () => timed("reading", () => send(n, `time,celsius\n${instant(Math.floor(Date.now() / 1000))},${noise(n, Math.floor(Date.now() / 1000)).toFixed(2)}\n`)))),
  ...streams.map(() => every(1500, () => timed("board", () => fetch(`${url}/board/live`)))),
  every(500, () => timed("plan", () => fetch(`${url}/plan/answer?food=beef-strip&intact=whole&typed_in=c-mm`))),
  every(400, () => timed("tap", () => fetch(`${url}/bath/runs/${id("b", Math.floor(Math.random() * 6))}/read`, { method: "POST", headers: { origin: url }, body: new URLSearchParams({ degrees: "60.0 °C", thermometer: probe }), redirect: "manual" }))),
]);
await copying;
clearInterval(sip);
slow.destroy();
await Promise.all(streams.map((s) => s.body.cancel()));
const rss = readFileSync(`/proc/${server.pid}/status`, "utf8").match(/VmHWM:\s+(\d+)/)[1] / 1024;
console.log(`${seconds} s of 20 devices, 5 boards, ${copies} copies made, a slow download; ${failed} failed; at most ${rss.toFixed(0)} MB of memory; milliseconds:`);
printTimes(took);
process.exit(failed ? 1 : 0);

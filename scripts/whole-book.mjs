// How a long book goes out and in: so many cooks and so many hours of one reading a second, brought in by the page while a tap is
// made every twenty milliseconds, taken out, and brought into an empty kitchen at the command line. Prints times, the longest a
// tap waited, and the most memory: `node scripts/whole-book.mjs [cooks] [hours] [binary]`.
import { spawn } from "node:child_process";
import { createWriteStream, mkdtempSync, openAsBlob, readFileSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { id as ours, poster, printTimes, served, sixBoxes } from "./served.mjs";

const cooks = Number(process.argv[2] ?? 2500);
const hours = Number(process.argv[3] ?? 96);
const binary = process.argv[4] ?? "target/release/hold-steady";
const golden = JSON.parse(readFileSync("crates/core/tests/golden/export-v7.json", "utf8"));
const ID = /[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g;
const folder = mkdtempSync(join(tmpdir(), "hold-steady-whole-"));
const file = join(folder, "book.json");
const id = (kind, n) => `019ac5${kind.toString(16).padStart(2, "0")}-0000-7000-8000-${n.toString(16).padStart(12, "0")}`;

// A finished cook as another one: its identifiers renumbered, its bath beside it.
const finished = golden.cooks.find((c) => c.events.some((e) => e.kind === "eaten"));
const text = JSON.stringify(finished);
const own = [...new Set(text.match(ID))];
const copy = (n) => {
  const of = new Map(own.map((was, i) => [was, id(i, n)]));
  return JSON.parse(text.replace(ID, (was) => of.get(was)));
};
const begins = Math.floor((Date.now() / 1000 - (hours + 2) * 3600) / 3600) * 3600;
const instant = (s) => new Date(s * 1000).toISOString().replace(".000Z", "Z");
function* lines() {
  yield `{"format":"hold-steady/kitchen","version":8,"exported_at":"${instant(begins)}",\n"kitchen":{"name":"Quay","time_zone":"UTC"},\n"baths":[\n`;
  yield JSON.stringify({ id: id(0xb0, 1), name: "box", began_at: instant(begins), settings: [{ id: id(0xb1, 1), at: instant(begins), celsius: 57, by: "Ana" }], instruments: [{ id: id(0xb2, 1), name: "pen" }] });
  for (let n = 0; n < cooks; n += 1) for (const bath of copy(n).baths) yield `,\n${JSON.stringify({ ...bath, instruments: undefined })}`;
  yield '\n],\n"cooks":[\n';
  for (let n = 0; n < cooks; n += 1) yield `${n ? ",\n" : ""}${JSON.stringify({ ...copy(n), baths: undefined })}`;
  yield '\n],\n"readings":[\n';
  for (let h = 0; h < hours; h += 1) {
    const readings = Array.from({ length: 3600 }, (_, s) => [s, Math.round(5700 + (((h * 3600 + s) * 7919) % 41) - 20) / 100]);
    yield `${h ? ",\n" : ""}${JSON.stringify({ instrument: id(0xb2, 1), hour: instant(begins + h * 3600), quality: "reported", readings })}`;
  }
  yield "\n]}\n";
}
await pipeline(Readable.from(lines()), createWriteStream(file));
console.log(`${cooks} cooks and ${hours * 3600} readings: ${(statSync(file).size / 1e6).toFixed(1)} MB`);

const peak = (pid) => Number(readFileSync(`/proc/${pid}/status`, "utf8").match(/VmHWM:\s+(\d+)/)[1]) / 1024;
const { server, url } = await served(binary, ["serve", "--port", "0", "--log", "error", "--data", join(folder, "one")]);
const post = poster(url);
await sixBoxes(post, "57");
await post("/bath/thermometers", { id: id(0xc0, 1), name: "pen" });
const form = new FormData();
form.set("file", await openAsBlob(file), "book.json");
const waits = [];
let done = false;
const taps = (async () => {
  while (!done) {
    const from = performance.now();
    await post(`/bath/runs/${ours("b", 0)}/read`, { thermometer: id(0xc0, 1), degrees: "57" });
    waits.push(performance.now() - from);
    await new Promise((r) => { setTimeout(r, 20); });
  }
})();
let from = performance.now();
const reply = await fetch(`${url}/book/import`, { method: "POST", body: form, headers: { origin: url } });
const said = (await reply.text()).match(/Imported:[^<]*/)?.[0];
done = true;
await taps;
console.log(`brought in by the page in ${((performance.now() - from) / 1000).toFixed(1)} s: ${said}`);
printTimes({ "a tap meanwhile": waits });
console.log(`most memory ${peak(server.pid).toFixed(0)} MB`);
from = performance.now();
const out = join(folder, "out.json");
await pipeline(Readable.fromWeb((await fetch(`${url}/book/export.json`)).body), createWriteStream(out));
console.log(`taken out in ${((performance.now() - from) / 1000).toFixed(1)} s: ${(statSync(out).size / 1e6).toFixed(1)} MB; most memory ${peak(server.pid).toFixed(0)} MB; database ${(statSync(join(folder, "one", "hold-steady.db")).size / 1e6).toFixed(1)} MB`);
server.kill();
for (const again of ["first", "again"]) {
  from = performance.now();
  const child = spawn(binary, ["import", "--data", join(folder, "two"), out], { stdio: ["ignore", "pipe", "inherit"] });
  let words = "";
  let most = 0;
  child.stdout.on("data", (d) => { words += d; });
  const look = setInterval(() => { try { most = Math.max(most, peak(child.pid)); } catch { /* gone */ } }, 10);
  await new Promise((end) => { child.once("exit", end); });
  clearInterval(look);
  console.log(`command line, ${again}: ${((performance.now() - from) / 1000).toFixed(1)} s, ${most.toFixed(0)} MB: ${words.split("\n")[0]}`);
}

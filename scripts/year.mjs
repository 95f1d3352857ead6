// A year of readings on disk: so many devices at one reading a second, a week a bath, brought in, thinned in the background while
// taps are made, copied. Prints sizes and times: `node scripts/year.mjs [devices] [days] [binary]`.
import { execFileSync } from "node:child_process";
import { createWriteStream, mkdtempSync, readdirSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { id as ours, poster, printTimes, served, sixBoxes } from "./served.mjs";

const devices = Number(process.argv[2] ?? 1);
const days = Number(process.argv[3] ?? 365);
const binary = process.argv[4] ?? "target/release/hold-steady";
const folder = mkdtempSync(join(tmpdir(), "hold-steady-year-"));
const data = join(folder, "data");
const id = (kind, n) => `019ac7${kind.toString(16).padStart(2, "0")}-0000-7000-8000-${n.toString(16).padStart(12, "0")}`;
const HOUR = 3600;
const WEEK = 7 * 24;
const begins = Math.floor(Date.now() / 1000 / HOUR - days * 24) * HOUR;
const instant = (s) => new Date(s * 1000).toISOString().replace(".000Z", "Z");
const mb = (file) => statSync(file).size / 1e6;
let seed = 1;
const noise = () => { let sum = 0; for (let i = 0; i < 6; i += 1) { seed = (seed * 1103515245 + 12345) % 2147483648; sum += seed / 2147483648 - 0.5; } return sum * 0.14; };

function* lines() {
  const weeks = Math.ceil((days * 24) / WEEK);
  yield `{"format":"hold-steady/kitchen","version":8,"exported_at":"${instant(begins)}",\n"kitchen":{"name":"Quay","time_zone":"UTC"},\n"baths":[\n`;
  for (let w = 0; w < weeks; w += 1) {
    const [from, until] = [begins + w * WEEK * HOUR, Math.min(begins + (w + 1) * WEEK, begins + days * 24 * HOUR) && begins + Math.min((w + 1) * WEEK, days * 24) * HOUR];
    const water = (kind, at, more) => ({ id: id(kind === "filled" ? 0xb3 : 0xb4, w), happened_at: instant(at), recorded_at: instant(at), by: "Ana", kind, ...more });
    yield `${w ? ",\n" : ""}${JSON.stringify({ id: id(0xb0, w), name: `week ${w}`, began_at: instant(from), settings: [{ id: id(0xb1, w), at: instant(from), celsius: 57, by: "Ana" }], water: [water("filled", from, { litres: 12 }), water("emptied", until)], instruments: Array.from({ length: devices }, (_, d) => ({ id: id(0xc0 + d, w), name: `device ${d}` })) })}`;
  }
  yield '\n],\n"cooks":[],\n"readings":[\n';
  let first = true;
  for (let w = 0; w < weeks; w += 1) for (let d = 0; d < devices; d += 1) for (let h = w * WEEK; h < Math.min((w + 1) * WEEK, days * 24); h += 1) {
    const readings = Array.from({ length: HOUR }, (_, s) => `[${s},${(57 + noise()).toFixed(2)}]`);
    yield `${first ? "" : ",\n"}{"instrument":"${id(0xc0 + d, w)}","hour":"${instant(begins + h * HOUR)}","quality":"reported","readings":[${readings.join(",")}]}`;
    first = false;
  }
  yield "\n]}\n";
}
const file = join(folder, "year.json");
await pipeline(Readable.from(lines()), createWriteStream(file));
const readings = devices * days * 24 * HOUR;
console.log(`${devices} devices, ${days} days: ${(readings / 1e6).toFixed(1)} million readings, a file of ${mb(file).toFixed(0)} MB`);
let from = performance.now();
const seconds = () => ((performance.now() - from) / 1000).toFixed(1);
console.log(execFileSync(binary, ["import", "--data", data, file], { encoding: "utf8" }).split("\n")[0].slice(0, 60));
const db = join(data, "hold-steady.db");
console.log(`brought in, every reading kept: ${seconds()} s, ${mb(db).toFixed(1)} MB, ${((mb(db) * 1e6) / readings).toFixed(2)} bytes a reading`);
rmSync(file);
from = performance.now();
const { server, url } = await served(binary, ["serve", "--port", "0", "--log", "error", "--data", data]);
console.log(`started on it in ${seconds()} s`);
const post = poster(url);
await sixBoxes(post, "57");
await post("/bath/thermometers", { id: id(0xa0, 1), name: "pen" });
from = performance.now();
const took = { "a tap": [], "the board": [] };
// It is thinned when nothing of it is whole any more but the last fortnight.
const left = () => Number(execFileSync("python3", ["-c", `import sqlite3; print(sqlite3.connect("file:${db}?mode=ro", uri=True).execute("select count(*) from bath where ended_at is not null and thinned_at is null and stays_whole = 0 and ended_at < (select max(ended_at) from bath) - 15*86400*1000000").fetchone()[0])`], { encoding: "utf8" }));
while (left() > 0) {
  for (let i = 0; i < 20; i += 1) {
    for (const [kind, work] of [["a tap", () => post(`/bath/runs/${ours("b", 0)}/read`, { thermometer: id(0xa0, 1), degrees: "57" })], ["the board", () => fetch(`${url}/board/live`).then((r) => r.text())]]) {
      const begun = performance.now();
      await work();
      took[kind].push(performance.now() - begun);
    }
    await new Promise((r) => { setTimeout(r, 50); });
  }
}
console.log(`thinned in the background in ${seconds()} s; meanwhile, milliseconds:`);
printTimes(took);
server.kill("SIGTERM");
await new Promise((gone) => { server.once("exit", gone); });
execFileSync("python3", ["-c", `import sqlite3; sqlite3.connect("${db}").execute("VACUUM")`]);
console.log(`after it, without what was freed: ${mb(db).toFixed(1)} MB; for ten devices ${((mb(db) * 10) / devices).toFixed(0)} MB`);
from = performance.now();
const again = await served(binary, ["serve", "--port", "0", "--log", "error", "--data", data]);
console.log(`started on it in ${seconds()} s`);
again.server.kill();
const copies = readdirSync(join(data, "copies")).map((n) => [n, mb(join(data, "copies", n))]);
for (const [name, size] of copies) console.log(`  copies/${name}: ${size.toFixed(1)} MB`);

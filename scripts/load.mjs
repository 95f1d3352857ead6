// Asks a release build for every food's answer and map, as the plan page does, and prints how long the server
// took: `cargo build --release && node scripts/load.mjs`. One request at a time, so that it is the server's
// own time; a page that computes nothing is asked in the same run, to compare with.
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { at, served } from "./served.mjs";

const rounds = Number(process.argv[2] ?? 5);
const folder = mkdtempSync(join(tmpdir(), "hold-steady-load-"));
const { server, url } = await served("target/release/hold-steady", ["serve", "--port", "0", "--data", folder]);
const text = async (path) => (await fetch(url + path)).text();
const timed = async (path) => {
  const start = performance.now();
  const reply = await fetch(url + path);
  const body = await reply.text();
  const took = performance.now() - start;
  const answered = !path.startsWith("/plan/answer") || body.includes('id="answer-data"');
  if (!reply.ok || !answered) throw new Error(`${path}: ${reply.status}, no answer`);
  return took;
};

const ids = [...(await text("/foods")).matchAll(/href="\/foods\/([^"]+)"/g)].map((m) => m[1]);
const answered = "intact=whole&parasites=frozen&prepared=yes&typed_in=c-mm";
const kinds = {
  "a page that computes nothing (/foods)": () => "/foods",
  "list of foods (/plan/foods?food=…)": (id) => `/plan/foods?food=${id.slice(0, 4)}`,
  "answer (/plan/answer)": (id) => `/plan/answer?food=${id}&${answered}`,
  "answer, from the freezer": (id) => frozen.has(id) && `/plan/answer?food=${id}&from=freezer&${answered}`,
};
const [maps, frozen] = [{}, new Set()];
for (const id of ids) {
  const page = await text(`/plan?food=${id}&${answered}`);
  const found = page.match(/hx-get="(\/plan\/map\?[^"]+)"/);
  if (/<option value="freezer"/.test(page)) frozen.add(id);
  if (found) maps[id] = found[1].replaceAll("&#38;", "&").replaceAll("&amp;", "&");
}
kinds["map, loaded after the answer (/plan/map)"] = (id) => maps[id];
console.log(`${ids.length} foods, ${rounds} rounds; milliseconds, over loopback`);
for (const [what, path] of Object.entries(kinds)) {
  const all = [];
  for (let round = 0; round < rounds; round += 1) {
    for (const id of ids) if (path(id)) all.push([await timed(path(id)), id]);
  }
  all.sort((a, b) => a[0] - b[0]);
  const ms = all.map((a) => a[0]);
  const slowest = [...new Set(all.slice(-Math.ceil(all.length / 20)).map((a) => a[1]))].slice(-4);
  const within = ms.filter((m) => m <= 30).length / ms.length;
  console.log(`${what}: median ${at(ms, 0.5).toFixed(1)}, 95 % within ${at(ms, 0.95).toFixed(1)}, slowest ${ms.at(-1).toFixed(1)}; ${(within * 100).toFixed(0)} % within 30 ms; slowest foods: ${slowest.join(", ")}`);
}
server.kill();

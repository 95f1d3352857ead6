// Killed again and again while a cook taps, two devices report and a book is brought in; every tenth time a copy is made and put
// back, and that is killed too. At the end everything that was answered with success is there, once; of each book all of it or
// nothing; and nothing is left behind. `cargo build --release && node scripts/attack/kills.mjs [rounds] [binary]`
import { execFileSync, spawn } from "node:child_process";
import { mkdtempSync, openAsBlob, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { poster, served } from "../served.mjs";

const rounds = Number(process.argv[2] ?? 300);
const binary = process.argv[3] ?? "target/release/hold-steady";
const folder = mkdtempSync(join(tmpdir(), "hold-steady-kills-"));
const data = join(folder, "data");
let seed = 7;
const random = (n) => { seed = (seed * 1103515245 + 12345) % 2147483648; return seed % n; };
const hex = (n, digits) => n.toString(16).padStart(digits, "0");
const id = (kind, n) => `019ac6${hex(kind, 2)}-0000-7000-8000-${hex(n, 12)}`;
const instant = (ms) => new Date(ms).toISOString();
const HOUR = 3600 * 1000;
const BOOK = 30;

// A book of thirty baths with an hour of readings each; the baths of a book are all there or none.
const book = async (n) => {
  const began = Math.floor(Date.now() / HOUR) * HOUR - 5 * HOUR;
  const baths = Array.from({ length: BOOK }, (_, b) => ({ id: id(0x10, n * 100 + b), name: `book ${n}`, began_at: instant(began), settings: [{ id: id(0x11, n * 100 + b), at: instant(began), celsius: 57, by: "Ana" }], instruments: [{ id: id(0x12, n * 100 + b), name: "pen" }] }));
  const readings = baths.map((b) => ({ instrument: b.instruments[0].id, hour: instant(began), quality: "reported", readings: Array.from({ length: 600 }, (_, s) => [s, 57]) }));
  const file = join(folder, "book.json");
  writeFileSync(file, JSON.stringify({ format: "hold-steady/kitchen", version: 8, exported_at: instant(began), kitchen: { name: "Quay", time_zone: "UTC" }, baths, cooks: [], readings }));
  const form = new FormData();
  form.set("file", await openAsBlob(file), "book.json");
  return form;
};

const acked = { taps: new Map(), readings: [new Map(), new Map()], books: new Set() };
let tokens = [];
let count = { kills: 0, restores: 0, killedRestores: 0 };
let tap = 0;
let second = 0;
const began = Date.now();

for (let round = 0; round < rounds; round += 1) {
  const { server, url } = await served(binary, ["serve", "--port", "0", "--log", "error", "--data", data]);
  const post = poster(url);
  if (round === 0) {
    await post("/bath/vessels", { id: id(1, 1), new: "true", name: "box", shape: "sides", across: "500 mm", width: "300 mm", depth: "200 mm", min: "75 mm", max: "170 mm", wall: "polycarbonate", cover: "lid", heat: "heater", heater: "1500 W", water: "circulated", highest: "90 °C" });
    await post("/bath/fill", { bath: id(2, 1), vessel: id(1, 1), litres: "24", target: "57" });
    await post("/bath/thermometers", { id: id(3, 1), name: "pen" });
    for (const n of [0, 1]) {
      const page = await (await post("/devices", { id: id(4, n), name: `device ${n}` })).text();
      tokens[n] = page.match(/class="token-text">([^<]+)/)[1];
      await post(`/devices/${id(4, n)}/place`, { bath: id(2, 1) });
    }
  }
  let running = true;
  const quietly = async (work) => { while (running) { try { await work(); } catch { if (running) await new Promise((r) => { setTimeout(r, 5); }); } } };
  const work = [
    quietly(async () => {
      const [own, degrees] = [id(5, tap), (50 + (tap % 400) / 100).toFixed(2)];
      tap += 1;
      // What is not answered is sent again, by its identifier.
      const reply = await fetch(`${url}/bath/runs/${id(2, 1)}/read`, { method: "POST", redirect: "manual", headers: { origin: url }, body: new URLSearchParams({ thermometer: id(3, 1), degrees, tap: own }) });
      if (reply.status === 303) acked.taps.set(own, degrees);
    }),
    ...[0, 1].map((n) => quietly(async () => {
      const at = Math.max(second, Date.now()) + 1;
      second = at;
      const celsius = 57 + (at % 7) / 10;
      const reply = await fetch(`${url}/api/v1/readings`, { method: "POST", headers: { authorization: `Bearer ${tokens[n]}`, "content-type": "application/json" }, body: JSON.stringify({ readings: [{ at: instant(at), celsius }] }) });
      const said = await reply.json();
      if (reply.status === 200 && said.taken === 1) acked.readings[n].set(at, celsius);
      if (reply.status === 429) await new Promise((r) => { setTimeout(r, 300); });
    })),
    quietly(async () => {
      if (acked.books.has(round)) { await new Promise((r) => { setTimeout(r, 50); }); return; }
      const reply = await fetch(`${url}/book/import`, { method: "POST", headers: { origin: url }, body: await book(round) });
      if ((await reply.text()).includes("Imported:")) acked.books.add(round);
    }),
  ];
  await new Promise((r) => { setTimeout(r, 60 + random(600)); });
  server.kill("SIGKILL");
  running = false;
  count.kills += 1;
  await new Promise((gone) => { if (server.exitCode !== null || server.signalCode) gone(); else server.once("exit", gone); });
  await Promise.all(work);
  if (round % 10 === 9) {
    const copy = join(folder, `copy-${round}.db`);
    execFileSync(binary, ["backup", "--data", data, copy], { stdio: "ignore" });
    const restoring = spawn(binary, ["restore", "--data", data, copy], { stdio: "ignore" });
    const killed = setTimeout(() => { restoring.kill("SIGKILL"); }, random(120));
    const code = await new Promise((end) => { restoring.once("exit", (c) => { end(c); }); });
    clearTimeout(killed);
    count.restores += 1;
    if (code !== 0) count.killedRestores += 1;
  }
}

const { server, url } = await served(binary, ["serve", "--port", "0", "--log", "error", "--data", data]);
const out = await (await fetch(`${url}/book/export.json`)).json();
server.kill();
const wrong = [];
const of = (instrument) => out.readings.filter((h) => h.instrument === instrument.id).flatMap((h) => h.readings.map(([s, c]) => [Date.parse(h.hour) + s * 1000, c, h.quality]));
const bath = out.baths.find((b) => b.id === id(2, 1));
const read = bath.instruments.map((i) => [i.name, of(i)]);
const typed = read.filter(([name]) => name === "pen").flatMap(([, all]) => all);
const counts = new Map();
for (const [, c] of typed) counts.set(c.toFixed(2), (counts.get(c.toFixed(2)) ?? 0) + 1);
const wanted = new Map();
for (const degrees of acked.taps.values()) wanted.set(degrees, (wanted.get(degrees) ?? 0) + 1);
for (const [degrees, n] of wanted) if ((counts.get(degrees) ?? 0) < n) wrong.push(`a reading of ${degrees} by hand is lost`);
for (const n of [0, 1]) {
  const all = new Map(read.filter(([name]) => name === `device ${n}`).flatMap(([, all]) => all).map(([at, c]) => [at, c]));
  for (const [at, c] of acked.readings[n]) if (all.get(at) !== c) wrong.push(`device ${n} at ${instant(at)}: ${c} is ${all.get(at)}`);
}
const books = new Map();
for (const b of out.baths.filter((b) => b.name.startsWith("book "))) books.set(b.name, (books.get(b.name) ?? 0) + 1);
for (const [name, n] of books) if (n !== BOOK) wrong.push(`${name}: ${n} of ${BOOK} baths`);
for (const n of acked.books) if (books.get(`book ${n}`) !== BOOK) wrong.push(`book ${n} was said to be imported and is not there`);
const hours = out.readings.filter((h) => out.baths.some((b) => b.name.startsWith("book ") && b.instruments.some((i) => i.id === h.instrument)));
if (hours.some((h) => h.readings.length !== 600) || hours.length !== books.size * BOOK) wrong.push(`hours of books: ${hours.length} for ${books.size}`);
const left = readdirSync(data).filter((n) => n.includes("tmp") || n.includes("restoring") || n.endsWith(".restore"));
if (left.length) wrong.push(`left behind: ${left.join(", ")}`);
console.log(`${count.kills} kills, ${count.restores} copies put back (${count.killedRestores} killed meanwhile) in ${((Date.now() - began) / 1000).toFixed(0)} s: ${acked.taps.size} readings by hand, ${acked.readings[0].size + acked.readings[1].size} of devices and ${acked.books.size} books acknowledged, ${books.size} books there`);
console.log(wrong.length ? `WRONG:\n${wrong.slice(0, 20).join("\n")}` : "none lost, no half book, nothing left behind");
process.exit(wrong.length ? 1 : 0);

// How the pages bear a long book: fills a kitchen with so many finished cooks and twenty under way, then asks each
// page again and again, one at a time, and then ten and fifty clients for answers. The same with twenty cooks in the
// book, in the same run, to compare with: `node scripts/big-book.mjs 10000 [path of the binary]`.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { served } from "./served.mjs";

const many = Number(process.argv[2] ?? 10000);
const binary = process.argv[3] ?? "target/release/hold-steady";
const golden = JSON.parse(readFileSync("crates/core/tests/golden/export-v4.json", "utf8"));
const ID = /[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/g;

// A cook as another one: its identifiers renumbered.
const copies = (cook, from, count) => {
  const text = JSON.stringify(cook);
  const ids = [...new Set(text.match(ID))];
  return Array.from({ length: count }, (_, n) => {
    const of = new Map(ids.map((id, i) => [id, `019ac5${i.toString(16).padStart(2, "0")}-0000-7000-8000-${(from + n).toString(16).padStart(12, "0")}`]));
    return JSON.parse(text.replace(ID, (id) => of.get(id)));
  });
};

const at = (list, share) => list.sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(share * list.length))];

for (const finished of [20, many]) {
  const folder = mkdtempSync(join(tmpdir(), "hold-steady-book-"));
  let done = 0;
  while (done < finished) {
    const part = Math.min(4000, finished - done);
    const cooks = [...copies(golden.cooks[0], done, part), ...(done === 0 ? copies(golden.cooks[1], 900000, 20) : [])];
    const file = join(folder, `part-${done}.json`);
    writeFileSync(file, JSON.stringify({ ...golden, cooks }));
    execFileSync(binary, ["import", "--data", folder, file]);
    done += part;
  }
  const { server, url } = await served(binary, ["serve", "--port", "0", "--log", "error", "--data", folder]);
  const took = async (path) => {
    const start = performance.now();
    const reply = await fetch(url + path);
    await reply.arrayBuffer();
    return [performance.now() - start, reply.status];
  };
  const running = `/cook/${copies(golden.cooks[1], 900000, 1)[0].id}`;
  const answer = "/plan/answer?food=beef-strip&intact=whole&thickness=32+mm&bath=55&typed_in=c-mm";
  // Verdicts of a book that was brought in are worked out beside the pages, once.
  const begun = performance.now();
  await took("/book");
  const told = (performance.now() - begun).toFixed(0);
  while ((await (await fetch(`${url}/book`)).text()).includes("being worked out")) await new Promise((r) => setTimeout(r, 1000));
  console.log(`the book opened first: ${told} ms; all its verdicts after ${((performance.now() - begun) / 1000).toFixed(0)} s`);
  console.log(`${finished} in the book, 20 under way; milliseconds, median and 99 % within`);
  for (const path of ["/foods", "/plan", answer, "/cook", running, `${running}/live`, "/book", "/book?page=2"]) {
    const all = [];
    for (let n = 0; n < 40; n += 1) all.push((await took(path))[0]);
    console.log(`  ${path.split("?")[0].padEnd(50)} ${at(all, 0.5).toFixed(1).padStart(7)} ${at(all, 0.99).toFixed(1).padStart(7)}`);
  }
  for (const path of ["/book/export.csv", "/book/export.json"]) console.log(`  ${path.padEnd(50)} ${(await took(path))[0].toFixed(0).padStart(7)} once`);
  for (const clients of [10, 50]) {
    const begun = performance.now();
    let [answered, refused] = [0, 0];
    await Promise.all(Array.from({ length: clients }, async () => {
      while (performance.now() - begun < 5000) {
        const [, status] = await took(answer);
        if (status === 200) answered += 1;
        else refused += 1;
      }
    }));
    console.log(`  ${clients} clients: ${(answered / 5).toFixed(0)} answers a second, ${refused} asked to come again`);
  }
  const rss = readFileSync(`/proc/${server.pid}/status`, "utf8").match(/VmRSS:\s+(\d+)/)?.[1];
  console.log(`  memory ${(Number(rss) / 1024).toFixed(0)} MB`);
  server.kill();
}

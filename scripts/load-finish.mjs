// How fast the finish answers: node scripts/load-finish.mjs http://127.0.0.1:8861 [http://127.0.0.1:8862]
// Asks a running demonstration (two of them in turns, to compare programs) for pieces never asked before, for the same
// piece with other seconds, for a running cook's piece, and the other ways. Prints fastest/median/slowest in milliseconds.
const urls = process.argv.slice(2);
if (urls.length === 0) {
  console.error("Say which server: node scripts/load-finish.mjs http://127.0.0.1:8861");
  process.exit(2);
}

const asked = async (url, path) => {
  const began = performance.now();
  const response = await fetch(url + path);
  await response.text();
  return { ms: performance.now() - began, status: response.status };
};

const cooksOf = async (url) => {
  const page = await (await fetch(`${url}/cook`)).text();
  return [...new Set(page.match(/\/cook\/[0-9a-f-]{36}/g))].map((path) => path.slice(6));
};

const shown = (times) => {
  const sorted = [...times].sort((a, b) => a - b);
  return [sorted[0], sorted[sorted.length >> 1], sorted.at(-1)].map(Math.round).join("/");
};

const measure = async (name, times, path) => {
  const all = urls.map(() => []);
  let refused = 0;
  for (let i = 0; i < times; i++) {
    for (const [which, url] of urls.entries()) {
      const { ms, status } = await asked(url, path(i, which));
      all[which].push(ms);
      refused += status === 200 ? 0 : 1;
    }
  }
  console.log(name.padEnd(34), all.map(shown).join("   "), refused ? `${refused} refused` : "");
};

const cooks = await Promise.all(urls.map(cooksOf));
for (let n = 0; n < Math.min(2, ...cooks.map((of) => of.length)); n++) {
  await measure(`cook ${n + 1}, page`, 9, (_, which) => `/finish?cook=${cooks[which][n]}`);
  await measure(`cook ${n + 1}, other seconds`, 9, (i, which) => `/finish/answer?cook=${cooks[which][n]}&face=${30 + i}+s`);
}
for (const food of ["beef-strip", "lamb-rack", "pork-chop", "salmon-fillet", "duck-breast", "burger", "scallop", "chicken-breast"]) {
  await measure(`${food}, first asked`, 9, (i) => `/finish?food=${food}&thickness=${13 + 3 * i}.5+mm&typed_in=c-mm`);
  await measure(`${food}, other seconds`, 9, (i) => `/finish/answer?food=${food}&thickness=25+mm&face=${33 + i}+s&typed_in=c-mm`);
  await measure(`${food}, other ways`, 4, (i) => `/finish/ways?food=${food}&thickness=25+mm&face=${33 + i}+s&typed_in=c-mm`);
}
const ten = await Promise.all(
  Array.from({ length: 10 }, async (_, client) => {
    const all = [];
    for (let i = 0; i < 10; i++) {
      all.push(await asked(urls[0], `/finish/answer?cook=${cooks[0][0]}&face=${40 + i}+s&pause=${client}+min`));
    }
    return all;
  }),
);
const all = ten.flat();
console.log("ten at once".padEnd(34), shown(all.map((a) => a.ms)), `${all.filter((a) => a.status === 200).length} of 100 answered`);

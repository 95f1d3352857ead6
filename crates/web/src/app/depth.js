// What of the second depth is unfolded is remembered; the map is asked for when somebody sees it.
import { byId, whenReady } from "./page.js";

const depths = () => [...document.querySelectorAll("details.depth")];
const show = () => {
  for (const map of document.querySelectorAll("details.depth[open] .map-hold")) map.dispatchEvent(new CustomEvent("hs:show"));
};
document.addEventListener("toggle", (e) => {
  if (!e.target.matches?.("details.depth")) return;
  // What is on other pages stays as it was.
  const here = depths();
  const before = /(?:^|; )depths=([^;]*)/.exec(document.cookie)?.[1].split(".") ?? [];
  const elsewhere = before.filter((name) => name && !here.some((d) => d.id === name));
  const open = [...elsewhere, ...here.filter((d) => d.open).map((d) => d.id)].join(".");
  document.cookie = `depths=${open}; path=/; max-age=34560000; samesite=lax`;
  show();
}, true);
whenReady(show);
// An address that leads to a part leads into it.
whenReady(() => {
  const part = location.hash && byId(location.hash.slice(1))?.closest("details.depth");
  if (!part || part.open) return;
  part.open = true;
  part.scrollIntoView();
});
// What was put in anew listens from then on.
document.addEventListener("htmx:afterSettle", show);

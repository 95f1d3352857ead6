// What to do next and the verdict are read out when they change, once: outside of what is swapped every few seconds.
import { byId, whenReady } from "../app/page.js";

let before = null;
whenReady(() => {
  const live = byId("live");
  if (!live) return;
  const parts = [".live-what", ".verdict h2"].map((part) => live.querySelector(part)?.textContent.trim() ?? "");
  const text = parts.filter(Boolean).join(". ");
  if (before !== null && before !== text) byId("said").textContent = text;
  before = text;
});

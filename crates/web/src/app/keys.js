// Single keys, where nobody is typing: each leads to what carries it. Their list is under "?"; there they are turned off.
import { byId } from "./page.js";

const OFF = "keys-off";
const typing = (el) => el.closest?.("input, select, textarea, [contenteditable]") && el.type !== "range" && el.type !== "radio";
const list = () => byId("keys");
document.addEventListener("keydown", (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return;
  if (e.key === "?") { list()?.togglePopover(); return; }
  if (localStorage.getItem(OFF)) return;
  const to = [...document.querySelectorAll(`[data-key="${CSS.escape(e.key)}"]`)].find((el) => el.getClientRects().length);
  if (!to) return;
  e.preventDefault();
  to.focus();
  if (to.matches("a, summary")) to.click();
});
const shown = () => { if (byId("keys-on")) byId("keys-on").checked = !localStorage.getItem(OFF); };
document.addEventListener("change", (e) => {
  if (e.target.id !== "keys-on") return;
  if (e.target.checked) localStorage.removeItem(OFF);
  else localStorage.setItem(OFF, "1");
});
document.addEventListener("DOMContentLoaded", shown);

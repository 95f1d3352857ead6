// Every page's scripts: each looks for its own part and does nothing where that is not.
import "./alarm.js";
import "./away.js";
import "./depth.js";
import "./keys.js";
import "../plan/sentence.js";
import "../plan/foods.js";
import "../plan/late.js";
import "../plan/stale.js";
import "../plan/open.js";
import "../drawing/slice.js";
import "../drawing/scale.js";
import "../drawing/map.js";
import "../bath/bench.js";
import "../board/board.js";
import "../board/log.js";
import "../cook/sear.js";
import "../finish/finish.js";
import "../finish/pace.js";
import "../cook/age.js";
import "../cook/speak.js";
import "../cook/title.js";
import "../cook/again.js";
import "../door/who.js";
import { setClock, tick } from "./clock.js";
import { ready } from "./page.js";

document.addEventListener("click", (e) => { if (e.target.closest("[data-print]")) print(); });
document.addEventListener("DOMContentLoaded", () => {
  setClock(document.body);
  ready();
  setInterval(tick, 250);
});
document.addEventListener("htmx:afterSwap", ready);
// What a hand opened, typed, ticked or chose stays so when the part it stands in is put in anew around it;
// in a sentence whose blanks the server fills, only the one the hand is in.
const TOUCHED = { open: "DETAILS", value: "INPUT", checked: "INPUT", selected: "OPTION" };
const dirty = (el) => (el.type === "checkbox" || el.type === "radio" ? el.checked !== el.defaultChecked : el.value !== el.defaultValue);
const keepsIts = (name, el) =>
  TOUCHED[name] !== el.tagName || (el.closest("[data-server]") ? el !== document.activeElement : el.tagName === "INPUT" && !dirty(el));
// A page to print has none of it.
if (globalThis.Idiomorph) Idiomorph.defaults.callbacks.beforeAttributeUpdated = keepsIts;
// Back in view after a pause: fetch at once what the timer would fetch later.
document.addEventListener("visibilitychange", () => {
  if (!document.hidden) document.body.dispatchEvent(new CustomEvent("hs:again"));
});
// A page brought back from the browser's own cache would show old clocks.
addEventListener("pageshow", (e) => { if (e.persisted) location.reload(); });

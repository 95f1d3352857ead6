// How old the last word about a cook is: no old temperature stands there without its age.
import { now, rate, setClock, wall } from "../app/clock.js";
import { byId, element, ready, words } from "../app/page.js";
import { whenAway } from "../app/away.js";

let heardAt = performance.now();
const OLD_MS = 25_000;
const heard = () => {
  heardAt = performance.now();
  byId("live-away")?.remove();
  byId("live")?.classList.remove("is-old");
};
let unheard = false;
const age = () => {
  const live = byId("live");
  if (!live?.hasAttribute("hx-get")) return;
  const ms = performance.now() - heardAt;
  if (!unheard && ms < OLD_MS) return;
  let note = byId("live-away");
  if (!note) {
    note = element("p", "note note-warn", "");
    note.id = "live-away";
    note.setAttribute("role", "alert");
    live.before(note);
    live.classList.add("is-old");
  }
  const s = Math.round(ms / 1000);
  const ago = s < 120 ? words("seconds", { n: s }) : words("min", { m: Math.floor(s / 60) });
  const text = words("noWord", { ago, at: wall(now() - ms * rate()) });
  if (note.textContent !== text) note.textContent = text;
};

whenAway("live", () => { unheard = true; age(); });
document.addEventListener("htmx:afterSettle", (e) => {
  if (e.target.id !== "live") return;
  unheard = false;
  heard();
  setClock(e.target);
  ready();
});
document.addEventListener("hs:placed", heard);
setInterval(age, 500);

// The board hears at once what changed, says when it hears nothing, and names what went unobserved.
import { now, rate, setClock, wall } from "../app/clock.js";
import { byId, ready, words } from "../app/page.js";

const SILENT_MS = 25_000;
const TOGETHER_MS = 1500;
let [heardAt, started, asked, waiting] = [performance.now(), null, 0, false];
const say = (text) => {
  const note = byId("board-says");
  if (!note) return;
  note.hidden = !text;
  if (note.textContent !== text) note.textContent = text;
};
let [lost, missed] = ["", ""];
const show = () => say([lost, missed].filter(Boolean).join(" "));

const refresh = () => {
  if (waiting) return;
  waiting = true;
  setTimeout(() => {
    waiting = false;
    asked = performance.now();
    document.body.dispatchEvent(new CustomEvent("hs:board"));
  }, Math.max(0, TOGETHER_MS - (performance.now() - asked)));
};
// Another page was put in this one's place: nobody listens here any more.
const over = (source) => {
  if (byId("board")) return false;
  source.close();
  return true;
};
const heard = (e) => {
  if (over(e.target)) return;
  heardAt = performance.now();
  byId("board").classList.remove("is-old");
  lost = "";
  const told = JSON.parse(e.data);
  if (started !== null && told.started !== started) missed = words("boardRestarted", { at: wall(told.now) });
  // More than the line takes: somebody set the machine's clock.
  else if (Math.abs(told.now - now()) > 5000 * Math.max(1, rate())) missed = words("boardClock", { at: wall(told.now) });
  started = told.started;
  show();
};
const listen = () => {
  const source = new EventSource("/events");
  source.addEventListener("hello", (e) => { heard(e); refresh(); });
  source.addEventListener("changed", (e) => { heard(e); refresh(); });
  source.addEventListener("tick", heard);
  source.addEventListener("error", () => {
    if (over(source)) return;
    const at = wall(now() - (performance.now() - heardAt) * rate());
    lost = words("boardLost", { at });
    byId("board").classList.add("is-old");
    show();
    // A browser gives up for good where the answer was no stream: tried again.
    if (source.readyState === EventSource.CLOSED) setTimeout(listen, 3000);
  });
};

document.addEventListener("DOMContentLoaded", () => {
  if (!byId("board")) return;
  listen();
  let before = Date.now();
  setInterval(() => {
    const gap = Date.now() - before;
    before = Date.now();
    if (gap > 30_000) {
      // This device slept, or its clock was set: what was due meanwhile was not heard here.
      missed = words("boardSlept", { min: Math.round(gap / 60_000) || 1 });
      show();
      refresh();
    } else if (performance.now() - heardAt > SILENT_MS) {
      lost = words("boardLost", { at: wall(now() - (performance.now() - heardAt) * rate()) });
      byId("board")?.classList.add("is-old");
      show();
    }
  }, 1000);
});
document.addEventListener("htmx:afterSettle", (e) => {
  if (e.target.id !== "board") return;
  setClock(e.target);
  ready();
  document.dispatchEvent(new CustomEvent("hs:board-placed"));
});
// The chosen device is the address the form goes to.
document.addEventListener("change", (e) => {
  if (e.target.matches("[data-device-choice]")) e.target.closest("form").action = `/devices/${e.target.value}/place`;
});
document.addEventListener("click", (e) => { if (e.target.id === "board-says") { missed = ""; show(); } });

// The finish, paced: the hands' turn is called, and what it really took is counted.
import { play, soundOn } from "../app/tone.js";
import { byId, data, words } from "../app/page.js";

// Told apart without looking: a face, an edge, off the heat, a wait that is over.
const TONES = {
  turn: [[988, 0, 0.16], [988, 0.22, 0.16]],
  edge: [[1319, 0, 0.1], [1319, 0.14, 0.1], [1319, 0.28, 0.1]],
  off: [[784, 0, 0.2], [988, 0.24, 0.2], [1319, 0.48, 0.5]],
  wait: [[523, 0, 0.4], [659, 0.45, 0.5]],
};
// By the wall clock, and kept in this tab: reloaded in the middle of a sear it goes on counting.
let [at, since, called, round] = [-1, 0, false, 1];
let took = [];
// The turns of the pieces before this one: they are one sear in the record.
let before = [];
const KEY = `hold-steady-pace${location.search}`;
const keep = () => { try { sessionStorage.setItem(KEY, JSON.stringify({ at, since, round, took, before })); } catch { /* it counts all the same */ } };
const recall = () => {
  try {
    const kept = JSON.parse(sessionStorage.getItem(KEY));
    if (!kept || Date.now() - kept.since > 3 * 3600_000) return;
    ({ at, since, round, took, before = [] } = kept);
    if (at >= 0) show();
  } catch { /* nothing was kept */ }
};
const steps = () => data("pace-steps");
const label = (seconds) => {
  const s = Math.round(Math.abs(seconds));
  return `${seconds < -0.5 ? "+" : ""}${s >= 100 ? `${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}` : s}`;
};
const faces = () => steps().flatMap((s, i) => (s.face && took[i] !== undefined ? [Math.max(1, Math.round(took[i]))] : [])).join(" + ");
const list = () => {
  [...byId("pace-list").children].forEach((li, i) => {
    li.className = i === at ? "is-now" : i < at ? "is-done" : "";
    li.querySelector(".pace-took").textContent = took[i] === undefined ? "" : words("paceTook", { n: Math.round(took[i]) });
  });
};
const show = () => {
  const [all, step] = [steps(), steps()[at]];
  byId("pace-back").hidden = at < 1;
  list();
  if (!step) {
    byId("pace-what").textContent = words("paceDone");
    byId("pace-count").textContent = "";
    byId("pace-then").textContent = "";
    const pieces = Number(byId("pace").dataset.pieces);
    byId("pace-on").hidden = round >= pieces;
    byId("pace-on").textContent = words("paceNext");
    const turns = [...before, faces()].join(" + ");
    byId("pace-record").hidden = false;
    const out = byId("pace-faces");
    if (out) out.matches("input") ? (out.value = turns) : (out.textContent = turns);
    return;
  }
  byId("pace-what").textContent = step.what;
  byId("pace-on").textContent = words("paceOn");
  byId("pace-then").textContent = all[at + 1] ? words("paceThen", { what: all[at + 1].what }) : "";
};
const on = () => {
  soundOn();
  const all = steps();
  if (at >= all.length) {
    // The next piece was opened while the one before was on the heat.
    before.push(faces());
    [round, took, at] = [round + 1, [], all.findIndex((s) => s.tone !== "wait") - 1];
    byId("pace-record").hidden = true;
    byId("pace-on").hidden = false;
  } else if (at >= 0) took[at] = (Date.now() - since) / 1000;
  at += 1;
  [since, called] = [Date.now(), false];
  keep();
  show();
};
const back = () => {
  if (at < 1) return;
  at -= 1;
  took.length = at;
  [since, called] = [Date.now(), false];
  keep();
  show();
};
const tick = () => {
  const step = byId("pace") && at >= 0 ? steps()[at] : null;
  if (!step) return;
  const left = step.s - (Date.now() - since) / 1000;
  const out = byId("pace-count");
  out.textContent = label(left);
  out.classList.toggle("is-due", left <= 0);
  if (left > 0 || called) return;
  called = true;
  play(TONES[step.tone]);
  navigator.vibrate?.([200, 80, 200]);
};
document.addEventListener("click", (e) => {
  if (e.target.id === "pace-on") on();
  if (e.target.id === "pace-back") back();
});
document.addEventListener("keydown", (e) => {
  if (e.key !== " " || !byId("pace") || byId("pace-on").hidden || e.target.closest("input, button, a, textarea, select")) return;
  e.preventDefault();
  on();
});
document.addEventListener("DOMContentLoaded", () => { if (byId("pace")) recall(); });
// Written down: the next sear begins anew.
document.addEventListener("submit", (e) => { if (e.target.closest("#pace-record")) sessionStorage.removeItem(KEY); });
setInterval(tick, 100);

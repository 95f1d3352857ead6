// What is to be heard: three tones, the whole screen, the title, a notification; until somebody says “heard”, anywhere.
import { now } from "../app/clock.js";
import { byId, words } from "../app/page.js";
import { play as tones, soundOn, sounding } from "../app/tone.js";

// Rising for what is due, low and slow for a limit that comes, up and down for what goes wrong: told apart without looking.
const TONES = {
  due: [[880, 0, 0.18], [1175, 0.22, 0.18], [1568, 0.44, 0.3]],
  limit: [[392, 0, 0.45], [392, 0.6, 0.45], [330, 1.2, 0.7]],
  wrong: [[700, 0, 0.25], [1050, 0.25, 0.25], [700, 0.5, 0.25], [1050, 0.75, 0.25], [700, 1, 0.25], [1050, 1.25, 0.35]],
};
const AGAIN_MS = 3500;
let lock = null;
const play = (tone, later = 0) => tones(TONES[tone], later);
const switchOn = async () => {
  await soundOn();
  state();
};
const state = () => {
  const button = byId("sound");
  if (!button) return;
  const on = sounding();
  button.setAttribute("aria-pressed", String(on));
  const text = words(on ? "soundOn" : "soundOff");
  if (button.textContent !== text) button.textContent = text;
};

// A screen that goes dark is no board.
const stayAwake = async () => {
  if (!navigator.wakeLock || document.hidden || !document.querySelector(".bag")) return;
  try { lock ??= await navigator.wakeLock.request("screen"); lock.addEventListener("release", () => { lock = null; }); } catch { lock = null; }
};

const due = () => [...document.querySelectorAll("[data-alarm]")].filter((a) => Number(a.dataset.at) <= now());
const told = new Set();
let [soundedAt, plain] = [-Infinity, null];
const look = () => {
  const list = byId("alarms");
  if (!list) return;
  const alarms = due();
  for (const a of alarms) a.hidden = false;
  const flash = byId("flash");
  flash.hidden = alarms.length === 0;
  if (!alarms.length) {
    if (plain !== null) { document.title = plain; plain = null; }
    return;
  }
  // The gravest is shown and sounds.
  const grave = ["wrong", "limit", "due"];
  const [first] = alarms.toSorted((a, b) => grave.indexOf(a.dataset.tone) - grave.indexOf(b.dataset.tone));
  const text = first.querySelector(".alarm-text").textContent;
  if (flash.dataset.alarm !== first.dataset.alarm || flash.dataset.count !== String(alarms.length)) {
    flash.dataset.alarm = first.dataset.alarm;
    flash.dataset.count = String(alarms.length);
    flash.className = `flash flash-${first.dataset.tone}`;
    const [what, act, heard] = [document.createElement("p"), document.createElement("p"), document.createElement("button")];
    what.className = "flash-text"; what.textContent = text;
    act.textContent = [first.querySelector(".alarm-act")?.textContent ?? "", alarms.length > 1 ? words("moreAlarms", { n: alarms.length - 1 }) : ""].filter(Boolean).join(" ");
    heard.type = "button"; heard.className = "btn btn-light btn-lg"; heard.textContent = words("heard");
    heard.addEventListener("click", () => { switchOn(); hear(first.dataset.alarm); });
    flash.replaceChildren(what, act, heard);
  }
  if (plain === null) plain = document.title;
  document.title = `⚠ ${text}`;
  for (const a of alarms) {
    if (told.has(a.dataset.alarm)) continue;
    told.add(a.dataset.alarm);
    soundedAt = -Infinity;
    if (globalThis.Notification?.permission === "granted" && document.hidden) new Notification("Hold Steady", { body: a.querySelector(".alarm-text").textContent, tag: a.dataset.alarm });
  }
  if (sounding() && performance.now() - soundedAt > AGAIN_MS) {
    soundedAt = performance.now();
    play(first.dataset.tone);
  }
};
const hear = async (alarm) => {
  const body = new URLSearchParams({ alarm });
  byId("flash").hidden = true;
  document.querySelector(`[data-alarm="${alarm}"]`)?.remove();
  try { await fetch("/board/heard", { method: "POST", body, credentials: "same-origin", signal: AbortSignal.timeout(4000) }); } catch { /* it comes again until it is written down */ }
  document.body.dispatchEvent(new CustomEvent("hs:board"));
};

// Heard in the list is heard as on the screen: nobody is led away from the wall.
document.addEventListener("submit", (e) => {
  const alarm = e.target.closest("[data-alarm]")?.dataset.alarm;
  if (!alarm) return;
  e.preventDefault();
  hear(alarm);
}, true);
document.addEventListener("click", (e) => {
  if (e.target.id === "sound") switchOn();
  if (e.target.id === "sound-test") switchOn().then(() => { play("due"); play("limit", 1.4); play("wrong", 4); });
  if (e.target.id === "notify") Notification.requestPermission().then(() => { byId("notify").hidden = true; });
});
document.addEventListener("DOMContentLoaded", () => {
  if (!byId("board")) return;
  if (!isSecureContext) byId("forbidden")?.removeAttribute("hidden");
  else if (globalThis.Notification?.permission === "default") byId("notify")?.removeAttribute("hidden");
  state();
  stayAwake();
  setInterval(() => { look(); state(); }, 500);
});
document.addEventListener("visibilitychange", stayAwake);
document.addEventListener("hs:board-placed", () => { look(); stayAwake(); });

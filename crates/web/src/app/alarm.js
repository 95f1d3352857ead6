// What is to be heard, on every page: three tones, three shapes, a sheet, the title, a notification; until it is done. “Heard”
// silences this screen only: its other tabs hear of it, other screens ring on.
import { now } from "./clock.js";
import { byId, sheetHeight, words } from "./page.js";
import { play as tones, soundOn, sounding } from "./tone.js";

// Rising for what is due, low and slow for a limit that comes, up and down for what goes wrong: told apart without looking.
const TONES = {
  due: [[880, 0, 0.18], [1175, 0.22, 0.18], [1568, 0.44, 0.3]],
  limit: [[392, 0, 0.45], [392, 0.6, 0.45], [330, 1.2, 0.7]],
  wrong: [[700, 0, 0.25], [1050, 0.25, 0.25], [700, 0.5, 0.25], [1050, 0.75, 0.25], [700, 1, 0.25], [1050, 1.25, 0.35]],
};
const GRAVE = ["wrong", "limit", "due"];
const AGAIN_MS = 3500;
// A finger that was on its way to something else silences nothing.
const NOT_BEFORE_MS = 600;
const WANTED = "hold-steady-sound";
let lock = null;
const play = (tone, later = 0) => tones(TONES[tone], later);

// Browsers allow sound once the page was touched: whoever wanted it once gets it back with the first touch of each page.
const wanted = () => { try { return localStorage.getItem(WANTED) === "on"; } catch { return false; } };
const switchOn = async () => {
  try { localStorage.setItem(WANTED, "on"); } catch { /* until this page is left */ }
  await soundOn();
  show();
};
const show = () => {
  const [button, wall] = [byId("sound"), byId("wall-sound")];
  const on = sounding();
  if (wall) wall.hidden = on;
  if (!button) return;
  button.setAttribute("aria-pressed", String(on));
  const text = words(on ? "soundOn" : "soundOff");
  if (button.textContent !== text) button.textContent = text;
};

// A screen that goes dark rings no bell.
const stayAwake = async () => {
  if (!navigator.wakeLock || document.hidden || !document.querySelector(".bag, #live[hx-get]")) return;
  try { lock ??= await navigator.wakeLock.request("screen"); lock.addEventListener("release", () => { lock = null; }); } catch { lock = null; }
};

const part = (li, name) => li.querySelector(`.alarm-${name}`)?.textContent ?? "";
// A number keeps its unit beside it.
const together = (text) => text.replace(/(\d) (?=°|mm|in\b)/g, "$1\u00a0");
const put = (id, told) => { const [el, text] = [byId(id), together(told)]; if (el.textContent !== text) el.textContent = text; };
const silenced = new Set();
const due = () => [...document.querySelectorAll("[data-alarm]")].filter((a) => Number(a.dataset.at) <= now() && !silenced.has(a.dataset.alarm));
const told = new Set();
let [soundedAt, openedAt, plain, from] = [-Infinity, 0, null, null];

const close = () => {
  const flash = byId("flash");
  if (flash.hidden) return;
  const within = flash.contains(document.activeElement);
  flash.hidden = true;
  put("flash-aloud", "");
  if (within) (from?.isConnected ? from : byId("main")).focus({ preventScroll: true });
  from = null;
  if (plain !== null) { document.title = plain; plain = null; }
};
const open = (first, count) => {
  const flash = byId("flash");
  const [text, until] = [part(first, "text"), first.querySelector(".alarm-until")];
  put("flash-text", text);
  put("flash-place", part(first, "place"));
  const left = until ? Math.ceil((Number(until.dataset.ms) - now()) / 60_000) : 0;
  put("flash-until", until && left > 0 ? words("untilUnsafe", { min: left, at: until.textContent }) : "");
  put("flash-act", [part(first, "act"), count > 1 ? words("moreAlarms", { n: count - 1 }) : ""].filter(Boolean).join(" "));
  byId("flash-go").href = first.dataset.href;
  byId("flash-go").hidden = first.dataset.href === location.pathname;
  if (plain === null) plain = document.title;
  document.title = `⚠ ${text}`;
  if (!flash.hidden && flash.dataset.alarm === first.dataset.alarm) return;
  const anew = flash.hidden;
  flash.dataset.alarm = first.dataset.alarm;
  flash.className = `flash flash-${first.dataset.tone}`;
  flash.hidden = false;
  openedAt = performance.now();
  // Whoever types goes on typing, and is told.
  if (document.activeElement?.matches("input, textarea, select")) put("flash-aloud", `${text}. ${part(first, "place")}`);
  else if (anew) { from = document.activeElement; flash.focus({ preventScroll: true }); }
};
// A page that has just come and was not touched is pushed down: nothing of it is covered.
const FRESH_MS = 1500;
let [cameAt, touched] = [0, false];
const fresh = () => !touched && performance.now() - cameAt < FRESH_MS;
// Later a finger is on its way to what stands under the sheet: that stays where it is, the page is scrolled by what the sheet
// takes.
const still = (change) => {
  if (fresh()) return change();
  const [main, root] = [byId("main"), document.documentElement];
  root.style.overflowAnchor = "none";
  const [before, took] = [main.getBoundingClientRect().top, sheetHeight()];
  change();
  // With little height the sheet does not stay in view: there the page moves, so that it is seen.
  if (sheetHeight() !== took) scrollBy({ top: main.getBoundingClientRect().top - before, behavior: "instant" });
  root.style.overflowAnchor = "";
};
// While the page glides to where a link leads nothing is moved: that would stop it on its way. It is looked at again soon.
const GLIDES_MS = 200;
let movedAt = -Infinity;
document.addEventListener("scroll", () => { movedAt = performance.now(); }, { passive: true });
const look = () => { if (byId("flash") && performance.now() - movedAt > GLIDES_MS) still(lookAgain); };
const lookAgain = () => {
  const alarms = due();
  if (!alarms.length) return close();
  // The gravest is shown and sounds.
  const [first] = alarms.toSorted((a, b) => GRAVE.indexOf(a.dataset.tone) - GRAVE.indexOf(b.dataset.tone));
  open(first, alarms.length);
  for (const a of alarms) {
    if (told.has(a.dataset.alarm)) continue;
    told.add(a.dataset.alarm);
    soundedAt = -Infinity;
    if (globalThis.Notification?.permission === "granted" && document.hidden) new Notification("Hold Steady", { body: part(a, "text"), tag: a.dataset.alarm });
  }
  if (sounding() && performance.now() - soundedAt > AGAIN_MS) {
    soundedAt = performance.now();
    play(first.dataset.tone);
  }
};
const again = () => document.body.dispatchEvent(new CustomEvent("hs:board"));
const tooSoon = () => performance.now() - openedAt < NOT_BEFORE_MS;
const hear = async (alarm) => {
  if (tooSoon()) return;
  switchOn();
  silenced.add(alarm);
  told.delete(alarm);
  look();
  try {
    await fetch("/board/heard", { method: "POST", body: new URLSearchParams({ alarm }), credentials: "same-origin", signal: AbortSignal.timeout(4000) });
    // From here on the kitchen's machine says what rings here.
    again();
  } catch { /* it comes again until it is written down */ }
  setTimeout(() => silenced.delete(alarm), 5000);
};

document.addEventListener("click", (e) => {
  if (e.target.id === "flash-heard") hear(byId("flash").dataset.alarm);
  if (e.target.id === "flash-go" && tooSoon()) e.preventDefault();
  if (["sound", "wall-sound"].includes(e.target.id)) switchOn();
  if (e.target.id === "sound-test") switchOn().then(() => { play("due"); play("limit", 1.4); play("wrong", 4); });
  if (e.target.id === "notify") Notification.requestPermission().then(() => { byId("notify").hidden = true; });
  // Where a cook begins somebody's hand is on the page anyway.
  if (e.target.closest("#start, [name=what][value=dropped]")) { switchOn(); stayAwake(); }
});
document.addEventListener("pointerdown", () => { touched = true; if (wanted() && !sounding()) soundOn().then(show); });
document.addEventListener("keydown", (e) => {
  touched = true;
  if (e.key === "Escape" && byId("flash")?.contains(document.activeElement)) hear(byId("flash").dataset.alarm);
  if (wanted() && !sounding()) soundOn().then(show);
});
document.addEventListener("DOMContentLoaded", () => {
  if (!byId("flash")) return;
  cameAt = performance.now();
  if (!isSecureContext) byId("forbidden")?.removeAttribute("hidden");
  else if (globalThis.Notification?.permission === "default") byId("notify")?.removeAttribute("hidden");
  show();
  stayAwake();
  setInterval(() => { look(); show(); }, 500);
});
document.addEventListener("visibilitychange", stayAwake);
document.addEventListener("hs:placed", () => { again(); stayAwake(); });
document.addEventListener("hs:board-placed", () => { look(); stayAwake(); });

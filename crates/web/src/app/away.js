// When the kitchen's machine cannot be reached: no tap is lost. Taps are sent once, and kept until they are.
import { now, rate, setClock, wall } from "./clock.js";
import { askPin, askWho } from "../door/who.js";
import { byId, element, ready, sheetHeight, words } from "./page.js";

const WITHIN_MS = 4000;

// Whoever asked the machine in vain, by its element: told why, as a key of the page's words.
const away = new Map();
export const whenAway = (id, told) => { away.set(id, told); };
const failed = (e, why) => away.get(e.detail.elt?.id)?.(why);
document.addEventListener("htmx:sendError", (e) => failed(e, "send"));
document.addEventListener("htmx:timeout", (e) => failed(e, "slow"));
document.addEventListener("htmx:responseError", (e) => failed(e, e.detail.xhr.status === 503 ? "busy" : "fail"));

const KEY = "hold-steady-waiting";
const waiting = () => { try { return JSON.parse(localStorage.getItem(KEY)) ?? []; } catch { return []; } };
const keep = (list) => {
  if (list.length) localStorage.setItem(KEY, JSON.stringify(list));
  else localStorage.removeItem(KEY);
  showWaiting();
};
const box = (id) => {
  let el = byId(id);
  if (!el) {
    el = element("div", "note note-warn", "");
    el.id = id;
    el.setAttribute("role", "status");
    byId("main").prepend(el);
  }
  return el;
};
const showWaiting = () => {
  const list = waiting();
  if (!list.length) return byId("waiting")?.remove();
  const el = box("waiting");
  el.replaceChildren();
  for (const tap of list) {
    const line = element("p", "", `${words("waits", { why: tap.why, label: tap.label, at: wall(tap.at) })} `);
    const drop = element("button", "btn btn-sm btn-outline-secondary", words("dropTap"));
    drop.type = "button";
    drop.addEventListener("click", () => keep(waiting().filter((t) => t.id !== tap.id)));
    line.append(drop);
    el.append(line);
  }
};
// Answered is what came whole: an answer cut off on its way leaves the tap waiting, and it is sent again.
const post = async (url, body) => {
  const response = await fetch(url, { method: "POST", body, credentials: "same-origin", signal: AbortSignal.timeout(body instanceof FormData ? 60_000 : WITHIN_MS) });
  const page = new DOMParser().parseFromString(await response.text(), "text/html");
  return { ok: response.ok, status: response.status, needs: response.headers.get("Hs-Needs"), redirected: response.redirected, url: response.url, page };
};
// What the page becomes after an answer: where it leads, or what it says here. A browser keeps to itself which part of
// the page it leads to; the form says it.
const goOn = (response, tap, part = "") => {
  const to = new URL(response.url);
  if (response.redirected) to.hash = part;
  const stays = to.pathname === location.pathname && to.search === location.search;
  if (response.redirected && !(stays && tap)) {
    if (!stays) return location.assign(to);
    if (to.hash) history.replaceState(null, "", to);
    return location.reload();
  }
  // After a tap the same page as it is now, or a form handed back with what is wrong: put in place, without
  // asking twice.
  const { page } = response;
  const main = page.querySelector("main") ?? page.querySelector("body");
  const within = byId("main").contains(document.activeElement);
  byId("main").replaceChildren(...main.childNodes);
  const strip = page.querySelector("#next-strip");
  if (strip) byId("next-strip").replaceWith(strip);
  document.title = page.title;
  htmx.process(byId("main"));
  // The focus was on what is gone: it stays on the page's part, not on its very top.
  if (within) byId("main").focus({ preventScroll: true });
  if (to.hash) byId(to.hash.slice(1))?.scrollIntoView();
  else scrollTo(0, sheetHeight());
  setClock(byId("live"));
  ready();
  document.dispatchEvent(new CustomEvent("hs:placed"));
  showWaiting();
};
const refusedIn = ({ page }) => (page.querySelector("#problem") ?? page.querySelector("main p"))?.textContent.trim() ?? "";
// What may be taken later: the machine has too much to do, or does not know yet who asks. A tap waits for that.
const later = (status) => status >= 500 || [401, 408, 429].includes(status);
// A tap belongs to whoever tapped it: it is not sent in the name of somebody who signed in after them.
const who = () => document.body.dataset.who ?? "";
// What was tapped on a shared screen while nobody was named is of whoever says next who it is.
const nobodys = (t) => "shared" in document.body.dataset && !t.who && who() !== "";
const own = () => waiting().filter((t) => (t.who ?? "") === who() || nobodys(t));
const signIn = (id) => {
  const link = element("a", "", words("signIn"));
  link.href = `/sign-in?${new URLSearchParams({ to: location.pathname + location.search })}`;
  box(id).append(" ", link);
};
let flushing = false;
const flush = async () => {
  if (flushing || !own().length) return;
  flushing = true;
  try {
    // In the order they were tapped: a pull follows its drop.
    for (let tap = own()[0]; tap; tap = own()[0]) {
      const body = new URLSearchParams(tap.body);
      // How long ago, by this device: the machine's own clock may have been set meanwhile.
      body.set("tapped_ago", String(Math.max(0, (Date.now() - tap.device) / 1000) * rate()));
      const response = await post(tap.action, body);
      if (later(response.status)) break;
      keep(waiting().filter((t) => t.id !== tap.id));
      if (response.ok) {
        if (location.pathname === new URL(tap.page, location.origin).pathname && !waiting().length) goOn(response, true);
      } else {
        box("refused-tap").append(element("p", "", words("refusedTap", { label: tap.label, at: wall(tap.at), reason: refusedIn(response) })));
      }
    }
  } catch {
    // Still away: tried again soon.
  } finally {
    flushing = false;
  }
};
const queue = (form, body, label, why, { at, device }) => {
  const id = body.get("tap");
  // Tapped again while it waits, it is the same tap: the first stands.
  if (waiting().some((t) => t.id === id)) return;
  keep([...waiting(), { id, action: form.action, page: location.pathname, body: body.toString(), label, at, device, why, who: who() }]);
};
// The form's own identifier is that of the first tap in it. Another one from the same page (another button, another
// time) is another tap; the same again is the same.
const named = new WeakMap();
const tapId = (form, body) => {
  const ids = named.get(form) ?? new Map();
  named.set(form, ids);
  const said = body.toString();
  if (!ids.has(said)) ids.set(said, ids.size === 0 ? body.get("tap") : newId());
  return ids.get(said);
};
// Time-ordered, as the server's; `crypto.randomUUID` is not there on a plain address of the network.
const newId = () => {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  let ms = Math.floor(now());
  for (let i = 5; i >= 0; i -= 1) { bytes[i] = ms % 256; ms = Math.floor(ms / 256); }
  bytes[6] = 0x70 | (bytes[6] & 0x0f);
  bytes[8] = 0x80 | (bytes[8] & 0x3f);
  return [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("").replace(/^(.{8})(.{4})(.{4})(.{4})/, "$1-$2-$3-$4-");
};
// While one is on its way, the same form sends no second, and another form waits for it: a pull follows its drop.
const sending = new WeakSet();
let line = Promise.resolve();
document.addEventListener("submit", async (e) => {
  const form = e.target;
  if (form.method !== "post" || e.defaultPrevented) return;
  e.preventDefault();
  if (sending.has(form)) return;
  // When it was tapped, not when the machine was found not to answer.
  const tapped = { at: now(), device: Date.now() };
  sending.add(form);
  form.setAttribute("aria-busy", "true");
  const data = new FormData(form, e.submitter);
  const file = form.enctype === "multipart/form-data";
  const body = file ? data : new URLSearchParams([...data]);
  const label = (e.submitter?.getAttribute("aria-label") ?? e.submitter?.textContent ?? form.getAttribute("aria-label") ?? "").trim();
  const tap = "tap" in form.dataset;
  if (tap) body.set("tap", tapId(form, body));
  const notSent = (why) => {
    if (tap) queue(form, body, label, why, tapped);
    else box("not-sent").textContent = words("notSent", { why, label });
    byId("waiting")?.scrollIntoView({ block: "nearest" });
  };
  const before = line;
  let done;
  line = new Promise((resolve) => { done = resolve; });
  try {
    await before;
    // What waits was tapped before.
    if (tap) await flush();
    if (tap && own().length) return notSent(words("othersWait"));
    let response = await post(form.action, body);
    // On a shared screen a name or a PIN may be all that is missing: it is asked for, and the same is sent again.
    if (response.needs === "who" && (await askWho())) response = await post(form.action, body);
    if (response.needs === "pin" && (await askPin())) response = await post(form.action, body);
    // What somebody else must do is said, and holds nothing up.
    if (response.status === 403) box("not-sent").textContent = words("notSent", { why: refusedIn(response), label });
    else if (later(response.status)) notSent(refusedIn(response) || words("notWritten"));
    else goOn(response, tap, form.dataset.part);
    if (response.status === 401 && response.needs !== "who") signIn(tap ? "waiting" : "not-sent");
  } catch (problem) {
    notSent(problem.name === "TimeoutError" ? words("slow") : words("send"));
  } finally {
    done();
    sending.delete(form);
    form.removeAttribute("aria-busy");
  }
});

document.addEventListener("DOMContentLoaded", () => {
  showWaiting();
  flush();
  setInterval(flush, 3000);
});
addEventListener("online", flush);
document.addEventListener("hs:named", flush);
addEventListener("storage", (e) => { if (e.key === KEY) showWaiting(); });

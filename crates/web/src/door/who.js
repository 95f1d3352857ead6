// A screen that several share asks who it is over the page that is open: nothing that was typed is lost, and an alarm still
// rings. What takes a PIN asks for it the same way.
import { byId, element, words } from "../app/page.js";

const IDLE_MS = 5 * 60_000;
const TELL_EVERY_MS = 45_000;
const shared = () => "shared" in document.body.dataset;

const post = (url, body) =>
  fetch(url, { method: "POST", body: new URLSearchParams(body), credentials: "same-origin", signal: AbortSignal.timeout(8000) });
const parsed = async (response) => new DOMParser().parseFromString(await response.text(), "text/html");

// Whoever waits for a name or a PIN is told whether one came.
let settle = null;
const sheet = () => {
  let el = byId("who-sheet");
  if (!el) {
    el = element("dialog", "who-sheet", "");
    el.id = "who-sheet";
    el.addEventListener("close", () => { settle?.(el.returnValue === "yes"); settle = null; });
    // Its forms are sent here and lead nowhere: the page under it stays.
    el.addEventListener("submit", (e) => { e.preventDefault(); e.stopPropagation(); answer(el, e.target); });
    document.body.append(el);
  }
  return el;
};
const heading = (text) => element("h2", "", text);
const show = (el, title, ...nodes) => {
  el.setAttribute("aria-label", title);
  el.replaceChildren(heading(title), ...nodes);
  if (!el.open) el.showModal();
  el.querySelector("[autofocus]")?.focus();
};
const wrong = (el, text) => {
  let note = el.querySelector("#who-problem");
  if (!note) {
    note = element("p", "note note-warn", "");
    note.id = "who-problem";
    note.setAttribute("role", "alert");
    el.querySelector("h2").after(note);
  }
  note.textContent = text;
};
const answer = async (el, form) => {
  try {
    const response = await post(form.action, new FormData(form));
    if (response.ok) {
      const page = await parsed(response);
      named(page);
      return el.close("yes");
    }
    const page = await parsed(response);
    const names = page.querySelector("#who-names");
    if (names) return show(el, words("whoIsIt"), names);
    wrong(el, (page.querySelector("#problem") ?? page.querySelector("main p"))?.textContent.trim() ?? words("send"));
    form.querySelector("input[name=pin]")?.select();
  } catch {
    wrong(el, words("send"));
  }
};
// Who it is now stands at the top, as the page that was led to says it.
const named = (page) => {
  const { who } = page.body.dataset;
  if (who === undefined) return;
  document.body.dataset.who = who;
  const now = page.querySelector(".signed-in");
  const here = document.querySelector(".signed-in");
  if (now && here) here.replaceWith(now);
  else if (now) document.querySelector(".top-right .units")?.before(now);
  document.dispatchEvent(new CustomEvent("hs:named"));
  document.body.dispatchEvent(new CustomEvent("hs:again"));
};

// Asks for a name; true once there is one.
let asking = null;
export const askWho = () => {
  asking ??= (async () => {
    const el = sheet();
    try {
      const response = await fetch(`/who/names?${new URLSearchParams({ to: "/plan" })}`, { credentials: "same-origin" });
      const names = (await parsed(response)).querySelector("#who-names");
      if (!response.ok || response.redirected || !names) return false;
      show(el, words("whoIsIt"), names);
      return await new Promise((resolve) => { settle = resolve; });
    } catch {
      return false;
    }
  })().finally(() => { asking = null; });
  return asking;
};
// Asks for the PIN of whoever is named; true once it was right.
export const askPin = async () => {
  const el = sheet();
  const form = element("form", "change", "");
  form.method = "post";
  form.action = "/who/pin";
  const label = element("label", "", words("yourPin"));
  const input = element("input", "form-control code", "");
  Object.assign(input, { name: "pin", type: "password", inputMode: "numeric", maxLength: 6, required: true, id: "sheet-pin", autocomplete: "off", autofocus: true });
  label.htmlFor = input.id;
  const go = element("button", "btn btn-primary btn-lg", words("goOn"));
  const not = element("button", "btn btn-link", words("notNow"));
  not.type = "button";
  not.addEventListener("click", () => el.close("no"));
  form.append(label, input, go, not);
  show(el, words("takesPin"), form);
  return await new Promise((resolve) => { settle = resolve; });
};

// Whoever touches the screen goes on being who they are; after five minutes in which nobody did it asks again.
let touched = Date.now();
let told = Date.now();
const touch = () => {
  if (!shared() || byId("who-sheet")?.open) return;
  touched = Date.now();
  if (document.body.dataset.who && touched - told > TELL_EVERY_MS) {
    told = touched;
    post("/who/touched", {}).then((r) => { if (r.status === 410) askWho(); }).catch(() => { told = 0; });
  }
};
for (const what of ["pointerdown", "keydown", "input", "scroll"]) addEventListener(what, touch, { passive: true, capture: true });
const idle = () => {
  if (!shared() || byId("who-sheet")?.open || !document.body.dataset.who) return;
  if (Date.now() - touched < IDLE_MS) return;
  document.body.dataset.who = "";
  post("/who/leave", {}).catch(() => {});
  askWho();
};
document.addEventListener("DOMContentLoaded", () => {
  if (shared()) setInterval(idle, 1000);
});
// What a page asks by itself is answered “who?” once the name counts no more.
document.addEventListener("htmx:responseError", (e) => { if (e.detail.xhr.getResponseHeader("Hs-Needs") === "who") askWho(); });

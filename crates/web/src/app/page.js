// What all pages' scripts share. No rule and no computation of heat or safety is in any of them: they move cursors and
// clocks over numbers the server computed, in words the server sent.

export const byId = (id) => document.getElementById(id);

// JSON that stands in a page, read once.
export const data = (id) => {
  const el = byId(id);
  if (!el) return null;
  el.parsed ??= JSON.parse(el.textContent);
  return el.parsed;
};

// A sentence of the server's, its blanks filled.
export const words = (key, blanks = {}) => data("script-words")[key].replace(/\{(\w+)\}/g, (_, name) => blanks[name]);

export const element = (tag, className, text) => {
  const el = document.createElement(tag);
  el.className = className;
  el.textContent = text;
  return el;
};

// What is typed in a form, as it would be sent; files apart.
export const typedIn = (form) => new URLSearchParams([...new FormData(form)].filter(([, v]) => typeof v === "string")).toString();

// What a sheet that stays in view takes of the page's top: with little height it does not stay, and on a wall, where nobody
// scrolls, it pushes the page down.
export const sheetHeight = () => {
  const sheet = byId("flash");
  const stays = sheet && !sheet.hidden && !document.body.matches(".kiosk") && getComputedStyle(sheet).position !== "static";
  return stays ? sheet.offsetHeight : 0;
};

// On a phone the parts of a long page are folded; what a hand opened stays open, and what is wrong in one opens it.
const opened = new Set();
const named = (part) => part.querySelector("h2")?.id;
const fold = () => {
  if (!matchMedia("(max-width: 700px)").matches) return;
  for (const part of document.querySelectorAll("details[data-fold]")) {
    const wrong = part.querySelector("[aria-invalid=true], .field-error:not([hidden]):not(:empty)") !== null;
    const open = opened.has(named(part)) || wrong || location.hash === `#${named(part)}`;
    if (part.open !== open) part.open = open;
  }
};
document.addEventListener("click", (e) => {
  const part = e.target.closest?.("details[data-fold] > summary")?.parentElement;
  if (part) opened[part.open ? "delete" : "add"](named(part));
});
addEventListener("hashchange", fold);

// What is done whenever a part of the page was put in anew.
const steps = [];
export const whenReady = (step) => { steps.push(step); };
whenReady(fold);
export const ready = () => { for (const step of steps) step(); };

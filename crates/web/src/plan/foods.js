// The food: any part of a name, by keyboard, mouse or touch.
import { byId } from "../app/page.js";
import { ask } from "./sentence.js";

const list = () => byId("food-list");
const options = () => [...list().querySelectorAll(".food-option")];
const chosen = () => list().querySelector("[aria-selected=true]");
const openList = (field) => {
  const box = list();
  box.style.top = `${field.offsetTop + field.offsetHeight + 4}px`;
  box.hidden = false;
  field.setAttribute("aria-expanded", "true");
};
// A list asked for before the choice was made must not open after it.
let wanted = false;
const closeList = (field) => {
  wanted = false;
  list().hidden = true;
  field.setAttribute("aria-expanded", "false");
  field.removeAttribute("aria-activedescendant");
};
const point = (field, option) => {
  chosen()?.setAttribute("aria-selected", "false");
  if (!option) return field.removeAttribute("aria-activedescendant");
  option.setAttribute("aria-selected", "true");
  field.setAttribute("aria-activedescendant", option.id);
  option.scrollIntoView({ block: "nearest" });
};
const choose = (field, option) => {
  // How many stays, where it was typed before it.
  const count = typing ? /^\s*\d{1,2}\s*[×x]?\s+(?=\S)/.exec(field.value)?.[0] ?? "" : "";
  field.value = count + option.dataset.name;
  closeList(field);
  ask();
};
// All foods, when the field is entered: what stands in it is the food now, not a search.
let typing = false;
const browse = (field) => {
  typing = false;
  wanted = true;
  field.select();
  htmx.ajax("GET", "/plan/foods", { source: field, target: "#food-list", swap: "innerHTML", values: { food: "" } })
    // Overtaken by what was typed meanwhile: nothing is lost.
    .catch(() => {});
};
const listed = (asked) => {
  const field = byId("f-food");
  // An answer to what stood there before is no answer to what stands there now.
  const answers = asked === (typing ? field.value : "");
  if (document.activeElement !== field || !wanted || !answers) return;
  openList(field);
  // Of a search the first is the likeliest: Enter takes it.
  point(field, typing ? options()[0] : options().find((o) => o.dataset.name === field.value));
};
const keys = (e) => {
  const field = e.target;
  const open = !list().hidden;
  const all = options();
  const at = all.indexOf(chosen());
  if (e.key === "ArrowDown" || e.key === "ArrowUp") {
    e.preventDefault();
    if (!open) return browse(field);
    const step = e.key === "ArrowDown" ? 1 : -1;
    point(field, all[(at + step + all.length + (at < 0 && step < 0 ? 1 : 0)) % all.length]);
  } else if (e.key === "Enter") {
    e.preventDefault();
    if (open && at >= 0) choose(field, all[at]);
    else { closeList(field); ask(); }
  } else if (e.key === "Escape" && (open || wanted)) {
    e.preventDefault();
    closeList(field);
  } else if (e.key === "Tab" && open && at >= 0 && all[at].dataset.name !== field.value) {
    choose(field, all[at]);
  }
};

document.addEventListener("input", (e) => {
  if (e.target.id !== "f-food") return;
  // The list is that of an earlier word until the new one comes: Enter must not take from it.
  typing = true;
  wanted = true;
  point(e.target, null);
});
document.addEventListener("keydown", (e) => { if (e.target.id === "f-food") keys(e); });
document.addEventListener("focusin", (e) => { if (e.target.id === "f-food") browse(e.target); });
document.addEventListener("focusout", (e) => { if (e.target.id === "f-food") closeList(e.target); });
document.addEventListener("mousedown", (e) => {
  const field = byId("f-food");
  if (field && e.target === field && document.activeElement === field && list().hidden) browse(field);
  // A press in the list must not take the focus from the field.
  if (e.target.closest("#food-list")) e.preventDefault();
});
document.addEventListener("click", (e) => {
  const option = e.target.closest(".food-option");
  if (option) choose(byId("f-food"), option);
});
document.addEventListener("htmx:afterSettle", (e) => {
  if (e.target.id !== "food-list") return;
  const path = new URL(e.detail.pathInfo?.finalRequestPath ?? "", location.origin);
  listed(path.searchParams.get("food") ?? "");
});

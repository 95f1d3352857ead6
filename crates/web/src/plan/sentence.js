// The sentence: what is set for the cook is announced as if it had been typed.
import { byId, whenReady, words } from "../app/page.js";

export const say = (id, value) => {
  const field = byId(id);
  if (!field) return;
  field.value = value;
  // The server decides what the rest of the sentence becomes.
  field.dispatchEvent(new Event("change", { bubbles: true }));
};
export const ask = () => byId("sentence")?.dispatchEvent(new Event("change", { bubbles: true }));
export const number = (x) => String(Math.round(x * 10) / 10);
export const minutes = (min) => {
  const [h, m] = [Math.floor(min / 60), Math.round(min % 60)];
  return h === 0 ? words("min", { m }) : m === 0 ? words("h", { h }) : words("hMin", { h, m });
};

// A blank is entered to be overwritten; Escape puts back what stood in it.
const blankOrFood = (el) => el.matches?.("input.blank-text");
const blank = (el) => blankOrFood(el) && el.id !== "f-food";
document.addEventListener("focusin", (e) => {
  if (!blank(e.target)) return;
  e.target.dataset.stood = e.target.value;
  e.target.select();
});
document.addEventListener("keydown", (e) => {
  if (e.key !== "Escape" || !blankOrFood(e.target)) return;
  // Where nothing was changed, Escape leaves it: single keys count again.
  if (!blank(e.target) || e.target.value === e.target.dataset.stood) return e.target.blur();
  e.preventDefault();
  e.target.value = e.target.dataset.stood;
  e.target.select();
  e.target.dispatchEvent(new Event("change", { bubbles: true }));
});
// What stands outside the form but belongs to it: the food, the blanks before the bath.
document.addEventListener("change", (e) => { if (e.target.getAttribute?.("form") === "sentence") ask(); });
document.addEventListener("click", (e) => {
  const clear = e.target.closest("[data-clear]");
  if (clear) say(clear.dataset.clear, "");
  const meant = e.target.closest("[data-meant]");
  if (meant) say(meant.dataset.meant, meant.value);
  const tender = e.target.closest(".tender-choice");
  if (tender && !e.ctrlKey && !e.metaKey && !e.shiftKey) {
    e.preventDefault();
    byId("f-time").value = "";
    say("f-bath", tender.dataset.bath);
  }
});

// A wrong blank is marked itself; its message describes it.
whenReady(() => {
  for (const note of document.querySelectorAll("#sentence-errors .field-error")) {
    const field = byId(note.id.replace("e-", "f-"));
    if (field) field.setAttribute("aria-invalid", String(!note.hidden));
  }
});

// What is being typed is never put in anew by the answer to what was typed before.
let sentAt = 0;
let lastTyped = 0;
const typedAt = new WeakMap();
// Whether something was typed since the last question was sent: the answer on its way is not to that.
export const typedSince = () => lastTyped > sentAt;
document.addEventListener("htmx:beforeRequest", (e) => { if (e.target.id === "sentence") sentAt = performance.now(); });
document.addEventListener("input", (e) => {
  if (e.target.form === byId("sentence")) lastTyped = performance.now();
  if (blankOrFood(e.target)) typedAt.set(e.target, performance.now());
});
document.addEventListener("htmx:oobBeforeSwap", (e) => {
  const at = document.activeElement;
  if (!at || (e.detail.target !== at && !e.detail.target.contains?.(at))) return;
  if ((typedAt.get(at) ?? 0) > sentAt) { e.detail.shouldSwap = false; return; }
  if (e.detail.target !== at || !blankOrFood(at)) return;
  // The blank the cook is in stays itself and is given what the answer says: taken out, it would lose the focus, and
  // browsers ask once more for what was typed in it.
  e.detail.shouldSwap = false;
  const { value } = e.detail.fragment.firstElementChild;
  if (at.value === value) return;
  at.value = value;
  at.dataset.stood = value;
  at.select();
});

// A kept plan, planned anew, leads to its answer.
whenReady(() => {
  if (location.hash !== "#answer") return;
  byId("answer")?.focus();
  history.replaceState(null, "", location.pathname + location.search);
});

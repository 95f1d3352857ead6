// A blank of the bench that could not be read is marked itself; its message stands under the sentence. While the bench
// answers, nothing is filled by what it answered before.
import { whenAway } from "../app/away.js";
import { byId, typedIn, whenReady } from "../app/page.js";

whenReady(() => {
  for (const blank of byId("bench-form")?.elements ?? []) {
    const wrong = byId("bench-errors")?.querySelector(`[data-field="${CSS.escape(blank.name)}"]`);
    if (wrong) blank.setAttribute("aria-invalid", "true");
    else blank.removeAttribute("aria-invalid");
  }
});

const typed = () => typedIn(byId("bench-form"));
let [answered, asking, again] = [null, null, 0];
const look = () => {
  const stale = typed() !== answered;
  for (const button of document.querySelectorAll("#bench-answer .start button")) button.disabled = stale;
  byId("bench-answer")?.setAttribute("aria-busy", String(stale));
};
document.addEventListener("DOMContentLoaded", () => { if (byId("bench-form")) answered = typed(); });
document.addEventListener("input", (e) => { if (e.target.form?.id === "bench-form") look(); });
document.addEventListener("htmx:beforeRequest", (e) => { if (e.target.id === "bench-form") asking = typed(); });
document.addEventListener("htmx:afterSwap", (e) => {
  if (e.target.id !== "bench-answer") return;
  answered = asking;
  look();
});
whenAway("bench-form", () => {
  clearTimeout(again);
  again = setTimeout(() => byId("bench-form")?.dispatchEvent(new Event("change", { bubbles: true })), 3000);
});

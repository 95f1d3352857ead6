// An answer that is not that of the sentence looks like it; and where the kitchen's machine cannot be reached, no old
// answer stands beside a new sentence.
import { byId, element, typedIn, words } from "../app/page.js";
import { whenAway } from "../app/away.js";
import { ask, typedSince } from "./sentence.js";

export const sentence = () => byId("sentence");
const typed = () => typedIn(sentence());
// What the answer on the page was given for.
let answered = null;
let asking = false;
let attempt = 0;
let again = null;
const followers = () => [byId("answer"), byId("prep-says")].filter(Boolean);
const mark = () => {
  if (!sentence() || answered === null) return;
  const stale = typed() !== answered;
  for (const el of followers()) {
    el.classList.toggle("is-stale", stale);
    el.setAttribute("aria-busy", String(stale));
  }
  for (const button of document.querySelectorAll("#answer .start button")) button.disabled = stale;
  // What is kept or taken along is that of the answer too.
  const keep = byId("keep");
  if (keep) keep.inert = stale;
};
export const settled = () => {
  if (!sentence()) return;
  clearTimeout(again);
  attempt = 0;
  asking = false;
  byId("lost-answer")?.remove();
  byId("prep-says")?.classList.remove("is-lost");
  const since = typedSince();
  answered = since ? "" : typed();
  mark();
  // Typed back to the very same, nothing more would be asked.
  if (since) again = setTimeout(ask, 1000);
  // Verdict, pull and serve are read out, and no more.
  const said = byId("answer-data")?.dataset.said ?? "";
  if (byId("said") && byId("said").textContent !== said) byId("said").textContent = said;
};
const lost = (why) => {
  const answer = byId("answer");
  if (!answer || !sentence()) return;
  // Times and verdict go: they are not those of what is typed.
  answer.replaceChildren();
  byId("prep-says")?.classList.add("is-lost");
  attempt += 1;
  asking = false;
  const wait = Math.min(2 * attempt, 10);
  const note = element("div", "note note-warn", "");
  note.id = "lost-answer";
  note.setAttribute("role", "alert");
  note.append(element("strong", "", words("noAnswer")), " ", words("askedAgain", { why: words(why) }));
  answer.append(note);
  answered = "";
  mark();
  answer.classList.remove("is-stale");
  clearTimeout(again);
  again = setTimeout(ask, wait * 1000);
};

whenAway("sentence", lost);
document.addEventListener("htmx:beforeRequest", (e) => {
  if (e.target.id !== "sentence") return;
  // Browsers tell of a change once more when a blank is left: what is answered is not asked again, or the answer would
  // be put in anew under the cook's hands.
  if (!asking && typed() === answered) return e.preventDefault();
  asking = true;
});
document.addEventListener("htmx:afterSettle", (e) => { if (e.target.id === "answer") settled(); });
for (const kind of ["input", "change"]) {
  document.addEventListener(kind, (e) => {
    if (!sentence() || (e.target.form !== sentence() && e.target !== sentence())) return;
    mark();
  });
}
document.addEventListener("DOMContentLoaded", () => { if (sentence()) answered = typed(); });
document.addEventListener("hs:placed", () => { if (sentence()) settled(); });

// A blank of the bench that could not be read is marked itself; its message stands under the sentence.
import { byId, whenReady } from "../app/page.js";

whenReady(() => {
  for (const blank of byId("bench-form")?.elements ?? []) {
    const wrong = byId("bench-errors")?.querySelector(`[data-field="${CSS.escape(blank.name)}"]`);
    if (wrong) blank.setAttribute("aria-invalid", "true");
    else blank.removeAttribute("aria-invalid");
  }
});

// Something was written down elsewhere: buttons, steps and log are put in anew, but never under somebody's fingers.
import { now } from "../app/clock.js";
import { byId, whenReady } from "../app/page.js";

const typed = (cook) => [...cook.querySelectorAll("input:not([type=hidden]), textarea")].some((el) => (el.type === "radio" ? el.checked !== el.defaultChecked : el.value !== el.defaultValue));
let fetching = false;
whenReady(async () => {
  const [cook, live] = [byId("cook"), byId("live")];
  if (!cook || !live || fetching || cook.dataset.events === live.dataset.events || typed(cook)) return;
  fetching = true;
  try {
    const answer = await fetch(location.pathname, { headers: { Accept: "text/html" } });
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const anew = page.getElementById("cook");
    if (!answer.ok || !anew || typed(cook)) return;
    const id = document.activeElement?.id;
    cook.replaceWith(anew);
    htmx.process(anew);
    if (id) byId(id)?.focus({ preventScroll: true });
    document.dispatchEvent(new CustomEvent("hs:placed"));
  } finally {
    fetching = false;
  }
});
// What can be taken back is offered for two minutes.
setInterval(() => { const just = byId("just"); if (just && now() > Number(just.dataset.untilMs) && !just.contains(document.activeElement)) just.remove(); }, 1000);
// A refused tap stands on the cook's own address: reloaded, it is the cook.
whenReady(() => {
  const refused = /^(\/cook\/[0-9a-f-]{36})\/(event|rating)$/.exec(location.pathname);
  if (refused) history.replaceState(null, "", refused[1]);
});

// The ribbon's late or early control.
import { byId, data, whenReady } from "../app/page.js";

const late = (slider) => {
  const stops = data("stops");
  if (!stops) return;
  const min = Number(slider.value);
  let stop = stops[0];
  for (const s of stops) if (s.min <= min) stop = s;
  byId("stop-when").textContent = stop.when;
  byId("stop-headline").textContent = stop.headline;
  byId("stop-text").textContent = stop.text;
  byId("stop-words").className = `stop-words verdict-${stop.level}`;
  // What the sear makes of it, pulled then: the last that was worked out before.
  let seared = "";
  for (const pull of data("sear-pulls") ?? []) if (pull.min <= min + 0.5) seared = pull.text;
  byId("stop-seared").textContent = seared;
  slider.setAttribute("aria-valuetext", `${stop.when}: ${stop.headline}`);
  cursor(slider);
};
const cursor = (slider) => {
  const share = Number(slider.value) / Number(slider.max);
  for (const line of document.querySelectorAll(".ribbon-box .cursor")) {
    const x = share * line.ownerSVGElement.viewBox.baseVal.width;
    line.setAttribute("x1", x);
    line.setAttribute("x2", x);
  }
};

document.addEventListener("input", (e) => { if (e.target.id === "late") late(e.target); });
whenReady(() => {
  const slider = byId("late");
  if (slider) cursor(slider);
});

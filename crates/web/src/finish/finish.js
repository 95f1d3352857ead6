// The finish's slice, scrubbed along the sear; blanks that could not be read are marked.
import { byId, data, whenReady } from "../app/page.js";

const scrub = (slider) => {
  const frame = data("finish-frames")?.[Number(slider.value)];
  const svg = byId("cut-table");
  if (!frame || !svg) return;
  [...svg.querySelector(".cut-layers").children].forEach((r, i) => r.setAttribute("fill", frame.colours[i]));
  const whole = Number(svg.getAttribute("height"));
  svg.querySelectorAll(".cut-crust").forEach((r, i) => {
    r.setAttribute("height", frame.crust[i]);
    if (i) r.setAttribute("y", whole - Number(frame.crust[i]));
  });
  for (const line of svg.querySelectorAll(".cut-band")) line.setAttribute("visibility", "hidden");
  svg.parentElement.querySelector("figcaption").textContent = frame.when;
  byId("finish-when").textContent = `${frame.when}, middle ${frame.centre}`;
  slider.setAttribute("aria-valuetext", `${frame.when}, middle ${frame.centre}`);
};
document.addEventListener("input", (e) => { if (e.target.id === "finish-scrub") scrub(e.target); });
whenReady(() => {
  for (const blank of byId("finish-form")?.elements ?? []) {
    const wrong = byId("finish-errors")?.querySelector(`[data-field="${CSS.escape(blank.name)}"]`);
    if (wrong) blank.setAttribute("aria-invalid", "true");
    else blank.removeAttribute("aria-invalid");
  }
});

// The slice, scrubbed.
import { byId, data, words } from "../app/page.js";

const scrub = (slider) => {
  const frames = data("frames");
  const frame = frames && frames[Number(slider.value)];
  if (!frame) return;
  const n = frame.colours.length;
  for (const layers of document.querySelectorAll(".slice-layers")) {
    [...layers.children].forEach((r, i) => r.setAttribute("fill", frame.colours[i < n ? i : 2 * n - 1 - i]));
  }
  for (const line of document.querySelectorAll(".slice-line")) line.setAttribute("points", frame.points);
  for (const text of document.querySelectorAll(".slice-centre")) text.textContent = frame.centre;
  byId("slice-when").textContent = frame.when;
  slider.setAttribute("aria-valuetext", words("frame", frame));
};

document.addEventListener("input", (e) => { if (e.target.id === "scrub") scrub(e.target); });

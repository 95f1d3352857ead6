// The map: a point that is dragged, clicked or moved with the arrows.
import { byId, whenReady } from "../app/page.js";
import { ask, minutes, number } from "../plan/sentence.js";

const maps = () => document.querySelectorAll("svg.map");
const within = (x, low, high) => Math.min(Math.max(x, low), high);
const frame = (svg) => {
  const d = svg.dataset;
  const n = (name) => Number(d[name]);
  const span = n("horizon");
  return {
    left: n("left"), right: n("right"), top: n("top"), bottom: n("bottom"),
    low: n("low"), high: n("high"), horizon: span,
    // The reader's degrees, and steps of time one can still tell apart on the page.
    degrees: (c) => c * n("per") + n("zero"), celsius: (t) => (t - n("zero")) / n("per"),
    step: n("step"), minutes: span > 1500 ? 15 : span > 200 ? 5 : 1, unit: d.unit,
  };
};
let drag = null;
// A map drawn anew under the fingers of somebody on the keyboard gets the focus of the one before.
let onMap = false;
const refocus = () => {
  if (!onMap || document.activeElement !== document.body) return;
  for (const svg of maps()) if (svg.getClientRects().length) svg.querySelector(".map-point").focus({ preventScroll: true });
};
let placed = null;
const placePoint = (c, min) => {
  placed = { c, min };
  for (const svg of maps()) {
    const f = frame(svg);
    const x = f.left + (f.right - f.left) * within(min / f.horizon, 0, 1);
    const y = f.top + (f.bottom - f.top) * within((f.high - c) / (f.high - f.low), 0, 1);
    const grip = svg.querySelector(".map-point");
    grip.setAttribute("transform", `translate(${x} ${y})`);
    grip.setAttribute("aria-valuenow", number(c));
    const [across, down] = svg.querySelectorAll(".map-cross");
    across.setAttribute("y1", y); across.setAttribute("y2", y);
    down.setAttribute("x1", x); down.setAttribute("x2", x);
    // The other width's map is not shown, and its shapes have no place.
    if (!svg.getClientRects().length) continue;
    const at = svg.createSVGPoint();
    at.x = within(x, f.left + 0.5, f.right - 0.5);
    at.y = within(y, f.top + 0.5, f.bottom - 0.5);
    const region = [...svg.querySelectorAll(".region")].find((r) => r.isPointInFill(at));
    // Where the answer itself stands, its own words.
    const own = byId("answer-data")?.dataset;
    const same = own && Math.abs(Number(own.c) - c) < 0.01 && Math.abs(Number(own.min) - min) < 0.5;
    const gives = same ? `: ${own.gives}` : region ? `: ${JSON.parse(svg.dataset.words)[region.dataset.kind]}` : "";
    const text = `${number(f.degrees(c))} ${f.unit}, ${minutes(min)}${gives}`;
    grip.setAttribute("aria-valuetext", text);
    byId("map-words").textContent = text;
  }
};
const mapStart = () => {
  const answer = byId("answer-data");
  if (!answer || !maps().length || drag) return;
  // A finger on the point moves the point; anywhere else it scrolls the page.
  for (const grip of document.querySelectorAll(".map-point")) {
    if (!grip.dataset.held) grip.addEventListener("touchstart", (e) => e.preventDefault(), { passive: false });
    grip.dataset.held = "true";
  }
  placePoint(Number(answer.dataset.c), Number(answer.dataset.min));
};
// From where the point stands, which the answer may not have caught up with yet.
const begin = () => ({ ...placed, from: placed, moved: false });
const moveTo = (svg, c, min) => {
  const f = frame(svg);
  const t = Math.round(f.degrees(within(c, f.low, f.high)) / f.step) * f.step;
  drag.c = within(f.celsius(t), f.low, f.high);
  drag.min = within(Math.round(min / f.minutes) * f.minutes, f.minutes, f.horizon);
  drag.moved = true;
  placePoint(drag.c, drag.min);
};
// Only the axis that was moved is said: a point moved up keeps "as long as it needs".
const commit = (svg) => {
  const f = frame(svg);
  const { c, min, from, moved, later } = drag;
  drag = null;
  if (!moved) return;
  if (Math.abs(c - from.c) > f.step / 3) byId("f-bath").value = `${number(f.degrees(c))} ${f.unit}`;
  if (Math.abs(min - from.min) >= f.minutes || (later && min !== from.min)) byId("f-time").value = minutes(min);
  ask();
};
const pointerTo = (e, svg) => {
  const f = frame(svg);
  const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const dx = at.x - drag.grab.x, dy = at.y - drag.grab.y;
  moveTo(svg, f.high - (f.high - f.low) * (dy - f.top) / (f.bottom - f.top), f.horizon * (dx - f.left) / (f.right - f.left));
};
const nudge = (e, svg) => {
  const steps = { ArrowUp: [1, 0], ArrowDown: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1], PageUp: [5, 0], PageDown: [-5, 0], End: [0, 6], Home: [0, -6] }[e.key];
  if (!steps || !placed) return;
  e.preventDefault();
  const f = frame(svg);
  const waiting = drag?.timer;
  clearTimeout(waiting);
  drag ??= begin();
  drag.later ||= steps[1] !== 0;
  moveTo(svg, drag.c + (steps[0] * f.step) / (f.degrees(1) - f.degrees(0)), drag.min + steps[1] * f.minutes);
  drag.timer = setTimeout(() => { if (drag) commit(svg); }, 450);
};

document.addEventListener("pointerdown", (e) => {
  const svg = e.target.closest?.("svg.map");
  if (!svg || !e.isPrimary || e.button !== 0 || !placed) return;
  clearTimeout(drag?.timer);
  drag = begin();
  const onGrip = e.target.closest(".map-point");
  if (!onGrip && !e.target.closest(".map-plot")) { drag = null; return; }
  // Grasped beside its middle, the point does not jump.
  const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const m = svg.querySelector(".map-point").transform.baseVal.consolidate()?.matrix;
  drag.grab = onGrip && m ? { x: at.x - m.e, y: at.y - m.f } : { x: 0, y: 0 };
  drag.pointer = e.pointerId;
  svg.setPointerCapture(e.pointerId);
  if (!onGrip) pointerTo(e, svg);
  svg.querySelector(".map-point").focus({ preventScroll: true });
  e.preventDefault();
});
document.addEventListener("pointermove", (e) => {
  const svg = e.target.closest?.("svg.map");
  if (svg && drag?.pointer === e.pointerId) pointerTo(e, svg);
});
for (const end of ["pointerup", "pointercancel"]) {
  document.addEventListener(end, (e) => {
    const svg = e.target.closest?.("svg.map");
    if (!svg || drag?.pointer !== e.pointerId) return;
    if (end === "pointerup") commit(svg);
    else { drag = null; mapStart(); }
  });
}

document.addEventListener("keydown", (e) => {
  const grip = e.target.closest?.(".map-point");
  if (grip) nudge(e, grip.ownerSVGElement);
});
document.addEventListener("focusin", (e) => { onMap = Boolean(e.target.closest?.(".map-point")); });
document.addEventListener("htmx:afterSettle", (e) => {
  mapStart();
  if (e.target.classList?.contains("map-hold")) refocus();
});
whenReady(mapStart);

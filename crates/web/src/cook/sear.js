// The sear, counted.
import { byId, whenReady, words } from "../app/page.js";

let watch = null;
const faces = [];
const face = () => (performance.now() - watch) / 1000;
const write = () => { byId("faces").value = faces.map((s) => Math.max(1, Math.round(s))).join(" + "); };
const sear = (button) => {
  const label = button.querySelector("span");
  if (watch === null) {
    faces.length = 0;
    byId("sear-stop").hidden = false;
  } else {
    faces.push(face());
    write();
  }
  watch = performance.now();
  label.textContent = words("turn");
};
const searStop = (button) => {
  if (watch !== null) faces.push(face());
  watch = null;
  write();
  button.hidden = true;
  byId("sear-watch").querySelector("span").textContent = words("countAgain");
  byId("sear-count").textContent = words("turns", { n: faces.length });
};
// The page was put in anew while it was counted: it goes on.
const searShow = () => {
  const button = byId("sear-watch");
  if (!button) return;
  // Before this runs a tap on it would be lost.
  button.disabled = false;
  if (watch === null) return;
  button.querySelector("span").textContent = words("turn");
  byId("sear-stop").hidden = false;
  if (faces.length) write();
};
const searTick = () => {
  const out = byId("sear-count");
  if (!out || watch === null) return;
  const aim = Number(byId("sear-watch").dataset.face);
  out.textContent = words("seconds", { n: Math.floor(face()) });
  out.classList.toggle("due", face() >= aim);
};

document.addEventListener("click", (e) => {
  const watchButton = e.target.closest("#sear-watch");
  if (watchButton) sear(watchButton);
  const stopButton = e.target.closest("#sear-stop");
  if (stopButton) searStop(stopButton);
});
setInterval(searTick, 250);
whenReady(searShow);

// Moves cursors and clocks over numbers the server computed. No rule and no computation of heat or
// safety is here.
"use strict";
(() => {
  const byId = (id) => document.getElementById(id);

  // --- the time: the server's clock, carried on by this device's ---
  let base = { now: 0, rate: 1, at: 0 };
  const setClock = (el) => {
    if (!el || !el.dataset.now) return;
    base = { now: Number(el.dataset.now), rate: Number(el.dataset.rate || 1), at: performance.now() };
  };
  const now = () => base.now + (performance.now() - base.at) * base.rate;

  const two = (n) => String(n).padStart(2, "0");
  const span = (ms, clock) => {
    const total = Math.floor(Math.abs(ms) / 1000);
    const [h, m, s] = [Math.floor(total / 3600), Math.floor(total / 60) % 60, total % 60];
    if (clock) return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
    return h > 0 ? `${h} h ${m} min` : m > 0 ? `${m} min` : `${s} s`;
  };
  const tick = () => {
    const t = now();
    for (const el of document.querySelectorAll("[data-until]")) {
      const left = Number(el.dataset.until) - t;
      const clock = el.dataset.format === "clock";
      const text = clock ? (left < 0 ? "+" : "") + span(left, true) : left < -1000 ? `due ${span(left)} ago` : `in ${span(left)}`;
      if (el.textContent !== text) el.textContent = text;
      el.classList.toggle("overdue", left < 0);
    }
  };

  // --- the ribbon's late or early control ---
  const data = (id) => {
    const el = byId(id);
    if (!el) return null;
    el.parsed ??= JSON.parse(el.textContent);
    return el.parsed;
  };
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

  // --- the slice, scrubbed ---
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
    slider.setAttribute("aria-valuetext", `${frame.when}, centre ${frame.centre}`);
  };

  // --- the sear, counted ---
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
    label.textContent = "Turn";
  };
  const searStop = (button) => {
    if (watch !== null) faces.push(face());
    watch = null;
    write();
    button.hidden = true;
    byId("sear-watch").querySelector("span").textContent = "Count again";
    byId("sear-count").textContent = `${faces.length} turns`;
  };
  const searTick = () => {
    const out = byId("sear-count");
    if (!out || watch === null) return;
    const aim = Number(byId("sear-watch").dataset.face);
    out.textContent = `${Math.floor(face())} s`;
    out.classList.toggle("due", face() >= aim);
  };

  document.addEventListener("input", (e) => {
    if (e.target.id === "late") late(e.target);
    if (e.target.id === "scrub") scrub(e.target);
  });
  document.addEventListener("click", (e) => {
    const watchButton = e.target.closest("#sear-watch");
    if (watchButton) sear(watchButton);
    const stopButton = e.target.closest("#sear-stop");
    if (stopButton) searStop(stopButton);
  });

  const ready = () => {
    const slider = byId("late");
    if (slider) cursor(slider);
    tick();
  };
  document.addEventListener("DOMContentLoaded", () => {
    setClock(document.body);
    ready();
    setInterval(() => { tick(); searTick(); }, 250);
  });
  document.addEventListener("htmx:afterSwap", ready);
  document.addEventListener("htmx:afterSettle", (e) => { if (e.target.id === "live") { setClock(e.target); ready(); } });
  // Back in view after a pause: fetch at once what the timer would fetch later.
  document.addEventListener("visibilitychange", () => {
    if (!document.hidden) document.body.dispatchEvent(new CustomEvent("hs:again"));
  });
  // A page brought back from the browser's own cache would show old clocks.
  addEventListener("pageshow", (e) => { if (e.persisted) location.reload(); });
})();

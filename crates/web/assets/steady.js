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
  // The page was put in anew while it was counted: it goes on.
  const searShow = () => {
    const button = byId("sear-watch");
    if (!button || watch === null) return;
    button.querySelector("span").textContent = "Turn";
    byId("sear-stop").hidden = false;
    if (faces.length) write();
  };
  const searTick = () => {
    const out = byId("sear-count");
    if (!out || watch === null) return;
    const aim = Number(byId("sear-watch").dataset.face);
    out.textContent = `${Math.floor(face())} s`;
    out.classList.toggle("due", face() >= aim);
  };

  // --- the sentence: what is set for the cook is announced as if it had been typed ---
  const say = (id, value) => {
    const field = byId(id);
    if (!field) return;
    field.value = value;
    // The server decides what the rest of the sentence becomes.
    field.dispatchEvent(new Event("change", { bubbles: true }));
  };
  const ask = () => byId("sentence").dispatchEvent(new Event("change", { bubbles: true }));
  const number = (x) => String(Math.round(x * 10) / 10);
  const minutes = (min) => {
    const [h, m] = [Math.floor(min / 60), Math.round(min % 60)];
    return h === 0 ? `${m} min` : m === 0 ? `${h} h` : `${h} h ${m} min`;
  };

  // --- the food: any part of a name, by keyboard, mouse or touch ---
  const list = () => byId("food-list");
  const options = () => [...list().querySelectorAll(".food-option")];
  const chosen = () => list().querySelector("[aria-selected=true]");
  const openList = (field) => {
    const box = list();
    box.style.top = `${field.offsetTop + field.offsetHeight + 4}px`;
    box.hidden = false;
    field.setAttribute("aria-expanded", "true");
  };
  // A list asked for before the choice was made must not open after it.
  let wanted = false;
  const closeList = (field) => {
    wanted = false;
    list().hidden = true;
    field.setAttribute("aria-expanded", "false");
    field.removeAttribute("aria-activedescendant");
  };
  const point = (field, option) => {
    chosen()?.setAttribute("aria-selected", "false");
    if (!option) return field.removeAttribute("aria-activedescendant");
    option.setAttribute("aria-selected", "true");
    field.setAttribute("aria-activedescendant", option.id);
    option.scrollIntoView({ block: "nearest" });
  };
  const choose = (field, option) => {
    field.value = option.dataset.name;
    closeList(field);
    ask();
  };
  // All foods, when the field is entered: what stands in it is the food now, not a search.
  let typing = false;
  const browse = (field) => {
    typing = false;
    wanted = true;
    field.select();
    htmx.ajax("GET", "/plan/foods", { source: field, target: "#food-list", swap: "innerHTML", values: { food: "" } })
      // Overtaken by what was typed meanwhile: nothing is lost.
      .catch(() => {});
  };
  const listed = (asked) => {
    const field = byId("f-food");
    // An answer to what stood there before is no answer to what stands there now.
    const answers = asked === (typing ? field.value : "");
    if (document.activeElement !== field || !wanted || !answers) return;
    openList(field);
    // Of a search the first is the likeliest: Enter takes it.
    point(field, typing ? options()[0] : options().find((o) => o.dataset.name === field.value));
  };
  const keys = (e) => {
    const field = e.target;
    const open = !list().hidden;
    const all = options();
    const at = all.indexOf(chosen());
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      e.preventDefault();
      if (!open) return browse(field);
      const step = e.key === "ArrowDown" ? 1 : -1;
      point(field, all[(at + step + all.length + (at < 0 && step < 0 ? 1 : 0)) % all.length]);
    } else if (e.key === "Enter") {
      e.preventDefault();
      if (open && at >= 0) choose(field, all[at]);
      else { closeList(field); ask(); }
    } else if (e.key === "Escape" && (open || wanted)) {
      e.preventDefault();
      closeList(field);
    } else if (e.key === "Tab" && open && at >= 0 && all[at].dataset.name !== field.value) {
      choose(field, all[at]);
    }
  };

  // --- the slider of doneness, and where the answer stands on it ---
  const dialled = (dial) => {
    const text = `${number(Number(dial.value))} ${dial.dataset.unit}`;
    dial.setAttribute("aria-valuetext", text);
    const field = byId("f-bath");
    field.value = text;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  };
  const follow = () => {
    const [dial, answer] = [byId("dial"), byId("answer-data")];
    if (!dial || !answer || document.activeElement === dial) return;
    const c = Number(answer.dataset.c);
    const value = dial.dataset.unit === "°F" ? c * 1.8 + 32 : c;
    dial.value = value;
    dial.setAttribute("aria-valuetext", `${number(value)} ${dial.dataset.unit}`);
  };

  // --- the map: a point that is dragged, clicked or moved with the arrows ---
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

  document.addEventListener("input", (e) => {
    if (e.target.id === "late") late(e.target);
    if (e.target.id === "scrub") scrub(e.target);
    if (e.target.id === "dial") dialled(e.target);
    if (e.target.id === "f-food") {
      // The list is that of an earlier word until the new one comes: Enter must not take from it.
      typing = true;
      wanted = true;
      point(e.target, null);
    }
  });
  document.addEventListener("keydown", (e) => {
    if (e.target.id === "f-food") keys(e);
    const grip = e.target.closest?.(".map-point");
    if (grip) nudge(e, grip.ownerSVGElement);
  });
  document.addEventListener("focusin", (e) => {
    onMap = Boolean(e.target.closest?.(".map-point"));
    if (e.target.id === "f-food") browse(e.target);
  });
  document.addEventListener("focusout", (e) => { if (e.target.id === "f-food") closeList(e.target); });
  // The field's own change, when it is left after typing.
  // And what stands outside the form but belongs to it: the food, the blanks before the bath.
  document.addEventListener("change", (e) => { if (e.target.getAttribute?.("form") === "sentence") ask(); });
  document.addEventListener("mousedown", (e) => {
    const field = byId("f-food");
    if (field && e.target === field && document.activeElement === field && list().hidden) browse(field);
    // A press in the list must not take the focus from the field.
    if (e.target.closest("#food-list")) e.preventDefault();
  });
  document.addEventListener("click", (e) => {
    const option = e.target.closest(".food-option");
    if (option) choose(byId("f-food"), option);
    if (e.target.closest("[data-print]")) print();
    const clear = e.target.closest("[data-clear]");
    if (clear) say(clear.dataset.clear, "");
    const tender = e.target.closest(".tender-choice");
    if (tender && !e.ctrlKey && !e.metaKey && !e.shiftKey) {
      e.preventDefault();
      byId("f-time").value = "";
      say("f-bath", tender.dataset.bath);
    }
    const watchButton = e.target.closest("#sear-watch");
    if (watchButton) sear(watchButton);
    const stopButton = e.target.closest("#sear-stop");
    if (stopButton) searStop(stopButton);
  });

  // --- a plan dropped on the page is opened ---
  const dropped = (e) => e.dataTransfer && [...e.dataTransfer.types].includes("Files") && byId("open-file");
  document.addEventListener("dragover", (e) => {
    if (!dropped(e)) return;
    e.preventDefault();
    document.body.classList.add("is-over");
  });
  document.addEventListener("dragleave", (e) => { if (!e.relatedTarget) document.body.classList.remove("is-over"); });
  document.addEventListener("drop", (e) => {
    const form = dropped(e);
    if (!form || !e.dataTransfer.files.length) return;
    e.preventDefault();
    form.querySelector("input[type=file]").files = e.dataTransfer.files;
    form.requestSubmit();
  });

  const ready = () => {
    const slider = byId("late");
    if (slider) cursor(slider);
    follow();
    mapStart();
    tick();
  };
  // For away.js.
  globalThis.steady = { now, rate: () => base.rate, ready: () => { setClock(byId("live")); searShow(); ready(); } };

  document.addEventListener("DOMContentLoaded", () => {
    setClock(document.body);
    ready();
    setInterval(() => { tick(); searTick(); }, 250);
  });
  document.addEventListener("htmx:afterSwap", ready);
  document.addEventListener("htmx:afterSettle", (e) => {
    if (e.target.id === "live") { setClock(e.target); ready(); }
    if (e.target.id === "food-list") {
      const path = new URL(e.detail.pathInfo?.finalRequestPath ?? "", location.origin);
      listed(path.searchParams.get("food") ?? "");
    }
    mapStart();
    if (e.target.classList?.contains("map-hold")) refocus();
  });
  // Back in view after a pause: fetch at once what the timer would fetch later.
  document.addEventListener("visibilitychange", () => {
    if (!document.hidden) document.body.dispatchEvent(new CustomEvent("hs:again"));
  });
  // A page brought back from the browser's own cache would show old clocks.
  addEventListener("pageshow", (e) => { if (e.persisted) location.reload(); });
})();

// The time: the server's clock, carried on by this device's; and the countdowns to it.
import { whenReady, words } from "./page.js";

let base = { now: 0, rate: 1, at: 0 };
export const setClock = (el) => {
  if (!el || !el.dataset.now) return;
  base = { now: Number(el.dataset.now), rate: Number(el.dataset.rate || 1), at: performance.now() };
};
export const now = () => base.now + (performance.now() - base.at) * base.rate;

const two = (n) => String(n).padStart(2, "0");
const span = (ms, clock) => {
  const total = Math.floor(Math.abs(ms) / 1000);
  const [h, m, s] = [Math.floor(total / 3600), Math.floor(total / 60) % 60, total % 60];
  if (clock) return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
  return h > 0 ? words("hMin", { h, m }) : m > 0 ? words("min", { m }) : words("seconds", { n: s });
};
export const tick = () => {
  const t = now();
  for (const el of document.querySelectorAll("[data-until]")) {
    const left = Number(el.dataset.until) - t;
    // Only what is counted in seconds looks like a clock that runs.
    const clock = el.dataset.format === "clock" && Math.abs(left) < 120_000;
    const text = clock ? (left < 0 ? "+" : "") + span(left, true) : words(left < -1000 ? "due" : "left", { span: span(left) });
    if (el.textContent !== text) el.textContent = text;
    el.classList.toggle("overdue", left < 0);
  }
};

export const rate = () => base.rate;

// By the kitchen's clock, wherever the reader's device thinks it is.
export const wall = (ms) => new Intl.DateTimeFormat("en-GB", { timeStyle: "medium", hour12: document.body.dataset.hours === "12", timeZone: document.body.dataset.zone || undefined }).format(ms);

whenReady(tick);

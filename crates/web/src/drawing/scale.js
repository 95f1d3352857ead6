// The slider of doneness, and where the answer stands on it.
import { byId, whenReady } from "../app/page.js";
import { number } from "../plan/sentence.js";

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
  const done = answer.dataset.done ? `, ${answer.dataset.done}` : "";
  dial.setAttribute("aria-valuetext", `${number(value)} ${dial.dataset.unit}${done}`);
};

document.addEventListener("input", (e) => { if (e.target.id === "dial") dialled(e.target); });
whenReady(follow);

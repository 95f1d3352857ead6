// What to do next and its countdown stand in the tab's title: a cook has other tabs open.
import { byId, whenReady } from "../app/page.js";

let [plain, shown] = ["", null];
const title = () => {
  const live = byId("live");
  if (!live) return;
  // Put in anew with the page.
  if (document.title !== shown) plain = document.title;
  const [left, what] = [live.querySelector("[data-format=clock]"), live.querySelector(".live-what")];
  shown = left && what ? `${left.textContent} ${what.textContent} · ${plain}` : plain;
  document.title = shown;
};
setInterval(title, 1000);
whenReady(title);

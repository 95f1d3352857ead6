// A plan dropped on the page is opened.
import { byId } from "../app/page.js";

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

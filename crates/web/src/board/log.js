// A log's file is read here and shown as text before it is sent: dropped on its field, or chosen.
import { byId } from "../app/page.js";

const into = async (field, file) => { if (file) field.value = await file.text(); };
document.addEventListener("dragover", (e) => { if (e.target.closest("[data-drop-text]")) e.preventDefault(); });
document.addEventListener("drop", (e) => {
  const field = e.target.closest("[data-drop-text]");
  if (!field || !e.dataTransfer.files.length) return;
  e.preventDefault();
  e.stopPropagation();
  into(field, e.dataTransfer.files[0]);
});
document.addEventListener("change", (e) => { if (e.target.dataset.readInto) into(byId(e.target.dataset.readInto), e.target.files[0]); });

// Photographs wait as every entry does: the picture itself in this device's store of files, until the server has it.
import { actionOf, keep, onAnswer, person, token } from "./send.js";
import { putFile } from "./files.js";

const here = new Set(); // names of those taken on this page since it opened
document.addEventListener("submit", async (event) => {
  const form = event.target, field = form.matches(".photo-form") && form.querySelector("input[type=file]");
  if (!field || !field.files.length || !person) return;
  event.preventDefault();
  const [file] = field.files, data = [...new FormData(form)].filter(([, told]) => typeof told === "string"), name = token();
  try { await putFile(name, file); } catch { form.submit(); return; } // no room on this device, or none given: sent as any form
  form.reset();
  here.add(name);
  keep({ name, url: actionOf(form), data, title: "Photograph", file: { field: field.name, name: file.name } }); // said to wait once the picture is kept
}, true);

// What was taken on this page stands on it once it came through, however long that took; what is typed there meanwhile is not taken away.
onAnswer((entry, answer) => {
  if (here.has(entry.token) && answer.state === "stored" && !document.querySelector("form[data-unsaved]")) location.reload();
});

// The measuring sheet: each cell is saved as it is left; answers never overwrite what was typed meanwhile.
import { actionOf, keep, mine, onAnswer, place, value } from "./send.js";

const PARTS = ["stance", "verdict", "next-step", "checks", "proof"];
const inputOf = (form) => form.querySelector("[data-walk]");
const pathOf = (form) => new URL(actionOf(form)).pathname;
const formAt = (url) => [...document.querySelectorAll("form[data-cell]")].find((f) => pathOf(f) === url);
const field = (form, name) => form.querySelector(`[name=${name}]`);

export function walk(input, step) {
  const all = [...document.querySelectorAll("input[data-walk]")];
  const next = all[all.indexOf(input) + step];
  if (next) { next.focus(); next.select(); } else input.blur();
}

function send(form) {
  const input = inputOf(form), reason = field(form, "reason");
  const data = [["text", input.value], ["seen", field(form, "seen").value]];
  if (reason) data.push(["reason", reason.value]);
  form.dataset.sent = input.value;
  form.classList.add("waiting");
  keep({ url: actionOf(form), data, title: form.querySelector("label").textContent });
}

document.addEventListener("change", (event) => {
  if (!event.target.matches || !event.target.matches("form[data-cell] [data-walk]")) return;
  send(event.target.form);
});
document.addEventListener("submit", (event) => {
  if (!event.target.matches("form[data-cell]")) return;
  event.preventDefault();
  send(event.target);
});
// A tap on a filled cell selects what stands in it: the click that follows the focus would set the caret instead.
let entered = null;
document.addEventListener("focusin", (event) => {
  if (!event.target.matches || !event.target.matches("form[data-cell] [data-walk]")) return;
  entered = event.target;
  event.target.select();
});
document.addEventListener("click", (event) => {
  if (event.target === entered && event.target.selectionStart === event.target.selectionEnd) event.target.select();
  entered = null;
});
document.addEventListener("keydown", (event) => {
  const input = event.target.closest ? event.target.closest("input[data-walk]") : null;
  if (!input) return;
  if (event.key === "Enter") { event.preventDefault(); walk(input, event.shiftKey ? -1 : 1); } // leaving the field is what saves it
  if (event.key === "Escape") { input.value = input.defaultValue; input.select(); }
});

function swapCell(form, answer) {
  const fresh = answer.getElementById(form.id);
  if (!fresh) return;
  const focused = form.contains(document.activeElement);
  fresh.removeAttribute("hx-swap-oob");
  form.replaceWith(fresh);
  if (focused) { inputOf(fresh).focus(); inputOf(fresh).select(); }
}

onAnswer((entry, answer, late) => {
  const form = formAt(entry.url);
  if (!form) return;
  const typedOn = inputOf(form).value.trim() !== value(entry, "text").trim();
  if (answer.state === "stored") {
    if (answer.seen && answer.seen !== "0") field(form, "seen").value = answer.seen;
    const page = place(answer.html, PARTS);
    if (!typedOn) swapCell(form, page);
  } else if (answer.state === "refused") {
    const page = place(answer.html || "<p></p>", PARTS);
    if (page.getElementById(form.id) && !typedOn) swapCell(form, page);
    else if (!typedOn) say(form, answer.said);
  } else form.classList.add("waiting");
});

function say(form, words) {
  const where = form.querySelector(".cell-say"), error = document.createElement("span");
  error.className = "error";
  error.setAttribute("role", "alert");
  error.textContent = words;
  where.replaceChildren(error);
  form.classList.add("wrong");
}

// What others wrote appears in the sheet, but never over what a hand has typed, and never over a warning about what stands.
document.addEventListener("htmx:oobBeforeSwap", (event) => {
  const form = event.detail.target, fresh = event.detail.fragment && event.detail.fragment.querySelector ? event.detail.fragment : null;
  if (!form.matches || !form.matches("form[data-cell]")) return;
  const input = inputOf(form), busy = form.classList.contains("waiting") || form.classList.contains("wrong");
  const coming = fresh && (fresh.matches && fresh.matches("form") ? fresh : fresh.querySelector(`#${form.id}`));
  const same = coming && field(coming, "seen").value === field(form, "seen").value;
  if (busy || same || input.value !== input.defaultValue) event.detail.shouldSwap = false;
});

// A reload brings back what was typed and is not stored: on its way, or refused with its reason.
for (const entry of mine()) {
  const form = formAt(entry.url);
  if (!form) continue;
  inputOf(form).value = value(entry, "text");
  if (entry.refused) say(form, entry.refused); else form.classList.add("waiting");
}

// Left in the middle of a figure: it goes into the queue as it stands.
window.addEventListener("pagehide", () => {
  for (const form of document.querySelectorAll("form[data-cell]")) {
    const input = inputOf(form);
    if (input.value !== input.defaultValue && form.dataset.sent !== input.value && !form.classList.contains("wrong")) send(form);
  }
});

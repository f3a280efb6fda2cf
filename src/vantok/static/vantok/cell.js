// The measuring sheet: a cell is entered by Enter, Tab or going to the next field; answers never overwrite what was typed meanwhile.
import { actionOf, keep, mine, onAnswer, place, value } from "./send.js";
import { entered, typed, typing } from "./typing.js";

const PARTS = ["stance", "verdict", "next-step", "checks", "proof"];
const CELL = "form[data-cell] [data-walk]";
const inputOf = (form) => form.querySelector("[data-walk]");
const pathOf = (form) => new URL(actionOf(form)).pathname;
const formAt = (url) => [...document.querySelectorAll("form[data-cell]")].find((f) => pathOf(f) === url);
const field = (form, name) => form.querySelector(`[name=${name}]`);
const titleOf = (form) => form.querySelector("label").textContent;
const open = (input) => input.value !== input.defaultValue && input.form.dataset.sent !== input.value;

export function walk(input, step) {
  const all = [...document.querySelectorAll("input[data-walk]")];
  const next = all[all.indexOf(input) + step];
  if (next) { next.focus(); next.select(); } else input.blur();
}

// `again`: the same place read once more, said to be; a figure typed over another is a correction of it.
function send(form, again = false) {
  const input = inputOf(form), reason = field(form, "reason");
  const data = [["text", input.value], ["seen", field(form, "seen").value]];
  if (reason) data.push(["reason", reason.value]);
  if (again) data.push(["again", "1"]);
  form.dataset.sent = input.value;
  form.classList.remove("draft");
  form.classList.add("waiting");
  entered(actionOf(form));
  keep({ url: actionOf(form), data, title: titleOf(form) });
}

document.addEventListener("input", (event) => {
  if (!event.target.matches?.(CELL)) return;
  const { form } = event.target;
  delete form.dataset.sent;
  if (open(event.target)) typing(actionOf(form), event.target.value, titleOf(form)); else entered(actionOf(form));
});
document.addEventListener("submit", (event) => {
  if (!event.target.matches("form[data-cell]")) return;
  event.preventDefault();
  send(event.target, event.submitter?.name === "again");
});
// A tap on a filled cell selects what stands in it: the click that follows the focus would set the caret instead.
let tapped = null;
document.addEventListener("focusin", (event) => {
  if (!event.target.matches?.(CELL)) return;
  tapped = event.target;
  event.target.select();
});
document.addEventListener("click", (event) => {
  if (event.target === tapped && event.target.selectionStart === event.target.selectionEnd) event.target.select();
  tapped = null;
});
// The next field enters it; a link, a button elsewhere or nothing leaves it as typed.
document.addEventListener("focusout", (event) => {
  if (!event.target.matches?.(CELL) || !open(event.target)) return;
  const to = event.relatedTarget;
  if (to?.matches?.("input, select, textarea") && to.form !== event.target.form) send(event.target.form);
  else if (!to || to.form !== event.target.form) unentered(event.target.form);
});
document.addEventListener("keydown", (event) => {
  const input = event.target.closest?.("input[data-walk]");
  if (!input) return;
  if (event.key === "Enter") {
    event.preventDefault();
    if (open(input)) send(input.form);
    walk(input, event.shiftKey ? -1 : 1);
  }
  if (event.key === "Tab" && open(input)) send(input.form);
  if (event.key === "Escape") { input.value = input.defaultValue; input.select(); input.form.classList.remove("draft"); entered(actionOf(input.form)); }
});

function swapCell(form, answer) {
  const fresh = answer.getElementById(form.id);
  if (!fresh) return;
  const focused = form.contains(document.activeElement);
  fresh.removeAttribute("hx-swap-oob");
  form.replaceWith(fresh);
  if (focused) { inputOf(fresh).focus(); inputOf(fresh).select(); }
}

onAnswer((entry, answer) => {
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

function say(form, words, look = "error", role = "alert") {
  const where = form.querySelector(".cell-say"), told = document.createElement("span");
  told.className = look;
  told.setAttribute("role", role);
  told.textContent = words;
  where.replaceChildren(told);
  if (look === "error") form.classList.add("wrong");
}
function unentered(form) {
  form.classList.add("draft");
  say(form, "not entered: Enter, or Esc", "odd-say", "status");
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

// A reload brings back what was typed: not entered, on its way, or refused with its reason.
for (const form of document.querySelectorAll("form[data-cell]")) {
  const text = typed(actionOf(form));
  if (text && text !== inputOf(form).value) { inputOf(form).value = text; unentered(form); } else entered(actionOf(form));
}
for (const entry of mine()) {
  const form = formAt(entry.url);
  if (!form || form.classList.contains("draft")) continue;
  inputOf(form).value = value(entry, "text");
  form.dataset.sent = value(entry, "text");
  if (entry.refused) say(form, entry.refused); else form.classList.add("waiting");
}

// The walk round the vehicle: one big field. Saved, it is the next stop's at once, so that a figure always lands where its name stands; what
// is entered goes the way of every entry, in order, and what is asked again leads back.
import { keep, mine, onAnswer, value } from "./send.js";
import { entered, typed, typing } from "./typing.js";

const form = () => document.querySelector("[data-walk-form]");
const input = () => document.getElementById("walk-in");
const titleOf = () => document.getElementById("walk-title").textContent;
const stops = () => [...document.querySelectorAll("[data-stop]")];
const stopOf = (url) => stops().find((stop) => stop.dataset.stop === url);
const asked = new Map(); // entries of this page by name: {again, stay}
let ended = false; // the last stop is saved: the sheet follows once all is stored

// A sixteenth put behind the whole inches, or millimetres more or less.
document.addEventListener("click", (event) => {
  const chip = event.target.closest("[data-chip]"), key = event.target.closest("[data-digit]"), field = input();
  if (chip) {
    const step = chip.dataset.chip;
    if (/^[+-]/.test(step)) {
      const shown = Number.parseFloat(field.value || field.placeholder.replace(/[^0-9.]/g, ""));
      if (!Number.isNaN(shown)) field.value = String(shown + Number(step));
    } else field.value = `${(field.value.match(/\d+/) || [""])[0]} ${step}`.trim();
    field.focus();
  }
  if (key) { // a selection is typed over, as a keyboard would
    const [from, to] = [field.selectionStart, field.selectionEnd];
    if (key.dataset.digit === "back") field.setRangeText("", from === to ? Math.max(from - 1, 0) : from, to, "end");
    else field.setRangeText(key.dataset.digit, from, to, "end");
    field.focus();
  }
  if (chip || key) draft();
});
const draft = () => { if (input().value.trim() && input().value !== input().defaultValue) typing(form().dataset.url, input().value, titleOf()); else entered(form().dataset.url); };
document.addEventListener("input", (event) => { if (event.target.id === "walk-in") draft(); });

// What the cell itself is sent.
const NAMES = ["seen", "instrument", "note", "reason", "again", "repeat"];
function forCell(f, submitter) {
  const told = Object.fromEntries(new FormData(f));
  const same = submitter?.name === "same" ? submitter.value : "";
  const text = same || (told.lifted && told.text ? `${told.text} to ${told.lifted}` : told.text || "");
  return [["text", text], ...NAMES.filter((n) => told[n]).map((n) => [n, told[n]])];
}

document.addEventListener("submit", (event) => {
  if (!event.target.matches("[data-walk-form]")) return;
  event.preventDefault();
  if (input().readOnly) return;
  const f = event.target, stay = event.submitter?.name === "stay", data = forCell(f, event.submitter), stop = stopOf(f.dataset.url), title = titleOf();
  const repeat = Boolean(f.querySelector("[name=again], [name=repeat]"));
  entered(f.dataset.url);
  const aside = ["lifted", "note", "reason"].some((n) => f.querySelector(`[name=${n}]`)?.value !== (f.querySelector(`[name=${n}]`)?.defaultValue));
  const nothing = data[0][1].trim() === (stop.dataset.seen === "0" ? "" : stop.dataset.text) && !aside && !stay && !repeat;
  if (nothing) { onward(f, ""); return; } // what stands there already, or nothing: on to the next
  const onTo = stay ? here(f) : onward(f, data[0][1]);
  asked.set(keep({ url: stop.dataset.stop, data, title }).token, { stay, repeat });
  if (!onTo) { ended = true; input().readOnly = true; }
});

// Read again: the same stop, its field empty.
function here(f) {
  for (const name of ["text", "lifted"]) f.querySelector(`[name=${name}]`).value = "";
  if (!f.querySelector("[name=again]")) { const mark = document.createElement("input"); Object.assign(mark, { type: "hidden", name: "again", value: "1" }); f.append(mark); }
  input().defaultValue = "";
  input().focus();
  return true;
}
// The next stop takes the field's place; false after the last.
function onward(f, text) {
  const all = stops(), at = all.findIndex((stop) => stop.dataset.stop === f.dataset.url), next = all[at + 1];
  if (text && at >= 0) all[at].querySelector("b").textContent = `${text} …`;
  if (!next) { if (!text) location.assign(f.dataset.after); return false; }
  f.dataset.url = next.dataset.stop;
  f.setAttribute("action", next.href);
  f.querySelector("[name=seen]").value = next.dataset.seen;
  for (const mark of f.querySelectorAll("[name=again], [name=repeat]")) mark.remove();
  for (const note of f.querySelectorAll(".finding, .error, [name=reason], [name=same]")) (note.closest(".field") || note).remove(); // the last stop's
  document.getElementById("walk-title").textContent = next.dataset.title;
  document.getElementById("walk-label").textContent = next.dataset.title.replace(" · ", ", ");
  const count = document.getElementById("walk-count");
  count.textContent = count.textContent.replace(/\d+ of/, `${at + 2} of`);
  for (const name of ["text", "lifted", "note"]) f.querySelector(`[name=${name}]`).value = "";
  input().defaultValue = next.dataset.text || "";
  input().placeholder = "";
  input().value = typed(next.dataset.stop) || input().defaultValue;
  input().focus();
  input().select();
  return true;
}

async function fetched(url) {
  try {
    const answer = await fetch(url, { headers: { "HX-Request": "true" } });
    return answer.ok ? new DOMParser().parseFromString(await answer.text(), "text/html").getElementById("main") : null;
  } catch (error) {
    if (error instanceof TypeError) return null; // the line has gone: the page stays as it is
    throw error;
  }
}
// The page of a stop anew, with what is typed in its field and where the caret stands.
async function load(url) {
  const from = ofStop(), fresh = await fetched(url);
  if (!fresh || !form() || ofStop() !== from || (url !== from && !idle())) return false; // the hand has gone on meanwhile
  const same = fresh.querySelector("[data-walk-form]")?.dataset.url === form().dataset.url;
  const old = input(), kept = same && old.value !== old.defaultValue ? old.value : "", caret = old.selectionStart;
  document.getElementById("main").replaceWith(fresh);
  window.htmx.process(fresh);
  history.replaceState(null, "", url);
  if (!input()) return true;
  const text = kept || typed(form().dataset.url);
  if (text) input().value = text;
  input().focus();
  if (kept) input().setSelectionRange(caret, caret); else input().select();
  return true;
}
const idle = () => input().readOnly || input().value === input().defaultValue;

function note(words, stop) {
  const p = document.createElement("p"), link = document.createElement("a");
  p.className = "finding tone-act";
  p.setAttribute("role", "alert");
  link.href = stop.href;
  link.textContent = stop.dataset.title;
  p.append(link, ` ${words}`);
  form().prepend(p);
}

onAnswer(async (entry, answer) => {
  if (!form()) return;
  const stop = stopOf(entry.url), told = asked.get(entry.token);
  if (!stop || !told) return;
  if (answer.state === "refused") {
    ended = false;
    if (!idle() || !(await load(stop.href))) { note(answer.said, stop); return; }
    input().value = value(entry, "text");
    const p = document.createElement("p"), cell = new DOMParser().parseFromString(answer.html || "", "text/html"), reason = cell.querySelector("[name=reason]");
    p.className = "error";
    p.setAttribute("role", "alert");
    p.textContent = cell.querySelector(".error")?.textContent || answer.said;
    form().querySelector(".buttons").before(p, ...(reason ? [reason] : []));
    return;
  }
  if (answer.state !== "stored") return;
  asked.delete(entry.token);
  const odd = !told.repeat && new DOMParser().parseFromString(answer.html, "text/html").querySelector(".cell.odd .odd-say");
  const apart = (told.stay || told.repeat) && answer.apart;
  if (odd && !idle()) { await load(ofStop()); note([...odd.childNodes].filter((n) => n.nodeType === 3).map((n) => n.textContent).join("").trim(), stop); return; }
  if (odd || told.stay || apart) { ended = false; if (idle()) await load(odd ? stop.href : `${stop.href}&again=1`); return; }
  if (ended && !mine().some((e) => !e.refused && asked.has(e.token))) { location.assign(form().dataset.after); return; }
  await load(ofStop());
});
const ofStop = () => new URL(form().getAttribute("action"), location.href).href;

if (form() && typed(form().dataset.url)) { input().value = typed(form().dataset.url); input().select(); }

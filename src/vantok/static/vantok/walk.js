// The walk round the vehicle: one big field; what is typed before the next stop appears belongs to that stop.
import { actionOf, drop, keep, onAnswer, post, refuse, release } from "./send.js";

const form = () => document.querySelector("[data-walk-form]");
const input = () => document.getElementById("walk-in");
let going = null; // the entry on its way: what was sent, and whether Enter was pressed again meanwhile

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
});

const NAMES = ["text", "lifted", "seen", "instrument", "note", "reason"];
function pairs(f, submitter) {
  const all = [...new FormData(f)].filter(([k]) => k !== "csrfmiddlewaretoken" && k !== "token");
  if (submitter && submitter.name) all.push([submitter.name, submitter.value]);
  return all;
}
// What the cell itself is sent, when the walk's own answer did not come.
function forCell(all) {
  const told = Object.fromEntries(all), text = told.same || (told.lifted && told.text ? `${told.text} to ${told.lifted}` : told.text || "");
  return NAMES.filter((n) => n !== "lifted" && (n === "text" || told[n])).map((n) => [n, n === "text" ? text : told[n]]);
}

document.addEventListener("submit", async (event) => {
  if (!event.target.matches("[data-walk-form]")) return;
  event.preventDefault();
  if (going) { going.again = true; return; }
  const f = event.target, all = pairs(f, event.submitter), cell = forCell(all), sent = input().value;
  const entry = keep({ url: f.dataset.url, data: cell, title: document.getElementById("walk-title").textContent, hold: true });
  going = { from: f.dataset.url, sent, again: false };
  input().select(); // the next figure is typed over the one on its way
  const answer = await post(actionOf(f), all, entry.token);
  const { again } = going;
  const typed = input() ? input().value : "";
  going = null;
  if (answer.state === "stored") { drop(entry.token); await go(answer.next, typed !== sent ? typed : "", again); }
  else if (answer.state === "refused") { if (answer.html) { drop(entry.token); show(answer.html); } else refuse(entry.token, answer.said); }
  else { walkOn(f, cell[0][1], typed !== sent ? typed : ""); release(entry.token); }
});

async function go(next, typed, again) {
  if (new URL(next, location.href).pathname !== location.pathname) { location.assign(next); return; }
  const page = await fetch(next, { headers: { "HX-Request": "true" } }).then((r) => (r.ok ? r.text() : null)).catch(() => null);
  if (page === null) { location.assign(next); return; }
  history.replaceState(null, "", next);
  show(page);
  if (!typed) return;
  input().value = typed;
  if (again) form().requestSubmit();
}
function show(html) {
  const fresh = new DOMParser().parseFromString(html, "text/html").getElementById("main");
  if (!fresh) return;
  document.getElementById("main").replaceWith(fresh);
  window.htmx.process(fresh);
  if (input()) { input().focus(); input().select(); }
}

// Without a connection the walk goes on in this page: the next stop's cell takes the field's place.
function walkOn(f, text, typed) {
  const stops = [...document.querySelectorAll("[data-stop]")];
  const here = stops.findIndex((stop) => stop.dataset.stop === f.dataset.url);
  if (here < 0) return;
  stops[here].querySelector("b").textContent = `${text} (waits)`;
  const next = stops[Math.min(here + 1, stops.length - 1)];
  f.dataset.url = next.dataset.stop;
  f.setAttribute("action", next.href);
  f.querySelector("[name=seen]").value = next.dataset.seen;
  document.getElementById("walk-title").textContent = next.dataset.title;
  document.getElementById("walk-label").textContent = next.dataset.title.replace(" · ", ", ");
  document.getElementById("walk-count").textContent = "no connection: entries wait";
  for (const name of ["text", "lifted", "note"]) f.querySelector(`[name=${name}]`).value = "";
  input().placeholder = "";
  input().value = typed;
  input().focus();
}

// What waited for the connection has gone through: the stops show it, unless a hand is typing.
onAnswer((entry, answer) => {
  if (answer.state !== "stored" || !form() || going) return;
  const typed = input().value;
  fetch(location.href, { headers: { "HX-Request": "true" } }).then((r) => r.text()).then((page) => {
    const last = new DOMParser().parseFromString(page, "text/html").querySelector(".walk-last"), old = document.querySelector(".walk-last");
    if (last && old) old.replaceWith(last);
    if (input() && !input().value) input().value = typed;
  }).catch((error) => { if (!(error instanceof TypeError)) throw error; }); // the line has gone again: the foot stays as it is
});

// Left by a link or Back with a figure in the field: it is kept for its cell.
export function leaveWalk() {
  const f = form();
  if (!f || going || input().value.trim() === "" || input().value === input().defaultValue) return;
  keep({ url: f.dataset.url, data: forCell(pairs(f)), title: document.getElementById("walk-title").textContent });
  input().value = input().defaultValue;
}
window.addEventListener("pagehide", leaveWalk);

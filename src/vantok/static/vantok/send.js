// The one way to the server. An entry is kept in this browser until the server says, with the entry's own name, that it is
// stored; it waits for the person who typed it; every refusal and failure is said and its text kept.

import { dropFile, fileOf } from "./files.js";

const QUEUE = "vantok-queue", OLD = "vantok-waiting";
const TIMEOUT = 30000, FILE_TIMEOUT = 180000, RETRY = 4000, FAILED_AGAIN = 20000, LATE = 2500, SHOWN_AFTER = 350;
export const person = document.body.dataset.person || "";
const held = new Set(); // names of entries that somebody else here is sending just now
const listeners = [];

export const token = () => [...crypto.getRandomValues(new Uint8Array(12))].map((b) => b.toString(16).padStart(2, "0")).join("");
export const onAnswer = (listener) => listeners.push(listener);

// --- the queue -------------------------------------------------------------------------------------------
function read(key) {
  try { const found = JSON.parse(localStorage.getItem(key) || "[]"); return Array.isArray(found) ? found : []; } catch { return []; }
}
export const entries = () => read(QUEUE);
export const mine = () => entries().filter((e) => e.person === person);
const write = (list) => localStorage.setItem(QUEUE, JSON.stringify(list));
const change = (name, more) => write(entries().map((e) => (e.token === name ? { ...e, ...more } : e)));
export const value = (entry, name) => (entry.data.find(([k]) => k === name) || ["", ""])[1];

// What this window itself stored last in a cell: it has seen that, whatever page its form is from.
const SEEN = "vantok-seen ";
const seenHere = (url) => Number(sessionStorage.getItem(SEEN + url) || 0);
const withSeen = (url, data) => data.map(([k, v]) => (k === "seen" && /^\d+$/.test(v) && Number(v) < seenHere(url) ? [k, String(seenHere(url))] : [k, v]));

// Keep an entry: where it goes, its pairs, what it is called; file: the field and name of a file kept for it (`files.js`). `hold`: whoever asks sends it
// first itself.
export function keep({ name = token(), url, data, title, file, hold = false }) {
  const entry = { token: name, person, name: document.body.dataset.personName || "", url: path(url), data: withSeen(path(url), data), title, file, at: Date.now() };
  if (hold) held.add(entry.token);
  write([...entries(), entry]);
  setTimeout(show, SHOWN_AFTER);
  if (!hold) pump();
  return entry;
}
export function drop(name) {
  if (entries().some((e) => e.token === name && e.file)) dropFile(name).catch(() => {}); // it takes room, no more
  held.delete(name);
  write(entries().filter((e) => e.token !== name));
  show();
}
export function release(name) { held.delete(name); show(); pump(); }
export function refuse(name, said) { held.delete(name); change(name, { refused: said || "It was not taken." }); show(); }
export const actionOf = (form) => new URL(form.getAttribute("action") || location.href, location.href).href; // a field may be called action
export const waiting = () => mine().filter((e) => !e.refused && !e.failed).length;
const path = (url) => { const at = new URL(url, location.href); return at.pathname + at.search; };

// What one entry stored is what the next one in the same cell has seen.
function relay(entry, seen) {
  if (/^\d+$/.test(seen) && seen !== "0") sessionStorage.setItem(SEEN + entry.url, seen);
  const before = value(entry, "seen");
  write(entries().filter((e) => !(e.refused && e.url === entry.url && e.person === person)).map((e) => (e.url !== entry.url || value(e, "seen") !== before ? e
    : { ...e, data: e.data.map(([k, v]) => (k === "seen" ? [k, seen] : [k, v])) })));
}

// --- one post --------------------------------------------------------------------------------------------
let csrf = JSON.parse(document.body.getAttribute("hx-headers") || "{}")["X-CSRFToken"] || "";
function takeToken(fresh) {
  if (!fresh) return;
  csrf = fresh;
  document.body.setAttribute("hx-headers", JSON.stringify({ "X-CSRFToken": fresh }));
  for (const field of document.querySelectorAll("input[name=csrfmiddlewaretoken]")) field.value = fresh;
}

// Returns {state, said, html, next, seen}; state is stored, shown (a page in answer, nothing stored), refused, signin, offline, busy or failed.
export async function post(url, data, name, file = null, again = true) {
  const headers = { "X-CSRFToken": csrf, "X-Vantok-Token": name, "X-Vantok-Person": person, "HX-Request": "true" };
  const pairs = data.filter(([k]) => k !== "csrfmiddlewaretoken");
  let body = new URLSearchParams(pairs);
  if (file) {
    body = new FormData();
    for (const [k, v] of pairs) body.append(k, v);
    body.append(file.field, file.content, file.name);
  }
  const clock = new AbortController(), timer = setTimeout(() => clock.abort(), file ? FILE_TIMEOUT : TIMEOUT);
  let answer, html = "";
  try {
    answer = await fetch(url, { method: "POST", body, headers, signal: clock.signal });
    html = await answer.text();
  } catch (error) {
    if (error instanceof TypeError || error.name === "AbortError") return { state: "offline", said: "No connection." };
    throw error;
  } finally { clearTimeout(timer); }
  const head = (n) => answer.headers.get(n) || "";
  takeToken(head("X-Vantok-CSRF"));
  if (head("X-Vantok-Sign-In")) return { state: "signin", said: "You were signed out." };
  if (answer.status === 403 && head("X-Vantok-CSRF") && again) return post(url, data, name, file, false);
  const told = { html, next: head("X-Vantok-Next"), seen: head("X-Vantok-Seen"), apart: head("X-Vantok-Apart"), said: decodeURIComponent(head("X-Vantok-Said")), status: answer.status };
  if (head("X-Vantok-Stored") === name) return { ...told, state: "stored" };
  if (answer.status === 200 && html.includes('id="main"')) return { ...told, state: "shown" };
  if (answer.status === 503) return { ...told, state: "busy", said: told.said || "The database is busy." };
  if (head("X-Vantok-Refused") || (answer.status >= 400 && answer.status < 500 && answer.status !== 429)) return { ...told, state: "refused", said: told.said || why(html) };
  return { ...told, state: "failed", said: told.said || `The program answered with ${answer.status}.` };
}
const why = (html) => {
  const found = new DOMParser().parseFromString(html, "text/html").querySelector(".error, .page-said");
  return found ? found.textContent.trim() : "It was not taken.";
};

// What a form sent is stored: what it sends next is another post.
export const renew = (form) => { for (const field of form.querySelectorAll("input[name=once]")) field.value = token(); };
document.addEventListener("htmx:afterRequest", (event) => { const form = event.detail.elt.closest?.("form"); if (form && event.detail.successful) renew(form); });

// Put the parts of an answer in place of those on the page, by their ids.
export function place(html, ids) {
  const answer = new DOMParser().parseFromString(html, "text/html");
  for (const id of ids) {
    const fresh = answer.getElementById(id), old = document.getElementById(id);
    if (!fresh || !old) continue;
    fresh.removeAttribute("hx-swap-oob");
    old.replaceWith(fresh);
    window.htmx.process(fresh);
  }
  return answer;
}

// --- sending what waits ----------------------------------------------------------------------------------
const due = (e) => e.person === person && !e.refused && !held.has(e.token) && !(e.failed && Date.now() - e.failed < FAILED_AGAIN);
async function sent(entry) {
  if (!entry.file) return post(entry.url, entry.data, entry.token);
  const content = await fileOf(entry.token).catch(() => null);
  if (!content) return { state: "refused", said: "The picture is no longer on this device: take it again." };
  return post(entry.url, entry.data, entry.token, { ...entry.file, content });
}
let pumping = false, state = "";
export async function pump() {
  if (pumping || !person) return;
  pumping = true;
  try {
    for (let entry = entries().find(due); entry; entry = entries().find(due)) {
      const answer = await sent(entry);
      state = answer.state;
      const late = Boolean(entry.waited) || Date.now() - entry.at > LATE;
      if (answer.state === "stored") { drop(entry.token); if (answer.seen) relay(entry, answer.seen); }
      else if (answer.state === "refused" || answer.state === "shown") change(entry.token, { refused: answer.said || "It was not taken.", late });
      else if (answer.state === "failed") change(entry.token, { failed: Date.now(), said: answer.said });
      else { change(entry.token, { waited: true }); if (answer.state === "signin") signInAgain(); break; }
      for (const listener of listeners) listener(entry, answer, late);
      show();
    }
  } finally { pumping = false; show(); }
}

// Wait a little until nothing of this person is on its way any more.
export async function drained(most) {
  const until = Date.now() + most;
  while (waiting() && Date.now() < until && !["offline", "signin", "busy"].includes(state)) await new Promise((go) => setTimeout(go, 40));
  return waiting() === 0;
}

// --- signing in again, in place --------------------------------------------------------------------------
let signedIn = [];
export function signInAgain() {
  const dialog = document.getElementById("sign-again");
  if (dialog && !dialog.open) { dialog.showModal(); dialog.querySelector("input[type=password]").focus(); }
  return new Promise((done) => signedIn.push(done));
}
document.addEventListener("submit", async (event) => {
  if (event.target.id !== "sign-again-form") return;
  event.preventDefault();
  const form = event.target, said = form.querySelector(".error");
  const answer = await post(actionOf(form), [...new FormData(form)], token());
  if (answer.state === "stored") {
    form.reset();
    said.textContent = "";
    form.closest("dialog").close();
    for (const done of signedIn) done();
    signedIn = [];
    pump();
  } else said.textContent = answer.state === "offline" ? "No connection." : answer.status === 429 ? "Too many wrong passwords: wait a little, or ask the lead." : "That password is not right.";
});
document.addEventListener("htmx:responseError", (event) => {
  if (event.detail.xhr.getResponseHeader("X-Vantok-Sign-In")) signInAgain();
});

// --- what is said of it ----------------------------------------------------------------------------------
const strips = []; // further lines, of the forms
export const alsoShow = (lines) => strips.push(lines);

function line(text, buttons) {
  const p = document.createElement("p");
  p.append(`${text} `);
  for (const [words, act] of buttons) {
    const button = document.createElement("button");
    button.type = "button";
    button.textContent = words;
    button.className = "btn btn-plain btn-small";
    button.addEventListener("click", act);
    p.append(button, " ");
  }
  return p;
}
const shown = (e) => `${e.title || "Entry"} “${e.file ? e.file.name : value(e, "text") || value(e, "station") || e.data.filter(([k]) => !["seen", "once", "key", "part", "card", "action", "gloves"].includes(k)).map(([, v]) => v).join(" ")}”`;
const copy = (e) => navigator.clipboard && navigator.clipboard.writeText(value(e, "text"));
const many = (n) => `${n} ${n === 1 ? "entry waits" : "entries wait"}`;

export function show() {
  const strip = document.getElementById("offline"), counter = document.getElementById("unsent");
  if (!strip) return;
  const own = mine(), way = own.filter((e) => !e.refused && !e.failed && Date.now() - e.at >= SHOWN_AFTER - 20).length;
  const lines = [];
  if (way && ["offline", "busy", "signin"].includes(state)) {
    const reason = { offline: "No connection.", busy: "The database is busy.", signin: "You were signed out." }[state];
    const end = state === "signin" ? "will be sent once you sign in again." : "will be sent when it returns.";
    lines.push(line(`${reason} ${many(way)} in this browser and ${end}`, state === "signin" ? [["Sign in", () => signInAgain()]] : []));
  }
  for (const e of own.filter((e) => e.failed)) lines.push(line(`Not stored yet: ${shown(e)}. ${e.said} It is tried again.`, [["Try now", () => { change(e.token, { failed: 0 }); pump(); }], ["Copy", () => copy(e)], ["Let it go", () => drop(e.token)]]));
  for (const e of own.filter((e) => e.refused && (e.late || !onPage(e)))) lines.push(line(`Not taken: ${shown(e)}. ${e.refused}`, [["Copy", () => copy(e)], ["Let it go", () => drop(e.token)]]));
  const others = new Map();
  for (const e of entries().filter((e) => e.person !== person)) others.set(e.name || "somebody else", (others.get(e.name || "somebody else") || 0) + 1);
  for (const [name, n] of others) lines.push(line(`${many(n)} in this browser for ${name}, and ${n === 1 ? "is" : "are"} sent when ${name} signs in here.`, []));
  for (const more of strips) lines.push(...more(line));
  strip.hidden = lines.length === 0;
  strip.replaceChildren(...lines);
  if (counter) { counter.hidden = way === 0; counter.textContent = `${way} unsent`; }
}
const onPage = (e) => [...document.querySelectorAll("form[data-cell]")].some((f) => path(actionOf(f)) === e.url);

// Entries of an earlier version of this program belong to whoever is signed in now.
function takeOver() {
  for (const e of read(OLD)) {
    const data = Object.entries(e.data || {});
    write([...entries(), { token: value({ data }, "token") || token(), person, name: document.body.dataset.personName, url: e.url, data, title: e.title, at: Date.now(), refused: e.refused }]);
  }
  localStorage.removeItem(OLD);
}

export function begin() {
  if (person) takeOver();
  show();
  pump();
  window.addEventListener("online", pump);
  window.addEventListener("pageshow", (event) => { if (event.persisted) { show(); pump(); } });
  window.addEventListener("storage", (event) => { if (event.key === QUEUE) show(); });
  setInterval(pump, RETRY);
}

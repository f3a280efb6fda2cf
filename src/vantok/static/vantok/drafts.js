// Forms: one habit for every form that posts, those not yet written too. What is typed is kept in this browser as it is typed; a form with a
// name of its own (`data-keep`) is saved as its page is left, any other waits to be sent; what is not taken stays in view with its reason; a
// reload, Back, or a session that ended brings it back.
import { actionOf, alsoShow, drained, person, post, renew, show, signInAgain, token, waiting } from "./send.js";
import { unfold } from "./folds.js";
import { leavePlan } from "./plan.js";

const PREFIX = "vantok-draft ";
const OTHERS = "[data-cell], [data-walk-form], [data-card], #sign-again-form, [method=dialog], .photo-form"; // forms with a way of their own
const forms = () => [...document.querySelectorAll("form[method=post]")].filter((form) => !form.matches(OTHERS));
const bySaving = () => forms().filter((form) => form.dataset.keep && form.dataset.keep !== "draft");
const query = () => { const q = new URLSearchParams(location.search); return ["state", "item", "new", "datum", "bay", "part"].map((n) => q.get(n) || "").join("|"); };
// A form is known by where it goes and what it carries unseen (which bag, which step, which item), never by its place on the page, nor by what is
// fetched into it as one types.
const carries = (form) => [...form.elements].filter((e) => e.type === "hidden" && !["csrfmiddlewaretoken", "once"].includes(e.name) && !/seen$/.test(e.name)).map((e) => `${e.name}=${e.value}`).join("&");
const nameOf = (form) => `${PREFIX}${person} ${location.pathname} ${query()} ${new URL(actionOf(form)).pathname} ${form.dataset.keep || ""} ${carries(form)} ${fields(form).filter((f) => !f.closest("[aria-live]")).map((f) => f.name).join(",").slice(0, 80)}`;
const keyOf = (form) => `${nameOf(form)} ${forms().filter((f) => nameOf(f) === nameOf(form)).indexOf(form)}`;
const fields = (form) => [...form.elements].filter((e) => e.name && !["hidden", "file", "password", "submit", "button"].includes(e.type) && e.tagName !== "BUTTON");

function changed(field) {
  if (field.type === "checkbox" || field.type === "radio") return field.checked !== field.defaultChecked;
  if (field.tagName === "SELECT") return [...field.options].some((o, i) => o.selected !== (o.defaultSelected || (i === 0 && ![...field.options].some((p) => p.defaultSelected))));
  return field.value !== field.defaultValue;
}
const dirty = (form) => form.dataset.unsaved === "1" || fields(form).some(changed);

function remember(form) {
  if (!dirty(form)) { localStorage.removeItem(keyOf(form)); return; }
  const told = fields(form).filter(changed).map((f) => [f.name, f.type === "checkbox" || f.type === "radio" ? [f.value, f.checked] : f.value]);
  if (!told.length) return;
  const head = document.querySelector(".job-head .number") || document.querySelector("h1");
  const words = form.querySelector("h2, legend:not([aria-live] *), .step-words") || form.closest("section, .sheet, details")?.querySelector("h2, .step-words, summary");
  const name = form.dataset.keep && form.dataset.keep !== "draft" ? form.dataset.keep : words ? words.textContent.trim().replace(/\s+/g, " ").slice(0, 60) : "A form";
  const kept = { title: `${name}${head ? `, ${head.textContent.trim()}` : ""}`, url: location.pathname + location.search, told, at: Date.now() };
  localStorage.setItem(keyOf(form), JSON.stringify(kept));
}

// What was touched in a part that is fetched anew as one types stays touched: an answer under way does not know of it yet.
const touched = {};
const typedFor = (e) => e.target.closest?.("form[data-keep] [aria-live]");
document.addEventListener("change", (e) => { if (e.target.type === "radio" && typedFor(e)) touched[e.target.name] = e.target.value; });
document.addEventListener("htmx:afterSwap", (e) => {
  if (typedFor(e)) for (const f of e.target.querySelectorAll("input[type=radio]")) if (touched[f.name] === f.value) f.checked = true;
});
const onceReady = (what) => (document.readyState === "complete" ? what() : addEventListener("load", what, { once: true }));

function bringBack(form) {
  const text = localStorage.getItem(keyOf(form));
  if (!text) return;
  for (const [name, told] of JSON.parse(text).told) {
    const found = fields(form).filter((f) => f.name === name);
    if (Array.isArray(told) && told[1] && !found.length) touched[name] = told[0];
    if (Array.isArray(told)) for (const f of found.filter((g) => g.value === told[0])) f.checked = told[1];
    else if (found[0]) found[0].value = told;
    if (found[0]?.matches("[hx-get]")) onceReady(() => found[0].dispatchEvent(new Event("restored")));
  }
  if (!dirty(form)) { localStorage.removeItem(keyOf(form)); return; }
  const note = document.createElement("p"), button = document.createElement("button");
  note.className = "finding tone-act draft-note";
  note.setAttribute("role", "status");
  note.append("Typed before, and not saved yet. ");
  button.type = "button";
  button.className = "btn btn-plain btn-small";
  button.textContent = "Let it go";
  button.addEventListener("click", () => { form.reset(); localStorage.removeItem(keyOf(form)); note.remove(); show(); });
  note.append(button);
  form.prepend(note);
  [note, ...fields(form).filter(changed)].forEach(unfold);
}

// A form in a part of the page that is fetched anew says it before that part, where it stays.
function say(form, words, live) {
  let note = live ? live.previousElementSibling?.closest(".form-said") : form.querySelector(".form-said");
  if (!note) { note = document.createElement("p"); note.className = "error form-said"; note.setAttribute("role", "alert"); if (live) live.before(note); else form.prepend(note); }
  note.textContent = words;
  unfold(note);
  note.scrollIntoView({ block: "nearest" });
}

// What was sent is what is stored now: it is not changed any more, and what is typed after it has seen it.
function stored(form, data) {
  const sent = (name) => data.filter(([k]) => k === name).map(([, v]) => v);
  for (const f of fields(form)) {
    const told = sent(f.name);
    if (f.type === "checkbox" || f.type === "radio") f.defaultChecked = told.includes(f.value);
    else if (f.tagName === "SELECT") for (const o of f.options) o.defaultSelected = told.includes(o.value);
    else if (told.length) [f.defaultValue] = told;
  }
  renew(form);
  for (const hidden of form.querySelectorAll("input[type=hidden]")) {
    if (!/(^|-)seen$/.test(hidden.name)) continue;
    const prefix = hidden.name.slice(0, -"seen".length), seen = JSON.parse(hidden.value);
    for (const name of Object.keys(seen)) if (typeof seen[name] === "string" && sent(prefix + name).length) [seen[name]] = sent(prefix + name);
    hidden.value = JSON.stringify(seen);
  }
}

// Save one form; gives where to go on, or "" when it is not stored (and says why; quietly: its draft waits instead). A save under way is waited
// for, not repeated.
const saving = new Map();
let intent = 0, going = false; // what was asked for last is where the page goes; going: a save's own page is being fetched
function save(form, submitter, quietly = false) {
  if (!saving.has(form)) saving.set(form, store(form, submitter, quietly).finally(() => saving.delete(form)));
  return saving.get(form);
}
async function store(form, submitter, quietly) {
  const data = [...new FormData(form)].filter(([, v]) => typeof v === "string"), key = keyOf(form), index = forms().indexOf(form), name = token(), live = form.parentElement.closest("[hx-get]");
  if (submitter && submitter.name) data.push([submitter.name, submitter.value]);
  remember(form);
  let answer = await post(actionOf(form), data, name);
  while (answer.state === "signin") { await signInAgain(); answer = await post(actionOf(form), data, name); }
  if (answer.state === "stored") { localStorage.removeItem(key); delete form.dataset.unsaved; stored(form, data); remember(form); return answer.next || location.href; }
  if (quietly) return "";
  const fresh = answer.html && new DOMParser().parseFromString(answer.html, "text/html").getElementById("main");
  if (fresh && (answer.state === "shown" || (answer.state === "refused" && fresh.querySelector("form[method=post]")))) {
    document.getElementById("main").replaceWith(fresh);
    window.htmx.process(fresh);
    const again = forms()[index] || forms()[0], wrong = fresh.querySelector(".error, .tone-limit, .said.error");
    if (again) again.dataset.unsaved = "1";
    if (wrong) { wrong.scrollIntoView({ block: "center" }); const field = wrong.closest(".field"); if (field && field.querySelector("input, select, textarea")) field.querySelector("input, select, textarea").focus(); }
    for (const other of forms()) if (other !== again) bringBack(other);
  } else say(form, `Not saved. ${answer.said}${localStorage.getItem(key) ? " What you typed is kept in this browser." : ""}`, live);
  return "";
}

// Save what is typed and send what waits, before the page is left; false when something stays to be answered. Quietly: what is refused waits.
async function settleAll(quietly = false) {
  leavePlan();
  for (const under of saving.values()) if (!(await under) && !quietly) return false;
  for (const form of bySaving().filter(dirty)) if (!(await save(form, undefined, quietly)) && !quietly) return false;
  await drained(2500);
  return true;
}
const unsettled = () => saving.size > 0 || waiting() > 0 || document.querySelector(".plan-item[data-nudged]") || bySaving().some(dirty);

export async function leave(url) {
  const asked = ++intent;
  if (going) window.stop();
  going = false;
  if ((!unsettled() || (await settleAll())) && asked === intent) location.assign(url);
}

const ours = (form) => form && form.method === "post" && !form.matches(OTHERS);
document.addEventListener("input", (event) => {
  const { form } = event.target;
  if (!ours(form)) return;
  if (going) { window.stop(); going = false; intent += 1; } // a hand that types on is not interrupted by the page its save asked for
  remember(form);
});
document.addEventListener("change", (event) => { if (ours(event.target.form)) remember(event.target.form); });
document.addEventListener("submit", async (event) => {
  const form = event.target, { submitter } = event;
  if (event.defaultPrevented || form.matches(OTHERS) || form.dataset.settled) return;
  const others = () => document.querySelector(".plan-item[data-nudged]") || waiting() > 0 || bySaving().some((f) => f !== form && dirty(f));
  const byScript = form.method === "post" && person && !form.querySelector("input[type=file]");
  if (!byScript && !others()) return;
  event.preventDefault();
  const asked = ++intent;
  if (others()) { // what else is typed here is saved if it can be; it never swallows what was pressed
    form.dataset.unsaved = "1";
    leavePlan();
    for (const other of bySaving().filter((f) => f !== form && dirty(f))) await save(other, undefined, true);
    await drained(2500);
    delete form.dataset.unsaved;
  }
  if (!byScript) { form.dataset.settled = "1"; form.requestSubmit(document.contains(submitter) ? submitter : undefined); return; }
  const next = await save(form, submitter);
  if (!next) return;
  await drained(1500);
  if (asked !== intent) return;
  going = true;
  const to = new URL(next, location.href); // a page that comes back to itself is fetched anew, whatever place on it is meant
  if (to.pathname !== location.pathname || to.search !== location.search) { location.assign(next); return; }
  if (to.hash !== location.hash) history.replaceState(null, "", to.href);
  location.reload();
}, true);
document.addEventListener("click", (event) => {
  const link = event.target.closest("a[href]");
  if (!link || event.defaultPrevented || event.button || event.ctrlKey || event.metaKey || event.shiftKey || link.target || link.hasAttribute("download")) return;
  const to = new URL(link.href, location.href);
  if (to.origin !== location.origin || (to.pathname === location.pathname && to.search === location.search && to.hash)) return;
  if (!unsettled()) { intent += 1; return; }
  event.preventDefault();
  leave(to.href);
});

// Drafts of other pages are said wherever their person is.
alsoShow((line) => Object.keys(localStorage).filter((k) => k.startsWith(`${PREFIX}${person} `) && !forms().some((f) => keyOf(f) === k)).map((k) => {
  const kept = JSON.parse(localStorage.getItem(k));
  return line(`Typed but not saved: ${kept.title}.`, [["Open it", () => leave(kept.url)], ["Let it go", () => { localStorage.removeItem(k); show(); }]]);
}));
addEventListener("pageshow", () => { going = false; });
if (person) for (const form of forms()) bringBack(form);

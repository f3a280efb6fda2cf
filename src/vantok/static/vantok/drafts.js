// Forms: one habit for the whole program. What is typed is kept in this browser as it is typed; leaving a page saves it; what
// is not taken stays in view with its reason; a reload, Back, or a session that ended brings it back.
import { actionOf, alsoShow, drained, person, post, show, signInAgain, token, waiting } from "./send.js";
import { leavePlan } from "./plan.js";
import { leaveWalk } from "./walk.js";

const PREFIX = "vantok-draft ";
const forms = () => [...document.querySelectorAll("form[data-keep]")];
const query = () => { const q = new URLSearchParams(location.search); return ["state", "item", "new", "datum", "bay"].map((n) => q.get(n) || "").join("|"); };
const keyOf = (form) => `${PREFIX}${person} ${location.pathname} ${query()} ${form.dataset.keep} ${forms().filter((f) => f.dataset.keep === form.dataset.keep).indexOf(form)}`;
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
  const name = form.dataset.keep === "draft" ? (form.querySelector("h2, legend") || { textContent: "A form" }).textContent.trim() : form.dataset.keep;
  const kept = { title: `${name}${head ? `, ${head.textContent.trim()}` : ""}`, url: location.pathname + location.search, told, at: Date.now() };
  localStorage.setItem(keyOf(form), JSON.stringify(kept));
}

function bringBack(form) {
  const text = localStorage.getItem(keyOf(form));
  if (!text) return;
  for (const [name, told] of JSON.parse(text).told) {
    const found = fields(form).filter((f) => f.name === name);
    if (Array.isArray(told)) for (const f of found.filter((g) => g.value === told[0])) f.checked = told[1];
    else if (found[0]) found[0].value = told;
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
}

function say(form, words) {
  let note = form.querySelector(".form-said");
  if (!note) { note = document.createElement("p"); note.className = "error form-said"; note.setAttribute("role", "alert"); form.prepend(note); }
  note.textContent = words;
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
  for (const hidden of form.querySelectorAll("input[type=hidden]")) {
    if (!/(^|-)seen$/.test(hidden.name)) continue;
    const prefix = hidden.name.slice(0, -"seen".length), seen = JSON.parse(hidden.value);
    for (const name of Object.keys(seen)) if (typeof seen[name] === "string" && sent(prefix + name).length) [seen[name]] = sent(prefix + name);
    hidden.value = JSON.stringify(seen);
  }
}

// Save one form; gives where to go on, or "" when it is not stored (and says why). A save under way is waited for, not repeated.
const saving = new Map();
let intent = 0, going = false; // what was asked for last is where the page goes; going: a save's own page is being fetched
function save(form, submitter) {
  if (!saving.has(form)) saving.set(form, store(form, submitter).finally(() => saving.delete(form)));
  return saving.get(form);
}
async function store(form, submitter) {
  const data = [...new FormData(form)].filter(([, v]) => typeof v === "string"), key = keyOf(form), index = forms().indexOf(form);
  if (submitter && submitter.name) data.push([submitter.name, submitter.value]);
  remember(form);
  let answer = await post(actionOf(form), data, token());
  if (answer.state === "signin") { await signInAgain(); answer = await post(actionOf(form), data, token()); }
  if (answer.state === "stored") { localStorage.removeItem(key); delete form.dataset.unsaved; stored(form, data); remember(form); return answer.next || location.href; }
  const fresh = answer.html && new DOMParser().parseFromString(answer.html, "text/html").getElementById("main");
  if (answer.state === "refused" && fresh && fresh.querySelector("form[data-keep]")) {
    document.getElementById("main").replaceWith(fresh);
    window.htmx.process(fresh);
    const again = forms()[index] || forms()[0];
    again.dataset.unsaved = "1";
    const wrong = fresh.querySelector(".error");
    if (wrong) { wrong.scrollIntoView({ block: "center" }); const field = wrong.closest(".field"); if (field && field.querySelector("input, select, textarea")) field.querySelector("input, select, textarea").focus(); }
  } else say(form, `Not saved. ${answer.said} What you typed is kept in this browser.`);
  return "";
}

// Save what is typed and send what waits, before the page is left; false when something stays to be answered.
async function settleAll() {
  if (document.activeElement && document.activeElement.matches("[data-walk]")) document.activeElement.blur();
  leaveWalk();
  leavePlan();
  for (const under of saving.values()) if (!(await under)) return false;
  for (const form of forms().filter((f) => f.dataset.keep !== "draft" && dirty(f))) if (!(await save(form))) return false;
  await drained(2500);
  return true;
}
const unsettled = () => {
  const field = document.activeElement, walking = document.getElementById("walk-in");
  const typing = field && field.matches && field.matches("[data-walk]") && field.value !== field.defaultValue;
  const figure = walking && walking.value.trim() !== "" && walking.value !== walking.defaultValue;
  return saving.size > 0 || typing || figure || waiting() > 0 || document.querySelector(".plan-item[data-nudged]") || forms().some((f) => f.dataset.keep !== "draft" && dirty(f));
};

export async function leave(url) {
  const asked = ++intent;
  if (going) window.stop();
  going = false;
  if ((!unsettled() || (await settleAll())) && asked === intent) location.assign(url);
}

document.addEventListener("input", (event) => {
  const { form } = event.target;
  if (!form || !form.dataset.keep) return;
  if (going) { window.stop(); going = false; intent += 1; } // a hand that types on is not interrupted by the page its save asked for
  remember(form);
});
document.addEventListener("change", (event) => { const form = event.target.form; if (form && form.dataset.keep) remember(form); });
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (form.dataset.keep && !form.querySelector("input[type=file]")) {
    event.preventDefault();
    const asked = ++intent;
    const next = await save(form, event.submitter);
    if (!next) return;
    await drained(1500);
    if (asked !== intent) return;
    going = true;
    if (new URL(next, location.href).href === location.href) location.reload(); else location.assign(next);
  } else if (!form.matches("[data-cell], [data-walk-form], #sign-again-form, [data-settled], [method=dialog]") && unsettled()) {
    event.preventDefault();
    const { submitter } = event, asked = ++intent;
    if ((await settleAll()) && asked === intent) { form.dataset.settled = "1"; form.requestSubmit(document.contains(submitter) ? submitter : undefined); }
  }
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

// The card with gloves on: one button, a step a screen. A step is kept in this browser until the server has it, so that the card goes on
// without a connection and catches up in order, each step once; read aloud by the browser's own voice where there is one.
import { actionOf, keep, mine, onAnswer, value, waiting } from "./send.js";

const steps = () => [...document.querySelectorAll(".gloves .step")];
const ofCard = (entry) => /\/fit\/$/.test(new URL(entry.url, location.href).pathname) && entry.url.startsWith(location.pathname);
const gone = (entry) => document.querySelector(`.gloves .step [name=key][value="${CSS.escape(value(entry, "key"))}"]`)?.closest(".step").remove();
// What a step still asks, in its order: a point not said, a fastener of which nothing is said, a fact that is blank.
const silent = (one) => one.matches("fieldset") ? !one.querySelector("input:checked") && !one.querySelector(".tape").value.trim()
  : one.type === "checkbox" ? !one.checked : !one.value.trim() && !one.matches("[data-may-be-blank]");
const unsaid = (form) => {
  const one = [...(form?.querySelectorAll(".so input[type=checkbox], fieldset.each, [name=fact]") || [])].find(silent);
  return one?.matches("fieldset") ? one.querySelector("input") : one;
};
const focus = () => { const form = steps()[0]?.querySelector("form[data-card]"); (unsaid(form) || form?.querySelector(".step-done"))?.focus(); };
function hint(form, words) {
  const note = form.querySelector(".form-said") || document.createElement("p");
  note.className = "error form-said";
  note.setAttribute("role", "alert");
  note.textContent = words;
  form.prepend(note);
}
// A point of a gate, or a line of the box, is an act of its own: said, the next one has the focus; Enter says one, it never passes the gate.
document.addEventListener("change", (event) => {
  const form = event.target.form;
  if (form?.matches("[data-card]") && event.target.closest(".so, fieldset.each, [name=fact]") && !event.target.matches("fieldset .tape")) focus();
});
document.addEventListener("keydown", (event) => {
  if (event.key !== "Enter" || !event.target.matches?.("[data-card] .so input, [data-card] fieldset.each input[type=radio]")) return;
  event.preventDefault();
  event.target.click();
});

// A gate is passed by holding: a second, by finger, mouse or key; a press that is let go of sooner passes nothing.
const HELD = 1000;
let holding = 0;
const letGo = () => { clearTimeout(holding); for (const one of document.querySelectorAll(".holding")) one.classList.remove("holding"); };
const hold = (button) => {
  letGo();
  button.classList.add("holding");
  holding = setTimeout(() => { button.dataset.hold = "held"; button.form.requestSubmit(button); letGo(); }, HELD);
};
document.addEventListener("pointerdown", (event) => { const button = event.target.closest?.("[data-hold]"); if (button) hold(button); });
document.addEventListener("keydown", (event) => {
  if (![" ", "Enter"].includes(event.key) || !event.target.matches?.("[data-hold]")) return;
  event.preventDefault();
  if (!event.repeat) hold(event.target);
});
for (const end of ["pointerup", "pointercancel", "keyup", "blur"]) addEventListener(end, letGo);

document.addEventListener("submit", (event) => {
  const form = event.target;
  if (!form.matches("[data-card]")) return;
  event.preventDefault();
  if (event.submitter?.dataset.hold === "") { hint(form, "Hold it for a second: a gate is not passed by a touch."); return; }
  const ticks = ["tick", undefined, ""].includes(event.submitter?.value), left = ticks && unsaid(form);
  if (left) {
    if (event.submitter?.dataset.hold) event.submitter.dataset.hold = "";
    left.focus();
    hint(form, "Each point for itself: say of every one that it is so.");
    return;
  }
  const data = [...new FormData(form)].filter(([name]) => name !== "csrfmiddlewaretoken");
  if (event.submitter?.name) data.push([event.submitter.name, event.submitter.value]);
  form.closest(".step").remove(); // gone before it is sent, so that a second press is the next step's
  focus();
  keep({ url: actionOf(form), data, title: form.dataset.card });
});

// What the server says of a step: the sentence anew, the whole card where it was refused, or where nothing is left here nor on its way.
onAnswer(async (entry, answer) => {
  if (!document.querySelector(".gloves") || !ofCard(entry)) return;
  if (answer.state === "refused") { location.reload(); return; }
  if (answer.state !== "stored") return;
  gone(entry);
  if (!steps().length && !waiting()) { location.reload(); return; }
  const page = await fetch(location.href, { headers: { "HX-Request": "true" } }).then((r) => r.text()).catch(() => "");
  const fresh = new DOMParser().parseFromString(page, "text/html").getElementById("verdict");
  if (fresh) document.getElementById("verdict").replaceWith(fresh);
  const stands = new DOMParser().parseFromString(page, "text/html").getElementById("standing"), shown = document.getElementById("standing");
  if (stands && shown) shown.replaceWith(stands);
  else if (stands) document.querySelector(".now").before(stands);
  else shown?.remove();
});

const aloud = document.querySelector("[data-aloud]");
if (aloud && "speechSynthesis" in window) {
  aloud.hidden = false;
  aloud.addEventListener("click", () => {
    const said = [...steps()[0].querySelectorAll(".step-words, .finding, .asks li, td, th")].map((one) => one.textContent.trim());
    speechSynthesis.cancel();
    speechSynthesis.speak(new SpeechSynthesisUtterance(said.join(". ")));
  });
}
if (document.querySelector(".gloves")) for (const entry of mine()) if (ofCard(entry) && !entry.refused) gone(entry); // what waits is not asked again
focus();

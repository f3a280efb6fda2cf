// The card with gloves on: one button, a step a screen. A step is kept in this browser until the server has it, so that the card goes on
// without a connection and catches up in order, each step once; read aloud by the browser's own voice where there is one.
import { actionOf, keep, mine, onAnswer, value, waiting } from "./send.js";

const steps = () => [...document.querySelectorAll(".gloves .step")];
const ofCard = (entry) => /\/fit\/$/.test(new URL(entry.url, location.href).pathname) && entry.url.startsWith(location.pathname);
const gone = (entry) => document.querySelector(`.gloves .step [name=key][value="${CSS.escape(value(entry, "key"))}"]`)?.closest(".step").remove();
const focus = () => steps()[0]?.querySelector(".step-done")?.focus();

document.addEventListener("submit", (event) => {
  const form = event.target;
  if (!form.matches("[data-card]")) return;
  event.preventDefault();
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

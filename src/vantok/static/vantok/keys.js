// Keys, dialogs, sliders' figures, folded workings, and selects that act at once.
import { leave } from "./drafts.js";

// Drawings as tables, where somebody reads them so: on this device until the key is pressed again.
const TABLES = "vantok tables";
function tables(wanted) {
  document.documentElement.toggleAttribute("data-tables", wanted);
  if (wanted) localStorage.setItem(TABLES, "1");
  else localStorage.removeItem(TABLES);
}
if (localStorage.getItem(TABLES)) tables(true);

document.addEventListener("keydown", (event) => {
  if (event.target.closest && event.target.closest("input, textarea, select")) return;
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "n" && document.querySelector("header.top")) leave(document.body.dataset.new);
  if (event.key === "t") tables(!("tables" in document.documentElement.dataset));
  if (event.key === "[" || event.key === "]") {
    const stages = [...document.querySelectorAll(".stages a")];
    const here = stages.findIndex((a) => a.hasAttribute("aria-current"));
    const there = stages[here + (event.key === "]" ? 1 : -1)];
    if (here >= 0 && there) leave(there.href);
  }
});
document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-open]");
  if (opener) document.getElementById(opener.dataset.open).showModal();
});
document.addEventListener("change", (event) => {
  if (event.target.closest("[data-auto]")) event.target.form.requestSubmit();
});

// A form that is only to be looked at takes no hand; what it says stands.
function looks() {
  for (const note of document.querySelectorAll("[data-looks]")) for (const field of note.closest("form").elements) field.disabled = true;
}
document.addEventListener("htmx:load", looks);

// A figure leads to its working, which may be folded away.
function unfold() {
  const target = location.hash.startsWith("#w-") && document.getElementById(location.hash.slice(1));
  if (!target) return;
  const folded = target.closest("details");
  if (folded) folded.open = true;
  target.scrollIntoView({ block: "center" });
  target.focus({ preventScroll: true });
}
window.addEventListener("hashchange", unfold);

// Sliders show their value in the reader's units, by the kind of quantity they set.
const SHOWN = {
  pressure: (value, us) => (us ? `${Math.round(value / 6894.757)} psi` : `${(value / 1e5).toFixed(2)} bar`),
  length: (value, us) => (us ? `${(value / 0.0254).toFixed(2)} in` : `${Math.round(value * 1000)} mm`),
  count: (value) => `${value}`,
};
function outputs() {
  const us = document.body.dataset.units === "us";
  for (const out of document.querySelectorAll("output[for]")) {
    const value = Number(document.getElementById(out.htmlFor[0] || out.getAttribute("for")).value);
    out.textContent = SHOWN[out.dataset.kind](value, us);
  }
}
document.addEventListener("input", outputs);
unfold();
outputs();
looks();

// What is typed into a cell and not entered yet: kept in this browser, by its cell, until Enter, Tab or the next field enters it. Leaving a page,
// a reload, Back or a flat battery never make a reading of half a figure.
import { alsoShow, person, show } from "./send.js";

const PREFIX = "vantok-typing ";
const keyOf = (url) => `${PREFIX}${person} ${new URL(url, location.href).pathname}`;

export function typing(url, text, title) {
  if (!person) return;
  localStorage.setItem(keyOf(url), JSON.stringify({ text, title, url: location.pathname + location.search }));
}
export const entered = (url) => localStorage.removeItem(keyOf(url));
export function typed(url) {
  const text = localStorage.getItem(keyOf(url));
  return text ? JSON.parse(text).text : "";
}
const here = (key) => [...document.querySelectorAll("form[data-cell], form[data-walk-form]")].some((f) => keyOf(f.dataset.url || f.getAttribute("action")) === key);
alsoShow((line) => Object.keys(localStorage).filter((key) => key.startsWith(`${PREFIX}${person} `) && !here(key)).map((key) => {
  const kept = JSON.parse(localStorage.getItem(key));
  return line(`Typed, not entered: ${kept.title} “${kept.text}”.`, [["Open it", () => location.assign(kept.url)], ["Let it go", () => { localStorage.removeItem(key); show(); }]]);
}));

// A button of a row that is touched again is let go: a grade given by mistake is nobody's grade.
document.addEventListener("pointerdown", (event) => {
  const held = event.target.closest?.(".touched .chip")?.querySelector("input");
  if (held) held.dataset.was = held.checked ? "1" : "";
});
document.addEventListener("click", (event) => {
  const held = event.target;
  if (!held.matches?.(".touched input") || held.dataset.was !== "1") return;
  held.checked = false;
  held.dataset.was = "";
  held.dispatchEvent(new Event("change", { bubbles: true }));
});

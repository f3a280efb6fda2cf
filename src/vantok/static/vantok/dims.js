// The dimension line of the field that is typed into stands out in the drawing.
const mark = (event, on) => {
  const name = event.target.closest?.("[data-dim-of]")?.dataset.dimOf;
  if (name) document.querySelector(`[data-dim=${name}]`)?.classList.toggle("dim-on", on);
};
document.addEventListener("focusin", (event) => mark(event, true));
document.addEventListener("focusout", (event) => mark(event, false));
document.addEventListener("click", (event) => {
  const line = event.target.closest?.("[data-dim]");
  if (line) document.querySelector(`[data-dim-of=${line.dataset.dim}] input`)?.focus();
});

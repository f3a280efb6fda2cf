// The drawing is the form: where it is wide enough each field stands at its dimension line; the line of the one typed into stands out.
let box = null;
const WIDE = 760, APART = 6;
const place = () => {
  const wide = box.clientWidth >= WIDE, frame = box.getBoundingClientRect(), rows = new Map();
  box.classList.toggle("placed", wide);
  for (const field of box.querySelectorAll("[data-dim-of]")) {
    if (!wide) { field.removeAttribute("style"); continue; }
    const line = box.querySelector(`[data-dim=${field.dataset.dimOf}] line`).getBoundingClientRect(), y = Math.round(line.top - frame.top);
    const half = field.offsetWidth / 2, last = rows.get(y) ?? -APART;
    const left = Math.max(line.left + line.width / 2 - frame.left - half, last + APART);
    rows.set(y, left + 2 * half);
    field.style.left = `${left}px`;
    field.style.top = `${y + 12}px`;
  }
};
const mark = (event, on) => {
  const name = event.target.closest?.("[data-dim-of]")?.dataset.dimOf;
  if (name) document.querySelector(`[data-dim=${name}]`)?.classList.toggle("dim-on", on);
};
const begin = () => { // again where a refused form brought its page in anew
  const now = document.querySelector("[data-dims]");
  if (!now || now === box) return;
  box = now;
  new ResizeObserver(place).observe(box);
};
begin();
new MutationObserver(begin).observe(document.body, { childList: true });
document.addEventListener("focusin", (event) => mark(event, true));
document.addEventListener("focusout", (event) => mark(event, false));
document.addEventListener("click", (event) => {
  const line = event.target.closest?.("[data-dim]");
  if (line) document.querySelector(`[data-dim-of=${line.dataset.dim}] input`)?.focus();
});

// A choice by small drawings shows what was chosen, and folds again: at once under a finger, by keys when the choice is left (each arrow chooses).
let byKeys = false;
const fold = (pictures, focus) => {
  pictures.open = false;
  if (focus) pictures.querySelector("summary").focus();
};
document.addEventListener("pointerdown", () => { byKeys = false; }, true);
document.addEventListener("keydown", () => { byKeys = true; }, true);
document.addEventListener("change", (event) => {
  const picture = event.target.closest?.(".pick"), pictures = picture?.closest("details");
  if (!pictures) return;
  pictures.querySelector("summary").replaceChildren(...[...picture.children].slice(1).map((one) => one.cloneNode(true)));
  if (!byKeys) fold(pictures, true);
});
document.addEventListener("focusout", (event) => {
  const pictures = event.target.closest?.(".pick")?.closest("details");
  if (pictures && byKeys && !pictures.contains(event.relatedTarget)) fold(pictures, false);
});

// The steps of a puzzle, moved up and down: their places follow.
const place = (list) => [...list.children].forEach((row, n) => { row.querySelector("select").value = String(n + 1); });

document.addEventListener("click", (event) => {
  const button = event.target.closest?.(".puzzle-steps [data-up], .puzzle-steps [data-down]");
  if (!button) return;
  const row = button.closest("[data-step]"), up = "up" in button.dataset;
  const other = up ? row.previousElementSibling : row.nextElementSibling;
  if (!other) return;
  if (up) other.before(row); else other.after(row);
  place(row.parentElement);
  button.focus();
});
document.addEventListener("change", (event) => {
  const select = event.target.closest?.(".puzzle-steps select");
  if (!select) return;
  const list = select.closest(".puzzle-steps"), row = select.closest("[data-step]");
  const to = Number(select.value) - 1, from = [...list.children].indexOf(row);
  list.children[to][to > from ? "after" : "before"](row);
  place(list);
});

// Help from any field: the words of the trade and the handbook's pages, searched on the device; they are fetched once a session and kept.
const dialog = document.getElementById("keys");
const field = document.getElementById("help-search"), list = document.getElementById("help-found");
const KEPT = "vantok-words";
let rows = null;
async function words() {
  if (rows) return rows;
  try {
    rows = JSON.parse((sessionStorage[KEPT] && localStorage.getItem(KEPT)) || "null");
    if (rows) return rows;
    rows = await (await fetch(dialog.dataset.words)).json();
    localStorage.setItem(KEPT, JSON.stringify(rows));
    sessionStorage[KEPT] = "fresh";
  } catch {
    rows ||= JSON.parse(localStorage.getItem(KEPT) || "[]"); // no connection, or no room: what was kept before
  }
  return rows;
}
const MOST = 8;
function worth([title, other, what], asked) {
  const [t, o, w] = [title, other, what].map((one) => one.toLowerCase());
  if (!asked.every((one) => t.includes(one) || o.includes(one) || w.includes(one))) return 0;
  return asked.reduce((sum, one) => sum + (t.startsWith(one) ? 8 : t.includes(one) ? 4 : o.includes(one) ? 3 : 1), 0);
}
async function find() {
  const asked = field.value.toLowerCase().split(/\s+/).filter(Boolean), known = await words();
  const found = asked.length ? known.map((row) => [worth(row, asked), row]).filter(([n]) => n) : [];
  found.sort((a, b) => b[0] - a[0]);
  list.replaceChildren(
    ...found.slice(0, MOST).map(([, [title, other, what, address]]) => {
      const item = document.createElement("li"), link = document.createElement("a"), small = document.createElement("small");
      link.href = address;
      link.textContent = title;
      small.textContent = ` ${other}. ${what}`;
      item.append(link, small);
      return item;
    }),
  );
  if (asked.length && !found.length) list.textContent = "No such word here. The handbook has them all by subject.";
}
let from = null;
function help() {
  from = document.activeElement;
  dialog.showModal();
  field.value = "";
  list.replaceChildren();
  field.focus();
}
if (dialog) {
  field.addEventListener("input", find);
  dialog.addEventListener("close", () => from?.focus?.());
  document.addEventListener("keydown", (event) => {
    if (dialog.open || event.ctrlKey || event.metaKey || event.altKey) return;
    const takesWords = event.target.closest?.("textarea, input:is([type=text], [type=search], [type=password], [type=email], :not([type])):not([inputmode=decimal])");
    if (event.key !== "F1" && (event.key !== "?" || takesWords)) return;
    event.preventDefault();
    help();
  });
  document.addEventListener("click", (event) => event.target.closest("[data-help]") && help());
  (window.requestIdleCallback || setTimeout)(words);
}

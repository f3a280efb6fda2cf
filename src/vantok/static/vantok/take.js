// A figure off an instrument: beside each field of a pressure, and of the height that is walked to, where such an instrument is set up.
const PLACES = [
  ["GAUGE", "the gauge", "main form[method=post] input[data-kind=pressure]"],
  ["HEIGHT", "the sensor", "#walk-in"],
];

async function take(field, kind, note) {
  const side = /right/.test(field.name) ? "right" : /left/.test(field.name) ? "left" : document.querySelector("[name=side]")?.value || "";
  note.textContent = "…";
  try {
    const answer = await fetch(`/instruments/now/?kind=${kind}&side=${encodeURIComponent(side)}`, { credentials: "same-origin" });
    const read = await answer.json();
    note.textContent = read.problem || "";
    if (!read.text) return;
    field.value = read.text;
    field.dispatchEvent(new Event("input", { bubbles: true }));
    field.dispatchEvent(new Event("change", { bubbles: true }));
  } catch { note.textContent = "Not reached: type the figure."; }
}

function offer(field, kind, words) {
  if (field.dataset.takes) return;
  field.dataset.takes = kind;
  const button = document.createElement("button"), note = document.createElement("small");
  button.type = "button";
  button.className = "btn btn-plain btn-small";
  button.textContent = `From ${words}`;
  note.setAttribute("role", "status");
  button.addEventListener("click", () => take(field, kind, note));
  field.after(button, " ", note);
}

const wanted = PLACES.map(([kind, words, where]) => [kind, words, [...document.querySelectorAll(where)]]).filter(([, , fields]) => fields.length);
if (wanted.length) {
  const answer = await fetch("/instruments/now/", { credentials: "same-origin" }).catch(() => null);
  const { there = [] } = answer?.ok ? await answer.json().catch(() => ({})) : {};
  for (const [kind, words, fields] of wanted) if (there.includes(kind)) fields.forEach((field) => offer(field, kind, words));
}

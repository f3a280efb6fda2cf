// Handles of a drawing: dragged, or moved by the arrow keys, each writes into the field it belongs to; the page answers as if it had been typed.
let held = null; // the handle in hand: by name, since the drawing is swapped while it is dragged
let focused = "";
const STEP = { mm: 5, in: 0.25 };

const field = (name) => document.getElementById(`b-${name}`) || document.getElementById(`s-${name}`);
const put = (name, value) => {
  const input = field(name);
  if (!input) return;
  // a slider rounds to its own steps and ends; a field takes tenths
  input.value = input.type === "range" ? value.toString() : (Math.round(value * 10) / 10).toString();
  input.dispatchEvent(new Event("input", { bubbles: true }));
};

// A point of a curve: one pair of a field like “0.1: 180, 0.3: 420”.
const putPoint = (name, index, value) => {
  const input = field(name);
  if (!input) return;
  const pairs = input.value.split(",");
  pairs[index] = value.map((one) => Number(Math.max(one, 0).toPrecision(4)).toString()).join(": ");
  input.value = pairs.map((pair) => pair.trim()).join(", ");
  input.dispatchEvent(new Event("input", { bubbles: true }));
};

document.addEventListener("pointerdown", (event) => {
  const handle = event.target.closest?.("[data-handle]");
  if (!handle) return;
  event.preventDefault();
  handle.focus();
  held = { data: { ...handle.dataset }, x: event.clientX, y: event.clientY, scale: handle.ownerSVGElement.getScreenCTM().a };
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  if (held.data.points) {
    const by = [(event.clientX - held.x) / Number(held.data.xPer), (event.clientY - held.y) / Number(held.data.yPer)].map((one) => one / held.scale);
    putPoint(held.data.points, Number(held.data.index), [Number(held.data.xValue) + by[0], Number(held.data.yValue) + by[1]]);
    return;
  }
  for (const way of ["x", "y"]) {
    const name = held.data[way];
    if (!name) continue;
    const moved = (way === "x" ? event.clientX - held.x : event.clientY - held.y) / held.scale;
    put(name, Math.max(Number(held.data[`${way}Value`]) + moved / Number(held.data[`${way}Per`]), 0));
  }
});
document.addEventListener("pointerup", () => { held = null; });
document.addEventListener("pointercancel", () => { held = null; });

const WAYS = { ArrowLeft: ["x", -1], ArrowRight: ["x", 1], ArrowUp: ["y", -1], ArrowDown: ["y", 1] };
document.addEventListener("keydown", (event) => {
  const handle = event.target.closest?.("[data-handle]");
  const way = WAYS[event.key];
  if (handle && way && handle.dataset.points) {
    event.preventDefault();
    focused = handle.dataset.handle;
    const now = [Number(handle.dataset.xValue), Number(handle.dataset.yValue)], at = way[0] === "x" ? 0 : 1;
    now[at] *= 1 + 0.05 * (at ? -way[1] : way[1]);
    putPoint(handle.dataset.points, Number(handle.dataset.index), now);
    return;
  }
  if (!handle || !way || !handle.dataset[way[0]]) return;
  event.preventDefault();
  const unit = document.body.dataset.units === "us" ? "in" : "mm";
  const slider = field(handle.dataset[way[0]]);
  const step = slider?.type === "range" ? Number(slider.step) : STEP[unit];
  const per = Number(handle.dataset[`${way[0]}Per`]);
  focused = handle.dataset.handle;
  put(handle.dataset[way[0]], Math.max(Number(handle.dataset[`${way[0]}Value`]) + way[1] * Math.sign(per) * step, 0));
});
document.addEventListener("htmx:afterSwap", () => {
  if (focused) document.querySelector(`[data-handle="${focused}"]`)?.focus();
});
document.addEventListener("focusin", (event) => { if (!event.target.closest?.("[data-handle]")) focused = ""; });
document.addEventListener("click", (event) => { if (event.target.closest?.("[data-print]")) window.print(); });

// A field that another way asks for is put away; its text stays.
document.addEventListener("input", (event) => {
  event.target.closest?.("#bench-form .field")?.querySelector(".from-job")?.remove(); // it is their own figure now
  if (!event.target.matches?.("#bench-form select")) return;
  for (const one of document.querySelectorAll("#bench-form [data-only]")) {
    const [name, ...answers] = one.dataset.only.split(" ");
    if (name === event.target.name) one.hidden = !answers.includes(event.target.value);
  }
});

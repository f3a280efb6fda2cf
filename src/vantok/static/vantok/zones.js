// The zones on the floor plan: picked, then dragged by an edge or as a whole; the form's fields follow, and the drawing follows the fields.
const svg = () => document.querySelector("svg[data-zones]");
const field = (n, name) => document.querySelector(`[data-zone-row="${n}"] [name$="${n}-${name}"]`);
function metres(input) { // of a plain figure or inches with a fraction; anything else stands as it is until it is saved
  const [, sign, whole, top, under] = input.value.trim().match(/^([-−]?)(\d*\.?\d+)?(?:\s*(\d+)\/(\d+))?$/) || [];
  if (whole === undefined && top === undefined) return NaN;
  return (sign ? -1 : 1) * (Number(whole || 0) + (top ? Number(top) / Number(under) : 0)) * (input.dataset.unit === "in" ? 0.0254 : 0.001);
}
const told = (input, m) => (input.dataset.unit === "in" ? (m / 0.0254).toFixed(1) : String(Math.round(m * 1000)));
const EDGES = ["start", "end", "left", "right"];
let held = null;

function pick(n) {
  for (const zone of svg().querySelectorAll("[data-zone]")) zone.classList.toggle("picked", zone.dataset.zone === String(n));
  const zone = svg().querySelector(`[data-zone="${n}"]`);
  if (zone) zone.parentNode.append(zone); // the picked one lies on top
}

function draw(n) {
  const zone = svg().querySelector(`[data-zone="${n}"]`), at = EDGES.map((name) => metres(field(n, name)));
  if (!zone || at.some(Number.isNaN) || at[1] <= at[0] || at[2] <= at[3]) return;
  const { scale, left, middle } = svg().dataset, [k, x, y] = [scale, left, middle].map(Number);
  const [x0, x1, y0, y1] = [x + at[0] * k, x + at[1] * k, y + at[3] * k, y + at[2] * k];
  const put = (node, facts) => { for (const [name, value] of Object.entries(facts)) node.setAttribute(name, value.toFixed(1)); };
  put(zone.querySelector("rect"), { x: x0, y: y0, width: x1 - x0, height: y1 - y0 });
  put(zone.querySelector("text"), { x: x0 + 10, y: y0 + 24 });
  const ends = { start: [x0, (y0 + y1) / 2], end: [x1, (y0 + y1) / 2], right: [(x0 + x1) / 2, y0], left: [(x0 + x1) / 2, y1] };
  for (const knob of zone.querySelectorAll("[data-edge]")) put(knob, { cx: ends[knob.dataset.edge][0], cy: ends[knob.dataset.edge][1] });
}

document.addEventListener("pointerdown", (event) => {
  const zone = event.target.closest ? event.target.closest("svg[data-zones] [data-zone]") : null;
  if (!zone || event.button > 0) return;
  const n = zone.dataset.zone, edge = event.target.dataset.edge, from = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg().getScreenCTM().inverse());
  if (!zone.classList.contains("picked")) { pick(n); return; }
  event.preventDefault();
  held = { n, edges: edge ? [edge] : EDGES, from, at: Object.fromEntries(EDGES.map((name) => [name, metres(field(n, name))])) };
});
document.addEventListener("pointermove", (event) => {
  if (!held || Object.values(held.at).some(Number.isNaN)) return;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg().getScreenCTM().inverse()), scale = Number(svg().dataset.scale);
  const along = Math.round((at.x - held.from.x) / scale * 100) / 100, across = Math.round((at.y - held.from.y) / scale * 100) / 100;
  for (const name of held.edges) field(held.n, name).value = told(field(held.n, name), held.at[name] + (name === "start" || name === "end" ? along : across));
  draw(held.n);
});
document.addEventListener("pointerup", () => {
  if (!held) return;
  field(held.n, held.edges[0]).dispatchEvent(new Event("input", { bubbles: true }));
  held = null;
});
document.addEventListener("focusin", (event) => { const row = event.target.closest("[data-zone-row]"); if (row && svg()) pick(row.dataset.zoneRow); });
document.addEventListener("input", (event) => { const row = event.target.closest("[data-zone-row]"); if (row && svg()) draw(row.dataset.zoneRow); });

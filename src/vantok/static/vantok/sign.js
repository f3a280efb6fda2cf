// The pad: a finger's or a pen's strokes, drawn as they go and sent as whole numbers of the pad's own measure. A page that comes in anew has a pad anew.
const MOST = 400; // points of a stroke; a longer one goes on as another
const drawn = new WeakMap(); // the strokes of a pad

const padOf = (event) => event.target.closest?.("[data-pad] svg");
function at(svg, event) {
  const box = svg.getBoundingClientRect(), { width, height } = svg.viewBox.baseVal;
  const [x, y] = [((event.clientX - box.left) / box.width) * width, ((event.clientY - box.top) / box.height) * height];
  return [Math.min(Math.max(Math.round(x), 0), width), Math.min(Math.max(Math.round(y), 0), height)];
}
function begin(svg, point) {
  drawn.set(svg, [...(drawn.get(svg) || []), []]);
  svg.append(document.createElementNS("http://www.w3.org/2000/svg", "polyline"));
  add(svg, point);
}
function add(svg, point) {
  const stroke = drawn.get(svg).at(-1);
  if (stroke.length >= MOST) return begin(svg, point);
  stroke.push(point);
  svg.lastElementChild.setAttribute("points", [...stroke, point].map((p) => p.join(",")).join(" "));
}
function send(svg, value) {
  const field = svg.parentElement.querySelector("input");
  field.value = value;
  field.dispatchEvent(new Event("input", { bubbles: true }));
}
document.addEventListener("pointerdown", (event) => {
  const svg = padOf(event);
  if (!svg) return;
  svg.setPointerCapture(event.pointerId);
  begin(svg, at(svg, event));
});
document.addEventListener("pointermove", (event) => {
  const svg = padOf(event);
  if (svg?.hasPointerCapture(event.pointerId)) add(svg, at(svg, event));
});
document.addEventListener("pointerup", (event) => {
  const svg = padOf(event);
  if (svg && drawn.has(svg)) send(svg, JSON.stringify(drawn.get(svg)));
});
document.addEventListener("click", (event) => {
  const svg = event.target.closest("[data-pad-clear]")?.closest("form").querySelector("[data-pad] svg");
  if (!svg) return;
  drawn.delete(svg);
  svg.replaceChildren();
  send(svg, "");
});

// The floor plan: an item dragged by hand or nudged by the arrow keys; loads and limits follow; put down, it is stored.
import { drop, keep, place, post, release, refuse, signInAgain } from "./send.js";

const PARTS = ["loads", "stance", "verdict", "next-step", "floor", "items"];
let held = null, settle = 0;
const planOf = (item) => item.closest("svg[data-plan]");
const onPlan = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
const within = (value, low, high) => Math.min(Math.max(value, low), high);
const placed = (item) => [["item", item.dataset.item], ["station", item.dataset.station], ["lateral", item.dataset.lateral]];
const putting = (item) => {
  const data = [...placed(item), ["seen", item.dataset.seen]];
  item.dataset.seen = `${Number(item.dataset.station).toFixed(2)} ${Number(item.dataset.lateral).toFixed(2)}`; // what the next one has seen
  return data;
};
const where = (item) => item.closest("[data-place]").dataset.place;

function putAt(item, station, lateral) {
  const svg = planOf(item).dataset, scale = Number(svg.scale), half = Number(svg.half) + 0.1;
  const s = within(station, Number(svg.first), Number(svg.last)), y = within(lateral, -half, half);
  const [x0, y0] = item.getAttribute("transform").match(/-?[\d.]+/g).map(Number);
  const x = x0 + (s - Number(item.dataset.station)) * scale, top = y0 + (y - Number(item.dataset.lateral)) * scale;
  item.setAttribute("transform", `translate(${x.toFixed(1)} ${top.toFixed(1)})`);
  item.dataset.station = s.toFixed(3);
  item.dataset.lateral = y.toFixed(3);
}

// One question at a time: the place it has when the last answer is in is the one asked about next.
let asking = false, askAgain = null;
async function follow(item) {
  if (asking) { askAgain = item; return; }
  asking = true;
  try {
    const url = new URL(where(item), location.href);
    for (const [k, v] of placed(item)) url.searchParams.set(k, v);
    const answer = await fetch(url, { headers: { "HX-Request": "true" } });
    if (answer.headers.get("X-Vantok-Sign-In")) signInAgain();
    else if (answer.ok && document.contains(item)) place(await answer.text(), PARTS);
  } catch (error) {
    if (!(error instanceof TypeError)) throw error; // no connection: the item still moves, and waits when it is put down
  } finally {
    asking = false;
    const next = askAgain;
    askAgain = null;
    if (next && document.contains(next)) follow(next);
  }
}

async function putDown(item) {
  askAgain = null;
  item.classList.add("put");
  const data = putting(item), url = where(item);
  const entry = keep({ url, data, title: item.getAttribute("aria-label"), hold: true });
  const answer = await post(url, data, entry.token);
  if (answer.state === "stored") { drop(entry.token); place(answer.html, PARTS); again(item.id); }
  else if (answer.state === "refused") refuse(entry.token, answer.said);
  else { if (answer.state === "signin") signInAgain(); item.classList.add("waiting"); release(entry.token); }
}
const again = (id) => { const item = document.getElementById(id); if (item && document.activeElement === document.body) item.focus(); };

document.addEventListener("pointerdown", (event) => {
  const item = event.target.closest(".plan-item");
  if (!item || event.button > 0) return;
  const from = onPlan(planOf(item), event);
  held = { item, from, station: Number(item.dataset.station), lateral: Number(item.dataset.lateral), moved: false };
  item.setPointerCapture(event.pointerId);
  item.classList.add("held");
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  const at = onPlan(planOf(held.item), event), scale = Number(planOf(held.item).dataset.scale);
  if (!held.moved && Math.hypot(at.x - held.from.x, at.y - held.from.y) < 6) return;
  held.moved = true;
  putAt(held.item, held.station + (at.x - held.from.x) / scale, held.lateral + (at.y - held.from.y) / scale);
  follow(held.item);
});
document.addEventListener("pointerup", () => {
  if (!held) return;
  const { item, moved } = held;
  held = null;
  item.classList.remove("held");
  if (moved) putDown(item); else pick(item);
});
const pick = (item) => {
  const link = [...document.querySelectorAll("#items a")].find((a) => new URL(a.href).searchParams.get("item") === item.dataset.item);
  if (link) link.click();
};

document.addEventListener("keydown", (event) => {
  const item = event.target.closest ? event.target.closest(".plan-item") : null;
  if (!item) return;
  const step = event.shiftKey ? 0.25 : 0.05;
  const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
  if (event.key === "Enter" || event.key === " ") { event.preventDefault(); pick(item); return; }
  if (!way) return;
  event.preventDefault();
  putAt(item, Number(item.dataset.station) + way[0], Number(item.dataset.lateral) + way[1]);
  item.dataset.nudged = "1";
  follow(item);
  clearTimeout(settle);
  settle = setTimeout(() => { delete item.dataset.nudged; putDown(item); }, 700);
});
// Left while an item is still being nudged: where it stands is kept.
export function leavePlan() {
  clearTimeout(settle);
  for (const item of document.querySelectorAll(".plan-item[data-nudged]")) {
    delete item.dataset.nudged;
    keep({ url: where(item), data: putting(item), title: item.getAttribute("aria-label") });
  }
}
window.addEventListener("pagehide", leavePlan);

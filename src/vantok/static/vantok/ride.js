// A ride on one clock: each configuration from the side and from behind over the same road, its traces below, one cursor through all of it.
// Stands alone: the page sent to a customer carries this file as it is.
const INK = "#14251d", PAPER = "#f7f2e6", LINE = "#b9b39f", TAPE = "#f5c518", LIMIT = "#b3261e", MUTED = "#55645b";
const COLOURS = [INK, "#3c6f2c", "#8a5a00", "#1f5f8b"], DASHES = [[], [8, 4], [3, 3], [10, 3, 2, 3]];
const TRACES = { seat: "at the seat", rear: "rear, up", gap: "left to the rear stops", tyre: "least tyre load", roll: "lean" };
const UNITS = {
  metric: { acceleration: [1, "m/s²", 1], length: [1000, "mm", 0], force: [1, "N", 0], angle: [180 / Math.PI, "°", 1] },
  us: { acceleration: [1 / 0.3048, "ft/s²", 1], length: [1 / 0.0254, "in", 2], force: [1 / 4.4482216, "lbf", 0], angle: [180 / Math.PI, "°", 1] },
};

function unpack(told) {
  const text = atob(told.data), found = new Float32Array(text.length / 2);
  for (let n = 0; n < found.length; n += 1) {
    const whole = text.charCodeAt(2 * n) | (text.charCodeAt(2 * n + 1) << 8);
    found[n] = (whole > 32767 ? whole - 65536 : whole) * told.scale;
  }
  return found;
}
const between = (values, place) => {
  const last = values.length - 1, at = Math.min(Math.max(place, 0), last), low = Math.min(Math.floor(at), last - 1);
  return last < 1 ? values[0] : values[low] + (at - low) * (values[low + 1] - values[low]);
};

export function ride(root, film) {
  const shown = film.shown.map((one) => ({
    ...one, places: one.places.map(unpack),
    traces: Object.fromEntries(Object.entries(one.traces).map(([name, told]) => [name, { kind: told.kind, values: unpack(told) }])),
  }));
  const road = { ...film.road, left: unpack(film.road.left), right: unpack(film.road.right) };
  const count = shown[0].places[0].length, end = (count - 1) * film.every;
  const units = UNITS[root.dataset.units] || UNITS.metric;
  const view = root.querySelector("[data-view]"), curves = root.querySelector("[data-curves]"), stage = root.querySelector("[data-stage]");
  const play = root.querySelector("[data-play]"), slow = root.querySelector("[data-slow]"), more = root.querySelector("[data-more]"), clock = root.querySelector("[data-clock]");
  let time = moment(), playing = false, before = 0, asked = 0, frames = 0, began = 0;

  // Where the most happens: the pictures begin there, so that a page at rest shows something.
  function moment() {
    let best = 0, most = 0;
    for (const one of shown) one.traces.rear.values.forEach((v, n) => { if (Math.abs(v - one.traces.rear.values[0]) > most) { most = Math.abs(v - one.traces.rear.values[0]); best = n; } });
    return best * film.every;
  }
  const size = (canvas, tall) => {
    const wide = canvas.clientWidth, scale = window.devicePixelRatio || 1;
    if (canvas.width !== Math.round(wide * scale) || canvas.height !== Math.round(tall * scale)) { canvas.width = Math.round(wide * scale); canvas.height = Math.round(tall * scale); canvas.style.height = `${tall}px`; }
    const pen = canvas.getContext("2d");
    pen.setTransform(scale, 0, 0, scale, 0, 0);
    pen.clearRect(0, 0, wide, tall);
    return [pen, wide];
  };
  const times = () => Number(more ? more.value : 2);
  const rise = (side, along) => between(road[side], (along - road.from) / road.step);

  function body(one, at) {
    const [q, theta, phi, ...wheels] = one.places.map((values) => between(values, at));
    const still = (s) => one.stands[0] + (one.stands[1] - one.stands[0]) * (s / film.base);
    return { wheels, phi, low: (s, y) => still(s) + q + (s - one.centre[0]) * theta - (y - one.centre[1]) * phi };
  }
  function fromSide(pen, one, n, left, top, wide, tall) {
    const stations = film.body.map((p) => p[0]), nose = Math.min(...stations) - 0.6, tail = Math.max(...stations) + 0.6;
    const scale = Math.min(wide / (tail - nose), (tall - 26) / (film.roof + 0.12)), ground = top + tall - 24, x = (s) => left + (wide - (tail - nose) * scale) / 2 + (s - nose) * scale;
    const at = time / film.every, now = body(one, at), e = times(), y = (z, s) => ground - scale * (z - e * now.low(s, 0));
    pen.strokeStyle = LINE; pen.lineWidth = 3; pen.fillStyle = "#e9e2cf"; pen.beginPath();
    pen.moveTo(left, top + tall);
    for (let px = 0; px <= wide; px += 3) { const s = nose + (px - (wide - (tail - nose) * scale) / 2) / scale; pen.lineTo(left + px, ground - scale * e * rise("left", film.speed * time - s)); }
    pen.lineTo(left + wide, top + tall); pen.closePath(); pen.fill(); pen.stroke();
    pen.lineWidth = 2.5; pen.strokeStyle = COLOURS[n]; pen.fillStyle = "#fffdf6"; pen.beginPath();
    film.body.forEach(([s, z], k) => (k ? pen.lineTo(x(s), y(z, s)) : pen.moveTo(x(s), y(z, s))));
    pen.closePath(); pen.fill(); pen.stroke();
    pen.fillStyle = "#dfe7e2"; pen.lineWidth = 1.2;
    for (const pane of film.windows) { pen.beginPath(); pane.forEach(([s, z], k) => (k ? pen.lineTo(x(s), y(z, s)) : pen.moveTo(x(s), y(z, s)))); pen.closePath(); pen.fill(); pen.stroke(); }
    [[0, 0], [2, film.base]].forEach(([wheel, s]) => {
      const cy = ground - scale * (film.wheel - e * now.wheels[wheel]);
      pen.fillStyle = PAPER; pen.strokeStyle = INK; pen.lineWidth = 4; pen.beginPath(); pen.arc(x(s), cy, film.wheel * scale, 0, 7); pen.fill(); pen.stroke();
      pen.beginPath(); pen.arc(x(s), cy, 3, 0, 7); pen.fillStyle = INK; pen.fill();
    });
    const gap = one.traces.gap && between(one.traces.gap.values, at);
    if (gap !== undefined && gap <= 0) { pen.fillStyle = LIMIT; pen.beginPath(); pen.arc(x(film.base), y(film.wheel * 2 + 0.12, film.base), 8, 0, 7); pen.fill(); pen.font = "600 15px 'Barlow Condensed', sans-serif"; pen.textAlign = "center"; pen.fillText("on its stops", x(film.base), y(film.wheel * 2 + 0.3, film.base)); }
    pen.textAlign = "left"; pen.font = "600 17px 'Barlow Condensed', sans-serif"; pen.fillStyle = COLOURS[n]; pen.fillText(one.words, left + 8, top + 16);
  }
  function fromBehind(pen, one, n, left, top, wide, tall) {
    const scale = Math.min(wide / (film.width + 0.9), (tall - 26) / (film.roof + 0.12)), ground = top + tall - 24, middle = left + wide / 2, at = time / film.every, e = times(), now = body(one, at);
    const low = (y) => e * now.low(film.base, y), x = (y) => middle - y * scale, half = film.width / 2; // from behind: left is left
    pen.fillStyle = "#e9e2cf"; pen.strokeStyle = LINE; pen.lineWidth = 3;
    [["left", 1], ["right", -1]].forEach(([side, way]) => {
      const height = ground - scale * e * rise(side, film.speed * time - film.base), from = x(way * film.tracks[1] * 0.5 + 0.35), to = x(way * film.tracks[1] * 0.5 - 0.35);
      pen.beginPath(); pen.rect(from, height, to - from, top + tall - height); pen.fill(); pen.stroke();
    });
    [[2, 1], [3, -1]].forEach(([wheel, way]) => {
      const cy = ground - scale * (film.wheel - e * now.wheels[wheel]), cx = x(way * film.tracks[1] * 0.5);
      pen.fillStyle = INK; pen.fillRect(cx - 0.11 * scale, cy - film.wheel * scale, 0.22 * scale, 2 * film.wheel * scale);
    });
    pen.fillStyle = "#fffdf6"; pen.strokeStyle = COLOURS[n]; pen.lineWidth = 2.5; pen.beginPath();
    [[half, 0.6], [half, film.roof * 0.96], [half * 0.92, film.roof], [-half * 0.92, film.roof], [-half, film.roof * 0.96], [-half, 0.6]].forEach(([y, z], k) => { const py = ground - scale * (z - low(y)); if (k) pen.lineTo(x(y), py); else pen.moveTo(x(y), py); });
    pen.closePath(); pen.fill(); pen.stroke();
  }
  function drawn() {
    const narrow = view.clientWidth < 640, tall = narrow ? 140 : 172 - 14 * Math.max(shown.length - 2, 0), [pen, wide] = size(view, tall * shown.length);
    shown.forEach((one, n) => { const share = narrow ? wide : wide * 0.72; fromSide(pen, one, n, 0, n * tall, share, tall); if (!narrow) fromBehind(pen, one, n, share, n * tall, wide - share, tall); });
  }
  const names = Object.keys(TRACES).filter((name) => shown.some((one) => one.traces[name]));
  const each = 74, from = 132;
  const spans = names.map((name) => {
    const told = shown.map((one) => one.traces[name]), all = told.filter(Boolean).flatMap((one) => [...one.values]);
    return { name, told, least: Math.min(0, ...all), most: Math.max(0, ...all) || 1, unit: units[told.find(Boolean).kind] };
  });
  const drawnCurves = document.createElement("canvas");
  // The curves themselves change only with the page's width: they are drawn once, and each picture lays them down whole.
  function curvesOf(wide, scale) {
    if (drawnCurves.width === Math.round(wide * scale)) return;
    drawnCurves.width = Math.round(wide * scale); drawnCurves.height = Math.round(each * names.length * scale);
    const pen = drawnCurves.getContext("2d"), x = (t) => from + (wide - from - 8) * (t / end);
    pen.setTransform(scale, 0, 0, scale, 0, 0);
    spans.forEach(({ name, told, least, most }, row) => {
      const top = row * each, y = (v) => top + each - 10 - (each - 22) * ((v - least) / (most - least || 1));
      pen.strokeStyle = LINE; pen.lineWidth = 1; pen.setLineDash([]); pen.beginPath(); pen.moveTo(from, y(0)); pen.lineTo(wide - 8, y(0)); pen.stroke();
      pen.fillStyle = INK; pen.textAlign = "left"; pen.font = "600 15px 'Barlow Condensed', sans-serif"; pen.fillText(TRACES[name], 0, top + 18);
      told.forEach((one, n) => {
        if (!one) return;
        pen.strokeStyle = COLOURS[n]; pen.setLineDash(DASHES[n]); pen.lineWidth = 1.8; pen.beginPath();
        one.values.forEach((v, k) => (k ? pen.lineTo(x(k * film.every), y(v)) : pen.moveTo(x(0), y(v)))); pen.stroke();
      });
    });
  }
  function curved() {
    const [pen, wide] = size(curves, each * names.length), x = from + (wide - from - 8) * (time / end);
    curvesOf(wide, window.devicePixelRatio || 1);
    pen.drawImage(drawnCurves, 0, 0, wide, each * names.length);
    pen.font = "600 15px 'Barlow Condensed', sans-serif"; pen.textAlign = "left";
    spans.forEach(({ told, unit: [factor, unit, digits] }, row) => told.forEach((one, n) => {
      if (!one) return;
      pen.fillStyle = COLOURS[n]; pen.fillText(`${(between(one.values, time / film.every) * factor).toFixed(digits)} ${unit}`, 0, row * each + 34 + 15 * n);
    }));
    pen.strokeStyle = TAPE; pen.lineWidth = 3; pen.beginPath(); pen.moveTo(x, 0); pen.lineTo(x, each * names.length); pen.stroke();
  }
  function show() {
    drawn(); curved();
    clock.textContent = `${time.toFixed(2)} s`;
    stage.setAttribute("aria-valuenow", time.toFixed(2)); stage.setAttribute("aria-valuetext", `${time.toFixed(2)} seconds`);
  }
  const to = (t) => { time = Math.min(Math.max(t, 0), end); show(); };
  function turn(stamp) {
    if (!playing) return;
    const passed = before ? (stamp - before) / 1000 : 0;
    before = stamp; frames += 1;
    if (stamp - began >= 1000) { root.dataset.frames = String(Math.round((1000 * frames) / (stamp - began))); began = stamp; frames = 0; }
    time += passed * (slow.checked ? 0.25 : 1);
    if (time >= end) { time = end; set(false); }
    show();
    asked = requestAnimationFrame(turn);
  }
  function set(on) {
    playing = on; before = 0; frames = 0; began = performance.now();
    play.textContent = on ? "Pause" : "Play"; play.setAttribute("aria-pressed", String(on));
    cancelAnimationFrame(asked);
    if (on) { if (time >= end - 1e-6) time = 0; asked = requestAnimationFrame(turn); }
  }
  play.addEventListener("click", () => set(!playing));
  if (more) more.addEventListener("change", show);
  const keys = { ArrowRight: () => to(time + 0.05), ArrowLeft: () => to(time - 0.05), PageDown: () => to(time + 0.5), PageUp: () => to(time - 0.5), Home: () => to(0), End: () => to(end), " ": () => set(!playing) };
  stage.setAttribute("aria-valuemin", "0"); stage.setAttribute("aria-valuemax", end.toFixed(2));
  stage.addEventListener("keydown", (event) => { if (keys[event.key]) { event.preventDefault(); if (event.key !== " ") set(false); keys[event.key](); } });
  const drag = (canvas, at) => {
    canvas.addEventListener("pointerdown", (event) => { set(false); canvas.setPointerCapture(event.pointerId); at(event); });
    canvas.addEventListener("pointermove", (event) => { if (canvas.hasPointerCapture(event.pointerId)) at(event); });
  };
  drag(curves, (event) => to(end * ((event.offsetX - 132) / (curves.clientWidth - 140))));
  drag(view, (event) => to(end * (event.offsetX / view.clientWidth)));
  window.addEventListener("resize", show);
  show();
}

for (const root of document.querySelectorAll("[data-ride]")) {
  const told = root.querySelector("script[type='application/json']");
  if (told && told.textContent.trim() !== "{}") ride(root, JSON.parse(told.textContent));
}

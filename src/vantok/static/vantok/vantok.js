// Small helps over complete pages: walking the cells by Enter, entries that wait while the connection is down, sliders' figures.
"use strict";

(() => {
  const WAITING = "vantok-waiting";
  const cells = () => [...document.querySelectorAll("input[data-walk]")];
  const formOf = (element) => element.closest("form[data-cell]");

  // One name per entry, so that an entry sent twice counts once.
  const token = () => [...crypto.getRandomValues(new Uint8Array(12))].map((b) => b.toString(16).padStart(2, "0")).join("");

  function walk(input, step) {
    const all = cells();
    const next = all[all.indexOf(input) + step];
    if (next) { next.focus(); next.select(); } else { input.blur(); }
  }

  document.addEventListener("keydown", (event) => {
    const input = event.target.closest ? event.target.closest("input[data-walk]") : null;
    if (input && event.key === "Enter") {
      event.preventDefault();
      walk(input, event.shiftKey ? -1 : 1); // leaving the field is what saves it
      return;
    }
    if (input && event.key === "Escape") { input.value = input.defaultValue; input.select(); return; }
    if (event.target.closest && event.target.closest("input, textarea, select")) return;
    if (event.key === "?") { document.getElementById("keys").showModal(); }
    if (event.key === "[" || event.key === "]") {
      const stages = [...document.querySelectorAll(".stages a")];
      const here = stages.findIndex((a) => a.hasAttribute("aria-current"));
      const there = stages[here + (event.key === "]" ? 1 : -1)];
      if (here >= 0 && there) there.click();
    }
  });

  document.addEventListener("click", (event) => {
    const opener = event.target.closest("[data-open]");
    if (opener) document.getElementById(opener.dataset.open).showModal();
  });

  // --- the walk's chips: a sixteenth put behind the whole inches, or millimetres more or less ---------------
  document.addEventListener("click", (event) => {
    const chip = event.target.closest("[data-chip]");
    if (!chip) return;
    const input = document.getElementById("walk-in");
    const step = chip.dataset.chip;
    if (/^[+-]/.test(step)) {
      const shown = Number.parseFloat(input.value || input.placeholder.replace(/[^0-9.]/g, ""));
      if (!Number.isNaN(shown)) input.value = String(shown + Number(step));
    } else {
      const whole = (input.value.match(/\d+/) || [""])[0];
      input.value = `${whole} ${step}`.trim();
    }
    input.focus();
  });

  // --- the walk's figures for gloved fingers; a selection is typed over, as a keyboard would ----------------
  document.addEventListener("click", (event) => {
    const key = event.target.closest("[data-digit]");
    if (!key) return;
    const input = document.getElementById("walk-in");
    const [from, to] = [input.selectionStart, input.selectionEnd];
    if (key.dataset.digit === "back") input.setRangeText("", from === to ? Math.max(from - 1, 0) : from, to, "end");
    else input.setRangeText(key.dataset.digit, from, to, "end");
    input.focus();
  });

  // --- the walk on a slow line: what is typed before the next stop appears belongs to that stop -------------
  const stop = () => (document.getElementById("walk-title") || {}).textContent;
  let leaving = null;
  document.addEventListener("htmx:beforeRequest", (event) => {
    if (!event.detail.elt.closest("[data-walk-form]")) return;
    const input = document.getElementById("walk-in");
    leaving = { from: stop(), sent: input.value };
    input.select(); // the next figure is typed over the one on its way
  });
  document.addEventListener("htmx:beforeSwap", () => {
    if (leaving) leaving.typed = document.getElementById("walk-in").value;
  });
  document.addEventListener("htmx:afterSwap", () => {
    const input = document.getElementById("walk-in");
    if (!input || !leaving || leaving.typed === undefined) return;
    input.focus();
    if (leaving.typed !== leaving.sent && stop() !== leaving.from) input.value = leaving.typed;
    leaving = null;
  });

  // --- the floor plan: an item dragged by hand or nudged by the arrow keys; loads and limits follow -----------
  let held = null;
  const planOf = (item) => item.closest("svg[data-plan]");
  const onPlan = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const within = (value, low, high) => Math.min(Math.max(value, low), high);

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
      await htmx.ajax("GET", item.closest("[data-place]").dataset.place, { target: "#loads", swap: "outerHTML", values: placed(item) }).catch(unheard);
    } finally {
      asking = false;
      const next = askAgain;
      askAgain = null;
      if (next && document.contains(next)) follow(next);
    }
  }
  const unheard = (reason) => { if (reason) throw reason; }; // no answer: htmx:sendError has said so already
  const placed = (item) => ({ item: item.dataset.item, station: item.dataset.station, lateral: item.dataset.lateral });

  async function putDown(item) {
    askAgain = null;
    const url = item.closest("[data-place]").dataset.place;
    item.classList.add("put");
    await htmx.ajax("POST", url, { source: item, target: "#loads", swap: "outerHTML", values: placed(item) }).catch(unheard);
  }

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

  let settle = 0;
  document.addEventListener("keydown", (event) => {
    const item = event.target.closest ? event.target.closest(".plan-item") : null;
    if (!item) return;
    const step = event.shiftKey ? 0.25 : 0.05;
    const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
    if (event.key === "Enter" || event.key === " ") { event.preventDefault(); pick(item); return; }
    if (!way) return;
    event.preventDefault();
    putAt(item, Number(item.dataset.station) + way[0], Number(item.dataset.lateral) + way[1]);
    follow(item);
    clearTimeout(settle);
    settle = setTimeout(() => putDown(item), 700);
  });

  // --- entries waiting for the connection -------------------------------------------------------------
  const load = () => JSON.parse(localStorage.getItem(WAITING) || "[]");
  const store = (list) => localStorage.setItem(WAITING, JSON.stringify(list));

  function sayWaiting() {
    const list = load(), waiting = list.filter((entry) => !entry.refused).length;
    const said = document.getElementById("offline");
    said.hidden = list.length === 0;
    said.replaceChildren();
    if (waiting) said.append(`No connection. ${waiting} ${waiting === 1 ? "entry waits" : "entries wait"} in this browser and will be sent when it returns.`);
    for (const entry of list.filter((e) => e.refused)) {
      const line = document.createElement("p"), button = document.createElement("button");
      line.textContent = `Not taken: ${entry.title || "entry"} “${entry.data.text ?? ""}”. ${entry.refused} `;
      button.textContent = "Forget it";
      button.className = "btn btn-plain btn-small";
      button.addEventListener("click", () => { store(load().filter((e) => e.data.token !== entry.data.token)); sayWaiting(); });
      line.append(button);
      said.append(line);
    }
  }

  document.addEventListener("htmx:configRequest", (event) => {
    if (formOf(event.detail.elt) || event.detail.elt.closest("[data-walk-form]")) event.detail.parameters.set("token", token());
  });

  // An answer never overwrites what was typed into its cell meanwhile: it only says which reading now stands there.
  document.addEventListener("htmx:beforeSwap", (event) => {
    const form = formOf(event.detail.requestConfig.elt);
    const input = form && form.querySelector("[data-walk]");
    if (event.detail.requestConfig.verb !== "post" || !input || input.value.trim() === String(event.detail.requestConfig.formData.get("text") || "").trim()) return;
    const answer = new DOMParser().parseFromString(event.detail.serverResponse, "text/html");
    const seen = answer.querySelector(`#${form.id} [name=seen]`);
    if (seen) form.querySelector("[name=seen]").value = seen.value;
    event.detail.shouldSwap = false;
  });

  // What others wrote appears in the sheet, but never over what a hand has begun to type.
  document.addEventListener("htmx:oobBeforeSwap", (event) => {
    const input = event.detail.target.querySelector && event.detail.target.querySelector("[data-walk]");
    if (input && (input.value !== input.defaultValue || event.detail.target.classList.contains("waiting"))) event.detail.shouldSwap = false;
  });

  document.addEventListener("htmx:sendError", (event) => {
    const { elt, requestConfig } = event.detail;
    const walking = elt.closest && elt.closest("[data-walk-form]");
    const form = formOf(elt) || walking;
    const item = elt.closest ? elt.closest(".plan-item") : null;
    if (!form && !(item && requestConfig.verb === "post")) return;
    const data = Object.fromEntries(requestConfig.formData);
    delete data.csrfmiddlewaretoken;
    if (data.same) data.text = data.same;
    if (walking && !String(data.text || "").trim()) return;
    const url = walking ? walking.dataset.url : form ? form.action : requestConfig.path;
    const id = walking ? `walk ${url}` : (form || item).id;
    const title = walking ? document.getElementById("walk-title").textContent : form ? form.querySelector("label").textContent : item.getAttribute("aria-label");
    store([...load().filter((entry) => entry.id !== id || entry.url !== url), { url, id, title, data }]);
    leaving = null;
    if (walking) walkOn(walking, data.text); else (form || item).classList.add("waiting");
    sayWaiting();
  });

  // Without a connection the walk goes on in this page: the next stop's cell takes the field's place.
  function walkOn(form, text) {
    const stops = [...document.querySelectorAll("[data-stop]")];
    const here = stops.findIndex((stop) => stop.dataset.stop === form.dataset.url);
    stops[here].querySelector("b").textContent = `${text} (waits)`;
    const next = stops[Math.min(here + 1, stops.length - 1)];
    form.dataset.url = next.dataset.stop;
    form.querySelector("[name=seen]").value = next.dataset.seen;
    document.getElementById("walk-title").textContent = next.dataset.title;
    document.getElementById("walk-label").textContent = next.dataset.title.replace(" · ", ", ");
    document.getElementById("walk-count").textContent = "no connection: entries wait";
    for (const name of ["text", "lifted", "note"]) form.querySelector(`[name=${name}]`).value = "";
    const input = document.getElementById("walk-in");
    input.placeholder = "";
    input.focus();
  }

  let sending = false;
  async function sendWaiting() {
    if (sending || !load().some((entry) => !entry.refused)) return;
    sending = true;
    let sent = 0;
    const csrf = JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];
    try {
      for (let next = load().find((e) => !e.refused); next; next = load().find((e) => !e.refused)) {
        const answer = await fetch(next.url, { method: "POST", body: new URLSearchParams(next.data), headers: { "X-CSRFToken": csrf, "HX-Request": "true" } });
        const cell = document.getElementById(next.id);
        if (answer.headers.get("X-Vantok-Refused")) {
          const page = new DOMParser().parseFromString(await answer.text(), "text/html");
          const why = page.querySelector(".cell-say .error");
          store(load().map((e) => (e.data.token === next.data.token ? { ...e, refused: why ? why.textContent : "It does not read." } : e)));
        } else if (!answer.ok) {
          break;
        } else {
          store(load().filter((e) => e !== next && (e.url !== next.url || e.id !== next.id)));
        }
        sent += 1;
        if (cell && cell.matches("form")) htmx.ajax("GET", next.url, { target: cell, swap: "outerHTML" });
        if (cell && cell.matches(".plan-item")) cell.classList.remove("waiting");
      }
    } catch (error) {
      if (!(error instanceof TypeError)) throw error; // a TypeError is fetch's word for no connection: keep waiting
    } finally {
      sending = false;
      sayWaiting();
      if (sent && document.querySelector("[data-walk-form]")) htmx.ajax("GET", location.href, { target: "#main", select: "#main", swap: "outerHTML" });
    }
  }
  window.addEventListener("online", sendWaiting);
  setInterval(sendWaiting, 4000);

  // --- a figure leads to its working, which may be folded away --------------------------------------------
  function unfold() {
    const target = location.hash.startsWith("#w-") && document.getElementById(location.hash.slice(1));
    if (!target) return;
    const folded = target.closest("details");
    if (folded) folded.open = true;
    target.scrollIntoView({ block: "center" });
    target.focus({ preventScroll: true });
  }
  window.addEventListener("hashchange", unfold);

  // --- sliders show their value in the reader's units ---------------------------------------------------
  function outputs() {
    const us = document.body.dataset.units === "us";
    for (const out of document.querySelectorAll("output[for]")) {
      const value = Number(document.getElementById(out.htmlFor[0] || out.getAttribute("for")).value);
      if ("pressure" in out.dataset) out.textContent = us ? `${Math.round(value / 6894.757)} psi` : `${(value / 1e5).toFixed(2)} bar`;
      if ("length" in out.dataset) out.textContent = us ? `${(value / 0.0254).toFixed(2)} in` : `${Math.round(value * 1000)} mm`;
    }
  }
  document.addEventListener("change", (event) => {
    if (event.target.closest("[data-auto]")) event.target.form.requestSubmit();
  });
  document.addEventListener("input", outputs);
  document.addEventListener("DOMContentLoaded", () => { unfold(); outputs(); sayWaiting(); sendWaiting(); });
})();

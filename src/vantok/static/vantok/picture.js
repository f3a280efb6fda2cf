// A photograph of a wheel with four marks, dragged or moved by keys; only where the marks lie goes to the server, never the picture.
const form = document.querySelector("[data-picture]");
if (form) {
  const svg = form.querySelector("svg.picture"), image = svg.querySelector("image");
  const PLACES = { arch: [0.5, 0.2], hub: [0.5, 0.6], edge_1: [0.25, 0.6], edge_2: [0.75, 0.6] };
  let url = "", held = null;
  const put = (mark, x, y) => {
    const box = svg.viewBox.baseVal, at = [Math.max(0, Math.min(box.width, x)), Math.max(0, Math.min(box.height, y))];
    mark.setAttribute("transform", `translate(${at[0].toFixed(1)} ${at[1].toFixed(1)})`);
    mark.dataset.at = at.join(",");
    form.querySelector(`input[name=${mark.dataset.mark}]`).value = at.map((one) => one.toFixed(1)).join(",");
  };
  form.querySelector("input[type=file]").addEventListener("change", (event) => {
    const file = event.target.files[0];
    if (url) URL.revokeObjectURL(url);
    url = file ? URL.createObjectURL(file) : "";
    const picture = new Image();
    picture.onload = () => {
      const wide = picture.naturalWidth, tall = picture.naturalHeight;
      svg.setAttribute("viewBox", `0 0 ${wide} ${tall}`);
      image.setAttribute("width", wide);
      image.setAttribute("height", tall);
      image.setAttribute("href", url);
      svg.removeAttribute("hidden");
      for (const mark of svg.querySelectorAll(".mark")) {
        const [x, y] = PLACES[mark.dataset.mark];
        put(mark, x * wide, y * tall);
        for (const part of mark.children) part.setAttribute("transform", `scale(${wide / 800})`);
      }
    };
    if (url) picture.src = url;
  });
  const at = (event) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return [point.x, point.y];
  };
  svg.addEventListener("pointerdown", (event) => {
    const mark = event.target.closest(".mark");
    if (!mark) return;
    event.preventDefault();
    mark.focus();
    const now = mark.dataset.at.split(",").map(Number), [x, y] = at(event);
    held = { mark, off: [now[0] - x, now[1] - y] };
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const [x, y] = at(event);
    put(held.mark, x + held.off[0], y + held.off[1]);
  });
  document.addEventListener("pointerup", () => { held = null; });
  document.addEventListener("pointercancel", () => { held = null; });
  svg.addEventListener("keydown", (event) => {
    const mark = event.target.closest(".mark"), way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (!mark || !way) return;
    event.preventDefault();
    const now = mark.dataset.at.split(",").map(Number), step = event.shiftKey ? 10 : 1;
    put(mark, now[0] + step * way[0], now[1] + step * way[1]);
  });
  window.addEventListener("pagehide", () => { if (url) URL.revokeObjectURL(url); });
}

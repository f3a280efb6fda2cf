// Two films (or pictures) of the customer's, side by side from a common start; they never leave the device.
const MOST = 500 * 1024 * 1024;
const bench = document.querySelector("[data-films]");
if (bench) {
  const films = [...bench.querySelectorAll("[data-film]")].map((box) => ({ box, video: box.querySelector("video"), image: box.querySelector("img"), start: 0, url: "" }));
  const play = bench.querySelector("[data-play]"), slow = bench.querySelector("[data-slow]");
  const say = (film, words) => {
    const line = film.box.querySelector(".error");
    line.textContent = words;
    line.hidden = !words;
  };
  const told = (film) => {
    film.box.querySelector("[data-at]").textContent = `at ${film.video.currentTime.toFixed(2)} s, starts at ${film.start.toFixed(2)} s`;
  };
  const ready = () => {
    const moving = films.filter((film) => !film.video.hidden);
    play.disabled = slow.disabled = !moving.length;
    return moving;
  };
  const take = (film, file) => {
    if (film.url) URL.revokeObjectURL(film.url);
    film.url = "";
    film.video.hidden = film.image.hidden = film.box.querySelector(".film-keys").hidden = true;
    film.video.removeAttribute("src");
    say(film, "");
    ready();
    if (!file) return;
    const kind = file.type.split("/")[0];
    if (kind !== "video" && kind !== "image") { say(film, `${file.name} is neither a film nor a picture.`); return; }
    if (file.size > MOST) { say(film, `${file.name} is larger than 500 MB: cut it to the piece that matters.`); return; }
    film.url = URL.createObjectURL(file);
    film.start = 0;
    if (kind === "image") { film.image.src = film.url; film.image.hidden = false; return; }
    film.video.src = film.url;
  };
  for (const film of films) {
    film.box.querySelector("input").addEventListener("change", (event) => take(film, event.target.files[0]));
    film.video.addEventListener("loadeddata", () => { film.video.hidden = film.box.querySelector(".film-keys").hidden = false; told(film); ready(); });
    film.video.addEventListener("error", () => { if (film.url) say(film, "This film cannot be shown here: try another format, such as MP4 or WebM."); });
    film.image.addEventListener("error", () => { if (film.url) { film.image.hidden = true; say(film, "This picture cannot be shown here."); } });
    film.video.addEventListener("seeked", () => told(film));
    film.video.addEventListener("timeupdate", () => told(film));
    film.box.addEventListener("click", (event) => {
      const step = event.target.closest("[data-step]");
      if (step) { film.video.pause(); film.video.currentTime = Math.max(film.video.currentTime + Number(step.dataset.step), 0); }
      if (event.target.closest("[data-mark]")) { film.start = film.video.currentTime; told(film); }
    });
  }
  slow.addEventListener("click", () => {
    const on = slow.getAttribute("aria-pressed") !== "true";
    slow.setAttribute("aria-pressed", String(on));
    for (const film of films) film.video.playbackRate = on ? 0.25 : 1;
  });
  play.addEventListener("click", () => {
    const moving = ready();
    for (const film of moving) { film.video.pause(); film.video.currentTime = film.start; }
    Promise.all(moving.map((film) => film.video.play())).catch((error) => say(moving[0], `It does not play: ${error.message}`));
  });
  window.addEventListener("pagehide", () => { for (const film of films) if (film.url) URL.revokeObjectURL(film.url); });
}

// A booking of the day dragged along its hours and into another bay; let go, its form is sent. Arrow keys move it a quarter of an hour.
const day = document.querySelector("[data-day]");
if (day) {
  const first = Number(day.dataset.first), wide = Number(day.dataset.last) - first;
  const formOf = (booking) => document.getElementById(`book-${booking.dataset.booking}`);
  let held = null;
  const quarter = (hours) => Math.round(hours * 4) / 4;
  const move = (booking, form, by) => {
    const field = form.querySelector("[name=start]");
    field.value = Math.max(first, Math.min(first + wide - 0.25, quarter(Number(field.value) + by))).toString();
    booking.setAttribute("x", `${(100 * (Number(field.value) - first)) / wide}%`);
  };
  day.addEventListener("pointerdown", (event) => {
    const booking = event.target.closest(".booking"), form = booking && formOf(booking);
    if (!form) return;
    event.preventDefault();
    booking.focus();
    const box = booking.closest(".day-lane").getBoundingClientRect();
    held = { booking, form, x: event.clientX, start: Number(form.querySelector("[name=start]").value), per: wide / box.width, bay: form.querySelector("[name=bay]").value };
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const field = held.form.querySelector("[name=start]");
    field.value = held.start.toString();
    move(held.booking, held.form, (event.clientX - held.x) * held.per);
    const lane = document.elementsFromPoint(event.clientX, event.clientY).map((one) => one.closest?.(".day-lane")).find(Boolean);
    if (lane) held.form.querySelector("[name=bay]").value = lane.dataset.bay;
  });
  document.addEventListener("pointerup", () => {
    if (!held) return;
    const { form, start, bay } = held;
    held = null;
    if (Number(form.querySelector("[name=start]").value) !== start || form.querySelector("[name=bay]").value !== bay) form.requestSubmit(form.querySelector("button:not([name])"));
  });
  document.addEventListener("pointercancel", () => { held = null; });
  day.addEventListener("keydown", (event) => {
    const booking = event.target.closest(".booking"), form = booking && formOf(booking);
    if (!form || !["ArrowLeft", "ArrowRight", "Enter"].includes(event.key)) return;
    event.preventDefault();
    if (event.key === "Enter") form.requestSubmit(form.querySelector("button:not([name])"));
    else move(booking, form, event.key === "ArrowLeft" ? -0.25 : 0.25);
  });
}

// A booking of the day dragged along its hours and into another bay, or by its end to more hours or fewer; let go, its form is sent. Arrow keys move
// it a quarter of an hour, with Shift its end.
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
  const stretch = (booking, form, by) => {
    const field = form.querySelector("[name=hours]"), start = Number(form.querySelector("[name=start]").value);
    field.value = Math.max(0.25, Math.min(first + wide - start, quarter(Number(field.value) + by))).toString();
    booking.setAttribute("width", `${(100 * Number(field.value)) / wide}%`);
  };
  const GRIP = 26; // pixels at a booking's end that take hold of its length
  day.addEventListener("pointerdown", (event) => {
    const booking = event.target.closest(".booking"), form = booking && formOf(booking);
    if (!form) return;
    event.preventDefault();
    booking.focus();
    const box = booking.closest(".day-lane").getBoundingClientRect(), value = (name) => form.querySelector(`[name=${name}]`).value;
    const end = booking.querySelector("rect").getBoundingClientRect().right - event.clientX < GRIP;
    held = { booking, form, end, x: event.clientX, start: Number(value("start")), hours: Number(value("hours")), per: wide / box.width, bay: value("bay") };
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    if (held.end) {
      held.form.querySelector("[name=hours]").value = held.hours.toString();
      stretch(held.booking, held.form, (event.clientX - held.x) * held.per);
      return;
    }
    const field = held.form.querySelector("[name=start]");
    field.value = held.start.toString();
    move(held.booking, held.form, (event.clientX - held.x) * held.per);
    const lane = document.elementsFromPoint(event.clientX, event.clientY).map((one) => one.closest?.(".day-lane")).find(Boolean);
    if (lane) held.form.querySelector("[name=bay]").value = lane.dataset.bay;
  });
  document.addEventListener("pointerup", () => {
    if (!held) return;
    const { form, start, hours, bay } = held, value = (name) => form.querySelector(`[name=${name}]`).value;
    held = null;
    if (Number(value("start")) !== start || Number(value("hours")) !== hours || value("bay") !== bay) form.requestSubmit(form.querySelector("button:not([name])"));
  });
  document.addEventListener("pointercancel", () => { held = null; });
  day.addEventListener("keydown", (event) => {
    const booking = event.target.closest(".booking"), form = booking && formOf(booking);
    if (!form || !["ArrowLeft", "ArrowRight", "Enter"].includes(event.key)) return;
    event.preventDefault();
    if (event.key === "Enter") form.requestSubmit(form.querySelector("button:not([name])"));
    else (event.shiftKey ? stretch : move)(booking, form, event.key === "ArrowLeft" ? -0.25 : 0.25);
  });
}

// The underside: a part that is touched shows what can be graded there; what is then graded is marked there.
const sheet = document.querySelector("[data-in-zone]");
const choose = (zone) => {
  sheet.dataset.inZone = zone;
  for (const row of sheet.querySelectorAll("[data-zones]")) row.hidden = zone !== "" && !row.dataset.zones.split(" ").includes(zone);
  for (const part of document.querySelectorAll("[data-zone]")) part.toggleAttribute("aria-current", part.dataset.zone === zone);
};
if (sheet) {
  document.addEventListener("click", (event) => {
    const part = event.target.closest?.("[data-zone]");
    if (!part) return;
    event.preventDefault();
    choose(part.dataset.zone);
    if (part.closest("svg")) sheet.scrollIntoView({ block: "nearest" });
  });
  sheet.addEventListener("change", (event) => {
    const row = event.target.closest("[data-zones]"), zone = sheet.dataset.inZone;
    const box = zone && event.target.type === "radio" && row?.querySelector(`input[type=checkbox][value=${zone}]`);
    if (box) { box.checked = true; box.closest("details").open = true; }
  });
}

// When a complaint is felt is asked for as soon as it is ticked.
document.addEventListener("change", (event) => {
  const row = event.target.name === "complaints" && document.querySelector(`[data-felt="${event.target.value}"]`);
  if (row) row.hidden = !event.target.checked;
});

// The underside: a part that is touched shows what can be graded there; what is then graded is marked there; the rest is fine in one touch.
const shown = (sheet, row, zone) => zone === "*" || (zone ? row.dataset.zones.split(" ").includes(zone) : "first" in row.dataset || "whole" in sheet.dataset);
const choose = (sheet, part) => {
  const zone = part.dataset.zone, fine = sheet.querySelector("[name=all_fine]");
  sheet.dataset.inZone = zone === "*" ? "" : zone;
  for (const row of sheet.querySelectorAll("[data-zones]")) row.hidden = !shown(sheet, row, zone);
  for (const one of document.querySelectorAll("[data-zone]")) one.toggleAttribute("aria-current", one === part);
  const words = part.querySelector("text") || part;
  sheet.querySelector(".zone-head b").textContent = words.textContent.trim().replace(/^./, (c) => c.toUpperCase());
  fine.value = sheet.dataset.inZone;
  fine.hidden = !fine.value;
};
document.addEventListener("click", (event) => {
  const sheet = document.querySelector("[data-in-zone]"), part = sheet && event.target.closest?.("[data-zone]");
  const photo = event.target.closest?.("[data-photo]");
  if (photo) document.getElementById("photo-area").value = photo.dataset.photo;
  if (!part) return;
  event.preventDefault();
  choose(sheet, part);
  if (part.closest("svg")) sheet.scrollIntoView({ block: "nearest" });
});
document.addEventListener("change", (event) => {
  const row = event.target.closest?.("[data-in-zone] [data-zones]"), zone = row?.closest("[data-in-zone]").dataset.inZone;
  const box = zone && event.target.type === "radio" && row.querySelector(`input[type=checkbox][value=${zone}]`);
  if (box) box.checked = true;
});

// When a complaint is felt is asked for as soon as it is ticked.
document.addEventListener("change", (event) => {
  const row = event.target.name === "complaints" && document.querySelector(`[data-felt="${event.target.value}"]`);
  if (row) row.hidden = !event.target.checked;
});

// What takes over half a second shows that it works: a page being fetched, a form being sent, a part being asked for.
const LATE = 450, SEEN = 20_000;
let timer = 0;
const busy = () => { clearTimeout(timer); timer = setTimeout(() => document.body.classList.add("working"), LATE); setTimeout(still, SEEN); };
const still = () => { clearTimeout(timer); document.body.classList.remove("working"); };
document.addEventListener("submit", (event) => { if (!event.defaultPrevented && event.target.method !== "dialog") busy(); });
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[href]");
  if (link && !event.defaultPrevented && !link.hasAttribute("download") && !link.hash && !event.ctrlKey && !event.metaKey && link.target !== "_blank") busy();
});
document.addEventListener("htmx:beforeRequest", (event) => { if (!event.detail.elt.id || !["watch", "instruments"].includes(event.detail.elt.id)) busy(); });
for (const name of ["htmx:afterRequest", "htmx:sendError"]) document.addEventListener(name, still);
window.addEventListener("pageshow", still);
window.addEventListener("pagehide", () => clearTimeout(timer));

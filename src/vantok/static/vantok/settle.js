// The minute a vehicle is let stand after it was rolled and bounced; it goes on over a reload.
const KEY = `settle ${location.pathname}`;
function show() {
  const begun = Number(sessionStorage.getItem(KEY)), box = document.querySelector("[data-settle]");
  if (!box || !begun) return;
  const left = Math.ceil(Number(box.dataset.settle) - (Date.now() - begun) / 1000);
  box.hidden = false;
  box.querySelector("output").textContent = left > 0 ? `${left} s` : "it has stood; read it now";
  if (left > 0) setTimeout(show, 250); else sessionStorage.removeItem(KEY);
}
document.addEventListener("click", (event) => {
  if (!event.target.closest?.("[data-settle-start]")) return;
  sessionStorage.setItem(KEY, Date.now().toString());
  show();
});
show();

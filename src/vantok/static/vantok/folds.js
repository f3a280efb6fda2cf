// What is folded opens by itself where something in it asks for the eye: a refused field, the place an address points at, a stage in hand.
export const unfold = (at) => {
  for (let fold = at?.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true;
};
const aimed = () => {
  const at = location.hash.length > 1 && document.getElementById(decodeURIComponent(location.hash.slice(1)));
  if (!at) return;
  if (at.matches("details")) at.open = true;
  unfold(at);
  at.scrollIntoView({ block: "nearest" });
};
const refused = (within) => within.querySelectorAll("details .error[role=alert], details [aria-invalid]").forEach(unfold);
if (innerWidth < 700) for (const fold of document.querySelectorAll("details[data-roomy]")) fold.open = false;
refused(document);
aimed();
window.addEventListener("hashchange", aimed);
// A refused form brings its page in anew: the main part of the body is another one then.
new MutationObserver(() => refused(document)).observe(document.body, { childList: true });
document.addEventListener("htmx:afterSwap", (event) => refused(event.detail.target));
document.addEventListener("invalid", (event) => unfold(event.target), true);
document.querySelector("nav.stages [aria-current]")?.scrollIntoView({ block: "nearest", inline: "center" });

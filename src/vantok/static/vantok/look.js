// Day or night: by the system's wish until somebody says otherwise on this device; said the system's way again, it follows the system again.
const dark = matchMedia("(prefers-color-scheme: dark)");
document.querySelector("[data-look-switch]")?.addEventListener("click", () => {
  const root = document.documentElement, night = root.dataset.look ? root.dataset.look === "night" : dark.matches;
  const wish = night ? "day" : "night", follows = (wish === "night") === dark.matches;
  root.dataset.look = follows ? "" : wish;
  document.cookie = `vantok_look=${root.dataset.look}; path=/; max-age=${follows ? 0 : 31536000}; samesite=lax`;
});

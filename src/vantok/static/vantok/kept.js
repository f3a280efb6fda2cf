// Pages of a job that this device keeps: registers the worker that keeps them, and says when what is shown is what was kept.
import { alsoShow, show } from "./send.js";

const KEPT = "kept";
async function register() {
  const before = navigator.serviceWorker.controller;
  await navigator.serviceWorker.register("/offline.js");
  const ready = await navigator.serviceWorker.ready;
  if (before) return;
  const files = performance.getEntriesByType("resource").map((one) => one.name).filter((name) => new URL(name).pathname.startsWith("/static/"));
  ready.active.postMessage({ [KEPT]: true, page: location.href, files });
}
if (document.body.dataset.person && isSecureContext && navigator.serviceWorker) register().catch(() => {}); // without it everything works but this
const at = Number(document.body.dataset.keptAt);
if (at) {
  const time = new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
  const said = `No connection: this page is as it stood at ${time}. What is entered waits in this browser and is sent when it returns. Walk, sheet, card, drive sheet and inspection open again; other pages do not.`;
  alsoShow((line) => [line(said, [["Try again", () => location.reload()]])]);
  show();
}

// What this device keeps so that a job's pages open again without a connection. The pages say themselves which they are (X-Vantok-Keep: whose);
// styles and scripts are kept as they come. Nothing that is sent passes here: entries wait in the page's own queue.
const PAGES = "vantok-pages", FILES = "vantok-files";
const AGE = 3 * 24 * 3600 * 1000, MOST_FILES = 400, MOST_PAGES = 60, PATIENCE = 8000;
const KEEP = "X-Vantok-Keep", AT = "X-Vantok-Kept-At";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function thin(cache, most) {
  const keys = await cache.keys();
  for (const old of keys.slice(0, Math.max(keys.length - most, 0))) await cache.delete(old);
}

async function keep(name, request, response, most) {
  const cache = await caches.open(name), headers = new Headers(response.headers);
  headers.set(AT, String(Date.now()));
  await cache.put(request, new Response(await response.blob(), { status: 200, headers }));
  await thin(cache, most);
}

// A page of the network, kept on its way where it says so; one that leads to the sign-in ends what was kept. Only a page that is kept already
// stands in for one that does not come: a slow one is waited for.
async function page(request) {
  const there = await (await caches.open(PAGES)).match(request.url);
  try {
    const response = await fetch(request, there ? { signal: AbortSignal.timeout(PATIENCE) } : {});
    if (response.headers.get(KEEP) && response.ok && !response.redirected) await keep(PAGES, request.url, response.clone(), MOST_PAGES);
    if (response.url && new URL(response.url).pathname === "/sign-in/") await caches.delete(PAGES);
    return response;
  } catch (error) {
    return (await kept(request.url)) || nothing();
  }
}

async function kept(url) {
  const cache = await caches.open(PAGES);
  const found = (await cache.match(url)) || (await cache.match(url, { ignoreSearch: true }));
  if (!found || Date.now() - Number(found.headers.get(AT)) > AGE) return null;
  const headers = new Headers(found.headers), text = await found.text();
  headers.set("Cache-Control", "no-store");
  return new Response(text.replace("<body ", `<body data-kept-at="${found.headers.get(AT)}" `), { headers });
}

async function nothing() {
  const cache = await caches.open(PAGES);
  const links = (await cache.keys()).map((one) => new URL(one.url)).map((at) => `<li><a href="${encodeURI(at.pathname + at.search)}">${at.pathname.replaceAll("/", " ")}</a></li>`);
  const list = links.length ? `<p>Kept on this device:</p><ul>${links.join("")}</ul>` : "<p>No page of a job is kept on this device yet.</p>";
  const html = `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>No connection · Vantok</title></head><body><h1>No connection</h1><p>This page opens only with one.</p>${list}</body></html>`;
  return new Response(html, { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } });
}

async function file(request) {
  try {
    const response = await fetch(request);
    if (response.ok) await keep(FILES, request.url, response.clone(), MOST_FILES);
    return response;
  } catch (error) {
    const found = await (await caches.open(FILES)).match(request.url);
    if (found) return found;
    throw error;
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event, at = new URL(request.url);
  if (at.origin !== location.origin) return;
  if (request.method === "POST" && at.pathname === "/sign-out/") event.waitUntil(caches.delete(PAGES));
  if (request.method !== "GET") return;
  if (request.mode === "navigate") event.respondWith(page(request));
  else if (at.pathname.startsWith("/static/")) event.respondWith(file(request));
});

// The page that brought this here was loaded without it: it names what it is made of.
self.addEventListener("message", (event) => {
  const again = async () => {
    for (const url of event.data.files) await file(new Request(url)).catch(() => null);
    await page(new Request(event.data.page, { credentials: "same-origin" }));
  };
  event.waitUntil(again());
});

// What this device keeps so that a job's pages open again without a connection. The pages say themselves which they are (X-Vantok-Keep: whose);
// styles and scripts are kept as they come. Nothing that is sent passes here: entries wait in the page's own queue.
const PAGES = "vantok-pages", FILES = "vantok-files";
const AGE = 3 * 24 * 3600 * 1000, MOST_FILES = 400, MOST_PAGES = 60, PATIENCE = 8000;
const KEEP = "X-Vantok-Keep", AT = "X-Vantok-Kept-At", NAMED_BY_CONTENT = /\.[0-9a-f]{12}\./;
let ended = 0; // how often what was kept has been ended: a page still on its way into it then is not kept

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function thin(cache, most) {
  const keys = await cache.keys();
  for (const old of keys.slice(0, Math.max(keys.length - most, 0))) await cache.delete(old);
}

function end() {
  ended += 1;
  return caches.delete(PAGES);
}

async function keep(name, request, response, most) {
  const then = ended, headers = new Headers(response.headers);
  headers.set(AT, String(Date.now()));
  const body = await response.blob(), cache = await caches.open(name);
  await cache.put(request, new Response(body, { status: 200, headers }));
  await thin(cache, most);
  if (then !== ended) await caches.delete(PAGES);
}

// A page of the network, kept where it says so, shown without waiting for that; one that leads to the sign-in ends what was kept. Only a page that is
// kept already stands in for one that does not come: a slow one is waited for.
async function page(request, event) {
  const there = await (await caches.open(PAGES)).match(request.url);
  try {
    const response = await fetch(request, there ? { signal: AbortSignal.timeout(PATIENCE) } : {});
    if (response.headers.get(KEEP) && response.ok && !response.redirected) event.waitUntil(keep(PAGES, request.url, response.clone(), MOST_PAGES));
    if (response.url && new URL(response.url).pathname === "/sign-in/") await end();
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

// A file named by its content never changes: kept once, it is not asked for again.
async function file(request, event) {
  const found = await (await caches.open(FILES)).match(request.url);
  if (found && NAMED_BY_CONTENT.test(request.url)) return found;
  try {
    const response = await fetch(request);
    if (response.ok) event.waitUntil(keep(FILES, request.url, response.clone(), MOST_FILES));
    return response;
  } catch (error) {
    if (found) return found;
    throw error;
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event, at = new URL(request.url);
  if (at.origin !== location.origin) return;
  if (request.method === "POST" && at.pathname === "/sign-out/") event.waitUntil(end());
  if (request.method !== "GET") return;
  if (request.mode === "navigate") event.respondWith(page(request, event));
  else if (at.pathname.startsWith("/static/")) event.respondWith(file(request, event));
});

// The page that brought this here was loaded without it: it names what it is made of.
self.addEventListener("message", (event) => {
  const again = async () => {
    for (const url of event.data.files) await file(new Request(url), event).catch(() => null);
    await page(new Request(event.data.page, { credentials: "same-origin" }), event);
  };
  event.waitUntil(again());
});

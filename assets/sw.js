// Keeps what must open without the network: the page at the stove as it was seen last,
// the two emergency pages, styles, scripts and fonts. Everything is asked of the server
// first; only when that does not answer is what is kept here shown. Entries are not its
// matter: the page keeps them and sends them.
//
// FILES and VERSION stand above this, put there by the server.
"use strict";
const files = "files-" + VERSION, pages = "pages";
const emergency = ["/co-alarm", "/chimney-fire"];
const atStove = (path) => path === "/stove" || /^\/burns\/\d+\/live$/.test(path);

self.addEventListener("install", (e) => {
  e.waitUntil(caches.open(files).then((c) => c.addAll([...FILES, ...emergency])).then(() => self.skipWaiting()));
});
self.addEventListener("activate", (e) => {
  e.waitUntil((async () => {
    for (const name of await caches.keys()) if (name !== files && name !== pages) await caches.delete(name);
    await self.clients.claim();
  })());
});

// Whoever signs out, or another household that signs in, takes its pages with it.
self.addEventListener("message", (e) => {
  if (e.data?.forget) e.waitUntil?.(caches.delete(pages));
});

const kept = async (request) => (await caches.match(request, { ignoreVary: true })) ?? null;

const page = async (request) => {
  const path = new URL(request.url).pathname;
  try {
    const answer = await fetch(request);
    // A page that was sent on to is kept under where it is: a redirect cannot be shown.
    if (answer.ok && atStove(new URL(answer.url).pathname) && !new URL(answer.url).search) {
      const copy = answer.clone();
      const c = await caches.open(pages);
      const body = await copy.blob();
      const plain = () => new Response(body, { headers: { "Content-Type": "text/html; charset=utf-8" } });
      await c.put(new URL(answer.url).pathname, plain());
      await c.put("/stove", plain());
    }
    if (answer.status < 502) return answer;
    return (await kept(path)) ?? answer;
  } catch (away) {
    const last = (await kept(path)) ?? (atStove(path) ? await kept("/stove") : null);
    if (last) return last;
    throw away;
  }
};

self.addEventListener("fetch", (e) => {
  const { request } = e, url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (url.pathname.startsWith("/static/")) {
    e.respondWith(kept(request).then((hit) => hit ?? fetch(request)));
  } else if (request.mode === "navigate" && (atStove(url.pathname) || emergency.includes(url.pathname))) {
    e.respondWith(page(request));
  }
});

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
const shared = (path) => /^\/shared\/[A-Z2-7]+$/.test(path);
// What is kept as it was seen last besides: the first page, plans with their steps, and the sheet of a stove, one's own or shared.
const keeps = (path) => atStove(path) || path === "/" || /^\/plans\/\d+$/.test(path) || /^\/stoves\/\d+\/at-home$/.test(path) || shared(path);

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
  // A shared page is often opened once, before this worker was there, and has passed it by.
  // It is asked for as by a stranger: what is said to somebody signed in is said only once.
  if (shared(e.data?.keep ?? "")) e.waitUntil(page(new Request(e.data.keep, { credentials: "omit" })).catch(() => {}));
});

const kept = async (request) => (await caches.match(request, { ignoreVary: true })) ?? null;

const page = async (request) => {
  const path = new URL(request.url).pathname;
  try {
    const answer = await fetch(request);
    // A page that was sent on to is kept under where it is: a redirect cannot be shown.
    const at = new URL(answer.url);
    if (answer.ok && keeps(at.pathname) && !at.search) {
      const copy = answer.clone();
      const c = await caches.open(pages);
      const body = await copy.blob();
      const plain = () => new Response(body, { headers: { "Content-Type": "text/html; charset=utf-8" } });
      await c.put(new URL(answer.url).pathname, plain());
      if (atStove(at.pathname)) await c.put("/stove", plain());
    }
    // What was withdrawn, has ended or was deleted is not shown from here either.
    if (answer.status === 404 || answer.status === 410) await (await caches.open(pages)).delete(path);
    if (answer.status < 502) return answer;
    return (await kept(path)) ?? answer;
  } catch (away) {
    const last = (await kept(path)) ?? (atStove(path) || path === "/" ? await kept("/stove") : null);
    if (last) return last;
    throw away;
  }
};

self.addEventListener("fetch", (e) => {
  const { request } = e, url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (url.pathname.startsWith("/static/")) {
    e.respondWith(kept(request).then((hit) => hit ?? fetch(request)));
  } else if (request.mode === "navigate" && (keeps(url.pathname) || emergency.includes(url.pathname))) {
    e.respondWith(page(request));
  }
});

// A call that a push service brings: it is shown, and opens what it is about.
self.addEventListener("push", (e) => {
  let call;
  try { call = e.data.json(); } catch { return; }
  e.waitUntil(self.registration.showNotification(call.title, { body: call.text, tag: call.key, data: { link: call.link }, icon: "/icon-192.png",
    badge: "/icon-192.png", requireInteraction: call.urgent }));
});
self.addEventListener("notificationclick", (e) => {
  e.notification.close();
  const link = new URL(e.notification.data?.link ?? "/", self.location.origin);
  e.waitUntil((async () => {
    if (link.origin !== self.location.origin) return;
    for (const open of await self.clients.matchAll({ type: "window" })) if (new URL(open.url).pathname === link.pathname) return open.focus();
    return self.clients.openWindow(link.href);
  })());
});

// Keeps the application on the phone, and opens it where there is no network. It sends and changes nothing by itself.
import { createHandlerBoundToURL, precacheAndRoute, cleanupOutdatedCaches } from "workbox-precaching";
import { registerRoute } from "workbox-routing";

const PATIENCE_MS = 10000;

// Pages that a phone can fill by itself. Others are waited for as long as they take: an export of a fleet is no missing network.
const FILLED = /^\/($|walk\/|walks\/|visits\/\d+|machines\/[^/]+$|phone)/;

precacheAndRoute(KEPT, { ignoreURLParametersMatching: [/^v$/] });
cleanupOutdatedCaches();

// A page comes from the server as long as one answers; without an answer it is the empty page, filled from what the phone holds.
const shell = createHandlerBoundToURL("/phone");
registerRoute(
  ({ request }) => request.mode === "navigate" && request.method === "GET",
  async (options) => {
    const given = new AbortController();
    const patience = FILLED.test(new URL(options.request.url).pathname) ? setTimeout(() => given.abort(), PATIENCE_MS) : 0;
    try {
      return await fetch(options.request, { signal: given.signal });
    } catch {
      return shell(options);
    } finally {
      clearTimeout(patience);
    }
  },
);

self.addEventListener("message", (event) => {
  if (event.data === "now") self.skipWaiting();
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

// Where the browser can, the outbox is emptied also after the page was closed: an open page does it, the worker only wakes it.
self.addEventListener("sync", (event) => {
  if (event.tag === "outbox")
    event.waitUntil(self.clients.matchAll().then((pages) => pages.forEach((page) => page.postMessage("outbox"))));
});

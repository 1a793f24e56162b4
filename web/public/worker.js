// The shell of the app, kept for when the app does not answer: the page and the files it was built with.
// Answers of the app itself (/api) are never kept: amounts on the screen are always from the household's file.
const SHELL = "shell-v1";

self.addEventListener("install", (event) => {
  // Nor does asking for them wait for this worker, where a browser lets its requests pass it by.
  event.addRoutes?.({ condition: { urlPattern: { pathname: "/api/*" } }, source: "network" });
  self.skipWaiting();
});
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== self.location.origin || url.pathname.startsWith("/api/")) return;
  const key = event.request.mode === "navigate" ? "/" : event.request;
  event.respondWith(
    fetch(event.request)
      .then(async (answer) => {
        if (answer.ok) await (await caches.open(SHELL)).put(key, answer.clone());
        return answer;
      })
      .catch(async () => (await caches.match(key)) ?? Response.error()),
  );
});

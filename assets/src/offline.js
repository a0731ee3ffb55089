// The worker keeps the page at the stove as it was seen last. It forgets it when somebody signs
// out, or another household signs in.
const key = "smolder-pages-of";

export const start = () => {
  if (!("serviceWorker" in navigator)) return;
  const here = document.body.dataset.household ?? "", before = localStorage.getItem(key);
  const forget = () => caches?.delete("pages").catch(() => {});
  navigator.serviceWorker.register("/sw.js").then((r) => r.update?.()).catch(() => {});
  // A shared page that is the first ever is opened before the worker is there: it is asked to keep it as well.
  if (!navigator.serviceWorker.controller) {
    navigator.serviceWorker.ready.then((r) => r.active.postMessage({ keep: location.pathname })).catch(() => {});
  }
  if (here && before !== here) {
    localStorage.setItem(key, here);
    if (before !== null) forget();
  }
  if (!here && document.querySelector("form[action='/sign-in']")) forget();
  document.addEventListener("submit", (e) => { if (e.target.getAttribute?.("action") === "/sign-out") forget(); });
};

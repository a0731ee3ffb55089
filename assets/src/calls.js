// Calls: a notification when a fire wants something and nobody looks. They come from this page
// while it is open; a push service, where the server has keys for one, brings them to the worker.
// A call is never the only carrier of a danger: what hurts stands on every page.
import { keep, read } from "./page.js";
import { t } from "./words.js";

const every = 60_000;
const made = "smolder-calls-made", allowed = "smolder-calls-here";
const remembered = 200;

// fresh are the calls that this device has not shown yet, and the list of those it has.
export const fresh = (list, shown) => {
  const out = list.filter((call) => !shown.includes(call.key));
  return [out, [...shown, ...out.map((call) => call.key)].slice(-remembered)];
};

const show = async (call) => {
  const registration = await navigator.serviceWorker?.ready;
  const options = { body: call.text, tag: call.key, data: { link: call.link }, icon: "/icon-192.png", badge: "/icon-192.png", requireInteraction: call.urgent, lang: document.documentElement.lang };
  if (registration) await registration.showNotification(call.title, options);
  else new Notification(call.title, options);
};

const look = async () => {
  if (!read(allowed) || !("Notification" in window) || Notification.permission !== "granted") return;
  const answer = await fetch("/calls/now", { headers: { Accept: "application/json" } }).catch(() => null);
  if (!answer?.ok) return;
  const { calls } = await answer.json();
  const [anew, shown] = fresh(calls, read(made) ?? []);
  keep(made, shown);
  for (const call of anew) await show(call);
};

const bytes = (text) => Uint8Array.from(atob(text.replaceAll("-", "+").replaceAll("_", "/")), (c) => c.charCodeAt(0));
const send = (path, fields) => fetch(path, { method: "POST", body: new URLSearchParams(fields) });

// subscribe lets a push service bring the calls; without one they come while a page is open.
const subscribe = async (key) => {
  const registration = await navigator.serviceWorker.ready;
  const subscription = await registration.pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: bytes(key) });
  const { endpoint, keys } = subscription.toJSON();
  return (await send("/calls/browser", { endpoint, ...keys })).ok;
};
const unsubscribe = async () => {
  const subscription = await (await navigator.serviceWorker?.ready)?.pushManager?.getSubscription();
  if (!subscription) return;
  await send("/calls/browser/gone", { endpoint: subscription.endpoint });
  await subscription.unsubscribe();
};

const settings = (box) => {
  const says = box.querySelector("[data-calls-says]"), on = box.querySelector("[data-calls-on]"), off = box.querySelector("[data-calls-off]");
  const tell = (failed) => {
    const can = "Notification" in window, here = can && Notification.permission === "granted" && read(allowed);
    on.hidden = !can || here || Notification.permission === "denied";
    off.hidden = !here;
    says.textContent = !can ? t('This browser cannot call.')
      : Notification.permission === "denied" ? t('This browser was told not to: allow notifications of this page in its settings.')
        : here ? (failed ? t('It calls while a page is open here; the push service could not be reached.') : t('This device calls.')) : t('This device does not call yet.');
  };
  on.addEventListener("click", async () => {
    let failed = false;
    if (await Notification.requestPermission() === "granted") {
      keep(allowed, true);
      if (box.dataset.push) failed = !(await subscribe(box.dataset.push).catch(() => false));
      await look();
    }
    tell(failed);
  });
  off.addEventListener("click", async () => {
    keep(allowed, false);
    await unsubscribe().catch(() => {});
    tell();
  });
  tell();
};

export const start = () => {
  const box = document.querySelector("[data-calls]");
  if (box) settings(box);
  if (!document.body.dataset.household) return;
  look();
  setInterval(look, every);
};

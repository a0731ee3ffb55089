// Entries are sent when there is a connection, once each, by one page of this browser at a time.
import { look, reached } from "./away.js";
import { keep, live, read, ring, shut, tell } from "./page.js";
import { fromBefore, household, mine, of, place, prefix } from "./queue.js";
import { refresh } from "./live.js";
import { t } from "./words.js";

// alone runs f while no other page of this browser does.
const alone = (f) => (navigator.locks ? navigator.locks.request("smolder-send", f) : f());
const inHand = new Set(); // refused while their sheet was open: what is sent from it next takes their place
let sending = null; // the sending that is under way
let again = false; // something was kept meanwhile

const busy = (yes) => live()?.setAttribute("aria-busy", String(yes));

// idle resolves when nothing is under way.
export const idle = () => Promise.resolve(sending);

export const send = () => {
  sending ??= (busy(true), alone(sendAll)).finally(() => {
    sending = null;
    busy(false);
    ring("answered");
    if (again) {
      again = false;
      send();
    }
  });
  return sending;
};

const sendAll = async () => {
  if (!household()) return;
  const tried = new Set();
  for (;;) {
    const next = mine().find(({ key, entry }) => !entry.refused && !tried.has(key));
    if (!next) return;
    tried.add(next.key);
    if (!(await sendOne(next))) return;
  }
};

// sendOne sends one entry; false where the others need not be tried.
const sendOne = async ({ key, entry }) => {
  let answer;
  try {
    const body = new URLSearchParams([...entry.fields, ["sent", new Date().toISOString()]]);
    answer = await fetch(entry.to, { method: "POST", headers: { Accept: "application/json" }, body });
  } catch {
    reached(false);
    return false;
  }
  const body = await answer.json().catch(() => ({}));
  if (answer.status === 401 || answer.status === 429) {
    tell(body.error ?? t('Kept on this device.'), true);
    return false;
  }
  if (answer.status >= 500) { // this one waits; those behind it do not
    tell(body.error ?? t('Kept on this device; the other end does not answer just now.'), true);
    if (answer.status === 503) reached(false);
    return answer.status !== 503;
  }
  reached(true);
  if (answer.ok) {
    localStorage.removeItem(key);
    tell(t('Logged: {0}', body.said));
    // Only the sheet it came from: another may be open under the hand by now.
    document.querySelectorAll('details.sheet[open][data-key="' + CSS.escape(entry.sheet ?? "") + '"]').forEach(shut);
  } else {
    refuse(key, entry, body.error ?? t('This entry was refused.'));
  }
  if (!answer.ok || !(await heardOf(entry))) await refresh();
  ring("answered");
  return true;
};

// heardOf tells whether the page shows an entry by itself: who hears of changes is sent the parts
// that it has changed, and need not ask for the page. Until then the entry is under way, so that
// what is undone next is this one and not the one before.
const heardOf = async (entry) => {
  if (!of(entry, location.pathname)) return true; // of another burn: nothing of it is shown here
  const id = Object.fromEntries(entry.fields).id, until = Date.now() + hearsWithin;
  const shown = () => document.querySelector("[data-undo]")?.getAttribute("action").includes(id);
  while (live()?.dataset.hears && !shown() && Date.now() < until) await new Promise((go) => setTimeout(go, 40));
  return Boolean(live()?.dataset.hears && shown());
};

const refuse = (key, entry, why) => {
  const typed = Object.fromEntries(entry.fields);
  entry.refused = why;
  keep(key, entry);
  if (entry.sheet && document.querySelector('details.sheet[open][data-key="' + CSS.escape(entry.sheet) + '"]')) inHand.add(key);
  tell(why + " " + (typed.value ? t('Typed was: {0}', typed.value) + " " : "") + t('It waits above, to be changed or dropped.'), true);
};

const hearsWithin = 2500; // ms, after which the page is asked for
const twice = 1500; // ms within which a hand in a glove taps the same twice
let doneAt = 0;

const submitted = (e) => {
  const form = e.target;
  if (!form.matches?.("form[data-entry]")) return;
  e.preventDefault();
  if (form.dataset.tap === "y") { // by the second tap another step may stand there
    if (Date.now() - doneAt < twice) return;
    doneAt = Date.now();
  }
  const fields = [...new FormData(form, e.submitter).entries()].map(([k, v]) => [k, String(v)]);
  // What is advised has an id of its own, the same on every page that shows it: done on two of
  // them it is done once.
  const fixed = form.querySelector("input[name=id][data-fixed]")?.value;
  const id = fixed || (crypto.randomUUID?.() ?? Date.now().toString(36) + Math.random().toString(36).slice(2));
  if (!fixed) fields.push(["id", id]);
  fields.push(["at", new Date().toISOString()]);
  const from = form.closest("details.sheet")?.dataset.key;
  for (const key of inHand) {
    if (read(key)?.sheet !== from) continue;
    inHand.delete(key);
    localStorage.removeItem(key);
  }
  if (!keep(place(id), { to: form.getAttribute("action"), fields, sheet: from, made: Date.now() })) {
    tell(t('This device keeps nothing more: the entry is not kept. Write it down.'), true);
    return;
  }
  tell(t('Kept.'));
  ring("kept");
  if (sending) again = true;
  if (form.dataset.tap) e.submitter?.blur(); // so that the taps can change under it
  send();
};

const asksAgain = 20000; // ms between tries, and looks at a server that nobody hears

export const start = () => {
  document.addEventListener("submit", submitted);
  addEventListener("online", () => { look(); send(); });
  addEventListener("storage", (e) => { if (e.key?.startsWith(prefix) && !e.newValue) refresh(); }); // another tab has sent it
  if (!household()) return;
  fromBefore();
  send();
  setInterval(() => {
    send();
    if (!live()) look();
    else if (!live().dataset.hears) refresh();
  }, asksAgain);
};

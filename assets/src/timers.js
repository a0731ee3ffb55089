// Timers: those that run by themselves (a door that stands open), and those that somebody sets on
// this device.
import { alarm } from "./comforts.js";
import { keep, live, node, on, read, shut } from "./page.js";
import { t } from "./words.js";

const key = "smolder-timers:" + location.pathname;
const mostTimers = 6;
const timers = () => read(key) ?? [];

// clockOf is a span as minutes and seconds; what has run out is nought.
export const clockOf = (ms) => {
  const s = Math.max(0, Math.round(ms / 1000));
  return Math.floor(s / 60) + ":" + String(s % 60).padStart(2, "0");
};

// ended marks the timers that have run out at a moment, and tells whether any has just now.
export const ended = (list, now) => {
  let just = false;
  for (const timer of list) {
    if (timer.rung || now < timer.until) continue;
    timer.rung = just = true;
  }
  return just;
};

let rung = 0; // the moment to be back at that has come

const tick = () => {
  for (const span of document.querySelectorAll("[data-timers] [data-since]")) {
    span.querySelector("b").textContent = clockOf(Date.now() - Number(span.dataset.since));
  }
  for (const span of document.querySelectorAll("[data-timers] [data-until]")) {
    const until = Number(span.dataset.until);
    span.querySelector("b").textContent = until > Date.now() ? clockOf(until - Date.now()) : t('now');
    if (until <= Date.now() && rung !== until) {
      rung = until;
      alarm();
    }
  }
  const own = document.querySelector("[data-own-timers]");
  if (!own) return;
  const kept = timers();
  if (ended(kept, Date.now())) {
    keep(key, kept);
    alarm();
  }
  const text = kept.map((timer) => timer.until + (timer.rung ? "!" : "")).join();
  if (own.dataset.shown !== text) {
    own.dataset.shown = text;
    own.replaceChildren(...kept.map(button));
  }
  own.querySelectorAll("b").forEach((b, i) => { if (kept[i]) b.textContent = kept[i].rung ? t('over') : clockOf(kept[i].until - Date.now()); });
};

const button = (timer) => {
  const stop = node("button", "", { type: "button", className: timer.rung ? "rung" : "" });
  stop.append(node("span", timer.minutes + " min "), node("b"));
  stop.setAttribute("aria-label", t('stop this timer'));
  stop.addEventListener("click", () => { keep(key, timers().filter((other) => other.until !== timer.until)); tick(); });
  return stop;
};

export const start = () => {
  if (!live()) return;
  for (const box of document.querySelectorAll("[data-set-timer]")) box.hidden = false;
  for (const set of document.querySelectorAll("[data-minutes]")) {
    set.addEventListener("click", () => {
      const minutes = Number(set.dataset.minutes);
      keep(key, [...timers(), { minutes, until: Date.now() + minutes * 60000 }].slice(-mostTimers));
      tick();
      shut(set.closest("details"));
    });
  }
  on("exchanged", tick);
  setInterval(tick, 1000);
  tick();
};

// The page at the stove follows what others log and thermometers report, part by part: the server
// sends what has changed. A reading is drawn at once, the number and the end of its pen.
import { look, reached } from "./away.js";
import { live, ring } from "./page.js";

// exchange takes newer parts, by name, and leaves the forms alone: what is typed stays. A tap under
// the focus becomes the one of now: what it says is what it does.
export const exchange = (parts) => {
  for (const part of document.querySelectorAll("[data-swap]")) {
    const next = parts[part.dataset.swap];
    if (next === undefined || next === part.innerHTML) continue;
    const focus = part.contains(document.activeElement) && document.activeElement, tap = focus && focus.closest("form[data-tap]")?.dataset.tap;
    if (focus && !tap || part.querySelector("details[open]:not([data-teaches])")) continue;
    part.innerHTML = next;
    if (tap) part.querySelector('form[data-tap="' + tap + '"] button')?.focus();
  }
  ring("exchanged");
};

// refresh asks for the whole page's parts: where nothing is heard, or something was lost.
export const refresh = async () => {
  const page = live();
  if (!page) return;
  try {
    const answer = await fetch(page.dataset.live, { headers: { Accept: "text/html" } });
    reached(answer.status < 500);
    if (!answer.ok || answer.redirected) return;
    const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
    exchange(Object.fromEntries([...fresh.querySelectorAll("[data-swap]")].map((part) => [part.dataset.swap, part.innerHTML])));
  } catch { reached(false); } // the next turn tries again
};

// shownIn is a temperature in the units of a strip.
export const shownIn = (unit, celsius) => (unit === "°F" ? celsius * 1.8 + 32 : celsius);

// dotAt is where a reading lies on a strip; null: on none of its pens.
export const dotAt = (d, { p, t, v }) => {
  const [y0, y1, v0, v1] = d.scale ?? [];
  if (!(y0 > y1) || !d.zero) return null;
  const minute = (t - d.zero) / 60000;
  if (!(minute >= d.from && minute <= d.to) || p.startsWith("room") || p === "draft" || p.startsWith("outdoor")) return null;
  return {
    x: d.left + (minute - d.from) / (d.to - d.from) * (d.right - d.left),
    y: Math.max(y1, y0 - (shownIn(d.unit, v) - v0) / (v1 - v0) * (y0 - y1)),
  };
};

const ink = (points) => {
  let unit = "°C";
  for (const svg of document.querySelectorAll(".live svg.strip")) {
    const d = JSON.parse(svg.dataset.strip);
    unit = d.unit;
    for (const at of points.map((point) => dotAt(d, point)).filter(Boolean)) {
      const dot = document.createElementNS("http://www.w3.org/2000/svg", "circle");
      for (const [name, value] of Object.entries({ class: "dot fresh", r: "2.4", cx: at.x, cy: at.y })) dot.setAttribute(name, value);
      svg.append(dot);
    }
  }
  const guide = document.querySelector("[data-guide]"), number = guide?.querySelector("[data-number]");
  const newest = points.filter(({ p }) => p === guide?.dataset.guide).at(-1);
  if (newest && number) number.textContent = Math.round(shownIn(unit, newest.v)) + "°";
};

export const start = () => {
  const page = live();
  if (!page) return;
  look(); // a page that was kept says at once that it is one
  if (!page.dataset.changes || !window.EventSource) return;
  let heard = false;
  const stream = new EventSource(page.dataset.changes);
  stream.addEventListener("open", () => {
    if (heard) refresh(); // something may have been lost
    heard = true;
    page.dataset.hears = "yes";
  });
  stream.addEventListener("parts", (e) => { reached(true); exchange(JSON.parse(e.data)); });
  stream.addEventListener("lost", () => refresh());
  stream.addEventListener("reading", (e) => ink(JSON.parse(e.data)));
  stream.addEventListener("error", () => { delete page.dataset.hears; look(); });
  addEventListener("pagehide", () => stream.close());
};

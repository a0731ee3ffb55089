// A strip's crosshair, and a stretch of a burn's strip that is looked at by dragging over it.
// A strip carries its scales as data-strip: from and to in minutes, left and right in its own
// units.

// clock is a minute of the day as it is read.
export const clock = (minutes) => {
  const m = ((Math.round(minutes) % 1440) + 1440) % 1440;
  return Math.floor(m / 60) + ":" + String(m % 60).padStart(2, "0");
};

// valueAt is what a pen shows at a minute, between two points that are no more than an hour
// apart; else null.
export const valueAt = (points, minute) => {
  for (let i = 1; i < points.length; i++) {
    const [a, va] = points[i - 1], [b, vb] = points[i];
    if (a <= minute && minute <= b && b - a <= 60) return b === a ? va : va + (vb - va) * (minute - a) / (b - a);
  }
  return null;
};

// minuteAt is the minute under a pointer, and minutesOver how many lie under so many pixels.
export const minuteAt = (d, box, view, clientX) => {
  const x = (clientX - box.left) / box.width * view;
  return d.from + Math.min(1, Math.max(0, (x - d.left) / (d.right - d.left))) * (d.to - d.from);
};
export const minutesOver = (d, box, view, by) => by / box.width * view / (d.right - d.left) * (d.to - d.from);

// on is the strip's data, box and width, as these take them.
export const on = (svg) => [JSON.parse(svg.dataset.strip), svg.getBoundingClientRect(), svg.viewBox.baseVal.width];

// component is the crosshair, for Alpine.
export const component = () => ({
  text: "",
  minute: null,
  chart() {
    for (const svg of this.$el.querySelectorAll("svg.strip")) if (svg.getBoundingClientRect().width > 0) return svg;
    return null;
  },
  show(minute) {
    const svg = this.chart();
    if (!svg) return;
    const d = JSON.parse(svg.dataset.strip);
    this.minute = Math.min(d.to, Math.max(d.from, minute));
    const x = d.left + (this.minute - d.from) / (d.to - d.from) * (d.right - d.left);
    const line = svg.querySelector(".cross");
    line.setAttribute("x1", x);
    line.setAttribute("x2", x);
    line.setAttribute("visibility", "visible");
    const said = [];
    for (const pen of d.pens) {
      const v = valueAt(pen.points, this.minute);
      if (v !== null) said.push(pen.name + " " + (pen.fine ? v.toFixed(1) : Math.round(v)) + " " + d.unit);
    }
    let moved = 0; // minutes that the clocks have been changed by
    for (const [from, by] of d.moves ?? []) if (this.minute >= from) moved = by;
    document.dispatchEvent(new CustomEvent("smolder:minute", { detail: this.minute }));
    this.text = (d.start >= 0 ? clock(d.start + this.minute + moved) : clock(this.minute)) + (said.length ? " · " + said.join(" · ") : "");
  },
  move(event) {
    const svg = this.chart();
    if (!svg) return;
    const d = JSON.parse(svg.dataset.strip), box = svg.getBoundingClientRect();
    const x = (event.clientX - box.left) / box.width * svg.viewBox.baseVal.width;
    if (x >= d.left && x <= d.right) this.show(d.from + (x - d.left) / (d.right - d.left) * (d.to - d.from));
  },
  key(event) {
    const step = { ArrowLeft: -5, ArrowRight: 5, PageUp: -60, PageDown: 60 }[event.key];
    if (!step) return;
    event.preventDefault();
    this.show((this.minute ?? 0) + step);
  },
});

// dragging opens the stretch that was dragged over. A finger scrolls: only a mouse drags.
export const dragging = () => {
  const zoomed = document.querySelector("[data-zoom]");
  if (!zoomed) return;
  const least = 24; // pixels: what is less was no dragging
  let from = null;
  zoomed.addEventListener("pointerdown", (e) => {
    const svg = e.target.closest("svg.strip");
    from = svg && e.pointerType === "mouse" && e.button === 0 ? { svg, x: e.clientX } : null;
  });
  addEventListener("pointerup", (e) => {
    const was = from;
    from = null;
    if (!was || Math.abs(e.clientX - was.x) < least) return;
    const [a, b] = [minuteAt(...on(was.svg), was.x), minuteAt(...on(was.svg), e.clientX)].sort((x, y) => x - y);
    const query = new URLSearchParams(location.search);
    query.set("from", a.toFixed(1));
    query.set("to", Math.max(b, a + 5).toFixed(1));
    location.href = "?" + query + "#" + (zoomed.dataset.zoom || "strip");
  });
};

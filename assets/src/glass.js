// A fire seen through the glass of its stove, drawn on a canvas from what the server says of a
// moment: wood and how black it is, coals and how they glow, flames, what burns at the second air,
// the catalyst, the glass, the cap, and dials of our own. No picture of a real stove stands behind it.

// between is a moment between two that are known: numbers go evenly, the wood is that of the later.
export const between = (frames, at) => {
  let i = frames.findIndex((f) => f.t >= at);
  if (i < 0) return frames.at(-1);
  if (i === 0) return frames[0];
  const a = frames[i - 1], b = frames[i], w = (at - a.t) / Math.max(1e-9, b.t - a.t);
  const mix = (x, y) => x + (y - x) * w;
  const out = { ...b, t: at, gauges: b.gauges.map((v, k) => mix(a.gauges[k] ?? v, v)) };
  for (const name of ["bed", "glow", "reach", "burns", "jets", "comb", "glass", "dense", "vapour", "room"]) out[name] = mix(a[name], b[name]);
  if (a.lying.length === b.lying.length) {
    out.lying = b.lying.map((l, k) => (a.lying[k].n === l.n ? { ...l, l: mix(a.lying[k].l, l.l), b: mix(a.lying[k].b, l.b), f: mix(a.lying[k].f, l.f) } : l));
  }
  return out;
};

// Where things stand on the canvas, in its own units of 640 × 430.
const wide = 640, tall = 430;
const box = { left: 22, top: 22, right: 452, bottom: 396, floor: 372, baffle: 58 };
const cap = { left: 486, right: 618, top: 14, bottom: 128 };

// noise is a wavering between −1 and 1 that never repeats soon.
const noise = (seed, time) => (Math.sin(time * 1.7 + seed * 12.9) + Math.sin(time * 2.9 + seed * 7.3) + Math.sin(time * 0.83 + seed * 3.1)) / 3;
const chance = (seed) => { const v = Math.sin(seed * 127.1 + 11.7) * 43758.5453; return v - Math.floor(v); };
const clamp = (v, low, high) => Math.max(low, Math.min(high, v));
const rgb = (a, b, w) => "rgb(" + a.map((v, i) => Math.round(v + (b[i] - v) * clamp(w, 0, 1))).join(",") + ")";

const grey = [58, 54, 52], red = [170, 38, 14], hot = [255, 150, 52], pale = [255, 226, 150];
const glowing = (celsius) => (celsius < 560 ? rgb(grey, red, (celsius - 380) / 180) : celsius < 900 ? rgb(red, hot, (celsius - 560) / 340) : rgb(hot, pale, (celsius - 900) / 300));

const bricks = (g) => {
  g.fillStyle = "#191411";
  g.fillRect(box.left, box.top, box.right - box.left, box.bottom - box.top);
  g.strokeStyle = "#241d18";
  g.lineWidth = 1.5;
  for (let row = 0; row < 8; row++) {
    const y = box.top + row * 47;
    g.beginPath();
    g.moveTo(box.left, y);
    g.lineTo(box.right, y);
    for (let x = box.left + (row % 2 ? 36 : 0); x < box.right; x += 72) { g.moveTo(x, y); g.lineTo(x, y + 47); }
    g.stroke();
  }
};

const coals = (g, f, time) => {
  const deep = clamp(f.bed, 0, 1.4) * 46;
  if (f.bed < 0.02) return;
  const n = Math.round(24 + clamp(f.bed, 0, 1.3) * 90), spread = 0.35 + 0.65 * clamp(f.bed, 0, 1);
  for (let i = 0; i < n; i++) {
    const x = (box.left + box.right) / 2 + (chance(i) - 0.5) * (box.right - box.left - 40) * spread;
    const y = box.floor + 14 - chance(i + 500) * deep * (1 - Math.abs(x - 237) / 330);
    const at = f.glow * (0.86 + 0.14 * chance(i + 900)) + noise(i, time * 0.6) * 26;
    g.fillStyle = glowing(at);
    g.beginPath();
    g.ellipse(x, y, 7 + 7 * chance(i + 300), 5 + 3 * chance(i + 700), chance(i) * 3, 0, 7);
    g.fill();
  }
};

// pile lays the pieces of a moment: where each one is, the lowest first.
export const pile = (lying, from) => {
  const out = [];
  let y = from;
  for (const l of [...lying].sort((a, b) => (a.k ? 1 : 0) - (b.k ? 1 : 0))) {
    const shown = Math.min(l.n, l.k ? 12 : 10), across = l.k ? 4 : shown > 4 ? 2 : 1;
    const thick = (l.k ? 8 : across === 2 ? 26 : 34) * Math.sqrt(clamp(l.l, 0.03, 1)), long = (l.k ? 92 : across === 2 ? 172 : 250) * (0.9 + 0.1 * l.l);
    for (let i = 0; i < shown; i++) {
      const row = Math.floor(i / across), column = i % across, inRow = Math.min(across, shown - row * across);
      out.push({ x: 237 + (column - (inRow - 1) / 2) * (long + 6) + (chance(i + out.length) - 0.5) * 12, y: y - row * thick * 0.94 - thick / 2, long, thick, turn: (chance(i * 3 + out.length) - 0.5) * (l.k ? 0.5 : 0.09), of: l });
    }
    y -= Math.ceil(shown / across) * thick * 0.94;
  }
  return { pieces: out, top: y };
};

const wood = (g, pieces, f, time) => {
  for (const [i, p] of pieces.entries()) {
    const black = clamp(p.of.b, 0, 1);
    g.save();
    g.translate(p.x, p.y);
    g.rotate(p.turn);
    g.fillStyle = rgb([176, 134, 84], [30, 25, 22], black);
    g.beginPath();
    g.roundRect(-p.long / 2, -p.thick / 2, p.long, p.thick, Math.min(7, p.thick / 2));
    g.fill();
    g.strokeStyle = rgb([112, 80, 46], [12, 10, 9], black);
    g.lineWidth = 1.2;
    for (const at of [-0.22, 0.12, 0.3]) {
      g.beginPath();
      g.moveTo(-p.long / 2 + 5, at * p.thick);
      g.lineTo(p.long / 2 - 5, at * p.thick + 2 * chance(i));
      g.stroke();
    }
    // What glows shows in its cracks.
    const ember = black * clamp((f.glow - 420) / 400, 0, 1) * (0.35 + 0.65 * p.of.f);
    if (ember > 0.05) {
      g.strokeStyle = "rgba(255,120,40," + ember * (0.6 + 0.3 * noise(i, time)) + ")";
      g.lineWidth = 2;
      for (let k = 0; k < 6; k++) {
        const x = (chance(i * 7 + k) - 0.5) * p.long * 0.9;
        g.beginPath();
        g.moveTo(x, -p.thick / 2);
        g.lineTo(x + (chance(k) - 0.5) * 14, p.thick / 2);
        g.stroke();
      }
    }
    g.restore();
  }
};

const tongue = (g, x, base, high, half, lean) => {
  g.beginPath();
  g.moveTo(x - half, base);
  g.bezierCurveTo(x - half * 1.15, base - high * 0.45, x + lean - half * 0.3, base - high * 0.6, x + lean, base - high);
  g.bezierCurveTo(x + lean + half * 0.35, base - high * 0.55, x + half * 1.1, base - high * 0.4, x + half, base);
  g.closePath();
  g.fill();
};

// flames stand behind the wood, high, and lick round its front, low.
const flames = (g, f, pieces, top, time, front) => {
  const burns = clamp(f.burns, 0, 1.6);
  if (burns < 0.015) return;
  const left = Math.min(...pieces.map((p) => p.x - p.long / 2)) + 8, right = Math.max(...pieces.map((p) => p.x + p.long / 2)) - 8;
  const n = Math.round((front ? 3 : 4) + (front ? 4 : 7) * clamp(burns * 1.5, 0, 1)), deep = box.floor - top;
  const base = front ? top + Math.min(deep, 46) : top + Math.min(deep, 26), high = (clamp(f.reach, 0.1, 1.25) * (top - box.baffle) + 34) * (front ? 0.34 : 1);
  const speed = 1.2 + 2.4 * clamp(burns, 0, 1), half = (right - left) / n * (front ? 0.42 : 0.62);
  g.globalCompositeOperation = "screen";
  const layers = front ? [["rgba(196,74,18,0.34)", 1], ["rgba(255,176,84,0.3)", 0.6]]
    : [["rgba(128,30,8,0.55)", 1], ["rgba(206,84,20,0.5)", 0.8], ["rgba(255,158,58,0.42)", 0.58], ["rgba(255,226,160,0.4)", 0.34]];
  for (const [colour, size] of layers) {
    g.fillStyle = colour;
    for (let i = 0; i < n; i++) {
      const k = front ? i + 60 : i;
      const x = left + (right - left) * (i + 0.5 + 0.9 * (chance(k + 20) - 0.5)) / n + noise(k, time * speed * 0.4) * 8;
      const own = high * size * (0.55 + 0.4 * chance(k + 40) + 0.2 * noise(k + 9, time * speed));
      tongue(g, x, base + (1 - size) * 10, own, half * (0.45 + 0.55 * size) * (0.7 + 0.7 * chance(k + 80)), noise(k + 3, time * speed * 0.8) * own * 0.18);
    }
  }
  g.globalCompositeOperation = "source-over";
};

const second = (g, f, time) => {
  if (f.jets < 0.04) return;
  g.globalCompositeOperation = "lighter";
  for (let i = 0; i < 11; i++) {
    const x = box.left + 34 + i * 37, out = 16 + 12 * f.jets + 7 * noise(i, time * 4);
    g.fillStyle = "rgba(255,170,70," + 0.7 * f.jets + ")";
    g.beginPath();
    g.moveTo(x - 4, box.baffle - 8);
    g.quadraticCurveTo(x + 6 * noise(i + 5, time * 3), box.baffle + out * 0.5, x + 8 * noise(i, time * 2), box.baffle + out);
    g.quadraticCurveTo(x + 10, box.baffle + out * 0.4, x + 5, box.baffle - 8);
    g.fill();
  }
  g.globalCompositeOperation = "source-over";
};

const above = (g, f, conf) => {
  g.fillStyle = "#3a332e";
  g.fillRect(box.left, box.baffle - 16, box.right - box.left, 9);
  if (conf.second) {
    g.fillStyle = "#0d0b0a";
    for (let i = 0; i < 11; i++) g.fillRect(box.left + 31 + i * 37, box.baffle - 10, 6, 4);
  }
  if (!conf.comb) return;
  g.fillStyle = f.comb > 380 ? glowing(f.comb) : "#4a423c";
  g.fillRect(150, box.top + 2, 174, 18);
  g.strokeStyle = "#1b1613";
  g.lineWidth = 1;
  for (let x = 158; x < 324; x += 9) { g.beginPath(); g.moveTo(x, box.top + 2); g.lineTo(x, box.top + 20); g.stroke(); }
};

const pane = (g, f, state, ink, time) => {
  if (f.dense > 1 && f.burns < 0.1) {
    g.fillStyle = "rgba(120,120,124," + clamp(f.dense * 0.09, 0, 0.5) + ")";
    g.fillRect(box.left, box.top, box.right - box.left, box.bottom - box.top);
  }
  if (state.door !== 2 && f.glass > 0.01) {
    const soot = g.createRadialGradient(237, 220, 60, 237, 220, 330);
    soot.addColorStop(0, "rgba(16,10,6," + 0.72 * f.glass + ")");
    soot.addColorStop(1, "rgba(16,10,6," + Math.min(0.96, 1.5 * f.glass) + ")");
    g.fillStyle = soot;
    g.fillRect(box.left, box.top, box.right - box.left, box.bottom - box.top);
  }
  g.strokeStyle = ink;
  g.lineWidth = 5;
  g.strokeRect(box.left - 4, box.top - 4, box.right - box.left + 8, box.bottom - box.top + 8);
  // The door: on its frame, a hand's breadth off it, or swung away.
  g.lineWidth = 3;
  if (state.door > 0) {
    const off = state.door === 1 ? 10 : 34;
    g.beginPath();
    g.moveTo(box.right + 4, box.top - 4);
    g.lineTo(box.right + 4 + off, box.top + 6);
    g.lineTo(box.right + 4 + off, box.bottom - 6);
    g.lineTo(box.right + 4, box.bottom + 4);
    g.stroke();
  }
  if (f.spills) {
    for (let i = 0; i < 9; i++) {
      const up = (time * 0.35 + chance(i)) % 1;
      g.fillStyle = "rgba(120,122,130," + 0.45 * (1 - up) + ")";
      g.beginPath();
      g.arc(box.left + 60 + chance(i + 4) * 330, box.top + 8 - up * 26, 8 + 16 * up, 0, 7);
      g.fill();
    }
  }
};

const chimney = (g, f, ink, time) => {
  const middle = (cap.left + cap.right) / 2, mouth = cap.bottom - 34;
  // From where on it is smoke and not clear, and when vapour hides it, is as the description says it.
  const smoke = clamp(f.dense, 0, 8), vapour = clamp(f.vapour - 0.6, 0, 2), seen = f.dense >= 1 || f.vapour >= 1;
  const white = f.vapour >= 1 && f.dense < 2, n = seen ? 16 : f.burns > 0.02 ? 5 : 0;
  for (let i = 0; i < n; i++) {
    const up = (time * (0.16 + 0.05 * chance(i)) + chance(i + 60)) % 1;
    const strength = seen ? Math.min(0.62, 0.1 + 0.1 * smoke + 0.2 * vapour) : 0.05;
    g.fillStyle = (white ? "rgba(196,200,204," : "rgba(96,106,126,") + strength * (1 - up) + ")";
    g.beginPath();
    g.arc(middle + up * (18 + 34 * chance(i + 7)) + noise(i, time * 0.5) * 6, mouth - up * 76, 5 + 19 * up, 0, 7);
    g.fill();
  }
  g.strokeStyle = ink;
  g.lineWidth = 2;
  g.strokeRect(middle - 15, mouth, 30, 34);
  g.beginPath();
  g.moveTo(cap.left, cap.bottom);
  g.lineTo(cap.right, cap.bottom);
  g.moveTo(middle - 20, mouth);
  g.lineTo(middle + 20, mouth);
  g.stroke();
};

// dial is a quarter of a circle: cold lies to the right, hot stands up; where it works is a broad
// line, where it is too hot a row of strokes.
const dial = (g, gauge, value, at, colours) => {
  const { x, y, r } = at, angle = (v) => -Math.PI / 2 * clamp(v / gauge.top, 0, 1);
  const on = (v, far) => [x + Math.cos(angle(v)) * far, y + Math.sin(angle(v)) * far];
  g.strokeStyle = colours.hair;
  g.lineWidth = 1.5;
  g.beginPath();
  g.arc(x, y, r, 0, -Math.PI / 2, true);
  g.stroke();
  g.strokeStyle = colours.ink;
  g.lineWidth = 6;
  g.beginPath();
  g.arc(x, y, r - 4, angle(gauge.low), angle(gauge.high), true);
  g.stroke();
  g.strokeStyle = colours.ember;
  g.lineWidth = 2;
  for (let v = gauge.hot; v <= gauge.top + 1e-6; v += (gauge.top - gauge.hot) / 5) {
    g.beginPath();
    g.moveTo(...on(v, r - 9));
    g.lineTo(...on(v, r + 2));
    g.stroke();
  }
  g.strokeStyle = value >= gauge.hot ? colours.ember : colours.ink;
  g.lineWidth = 2.5;
  g.beginPath();
  g.moveTo(x, y);
  g.lineTo(...on(value, r - 2));
  g.stroke();
  g.fillStyle = colours.ink;
  g.beginPath();
  g.arc(x, y, 4, 0, 7);
  g.fill();
  g.font = "12px " + colours.font;
  g.textAlign = "right";
  g.fillText(gauge.name, x + r, y + 17);
};

// draw draws a moment; time is in seconds, for what flickers.
export const draw = (g, f, state, conf, colours, time) => {
  g.clearRect(0, 0, wide, tall);
  g.save();
  g.beginPath();
  g.rect(box.left, box.top, box.right - box.left, box.bottom - box.top);
  g.clip();
  bricks(g);
  above(g, f, conf);
  coals(g, f, time);
  const { pieces, top } = pile(f.lying, box.floor + 12 - clamp(f.bed, 0, 1.2) * 26);
  const over = pieces.length ? pieces : [{ x: 237, long: 200 }]; // a last flame over the coals
  flames(g, f, over, top, time, false);
  wood(g, pieces, f, time);
  flames(g, f, over, top, time, true);
  if (f.lying.some((l) => l.m) && f.burns < 0.1) {
    g.globalCompositeOperation = "lighter";
    g.fillStyle = "rgba(255,180,80,0.7)";
    tongue(g, 237, top + 6, 22 + 6 * noise(1, time * 4), 7, 3 * noise(2, time * 3));
    g.globalCompositeOperation = "source-over";
  }
  second(g, f, time);
  if (f.burns > 0.02) { // what it lights
    const light = g.createRadialGradient(237, 300, 30, 237, 260, 330);
    light.addColorStop(0, "rgba(255,150,60," + 0.13 * clamp(f.burns, 0, 1.2) + ")");
    light.addColorStop(1, "rgba(255,120,40,0)");
    g.fillStyle = light;
    g.fillRect(box.left, box.top, box.right - box.left, box.bottom - box.top);
  }
  g.restore();
  pane(g, f, state, colours.ink, time);
  chimney(g, f, colours.ink, time);
  conf.gauges.slice(0, 3).forEach((gauge, i) => dial(g, gauge, f.gauges[i], { x: 506, y: 226 + i * 92, r: 74 }, colours));
};

// fit makes a canvas as sharp as its screen, and returns what draws on it.
export const fit = (canvas) => {
  const scale = Math.min(2, window.devicePixelRatio || 1);
  canvas.width = wide * scale;
  canvas.height = tall * scale;
  const g = canvas.getContext("2d");
  g.setTransform(scale, 0, 0, scale, 0, 0);
  return g;
};

// coloursOf are the page's.
export const coloursOf = (root) => {
  const style = getComputedStyle(root), of = (name) => style.getPropertyValue(name).trim();
  return { ink: of("--ink"), ember: of("--ember"), hair: of("--quiet"), font: style.fontFamily };
};

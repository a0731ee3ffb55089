// Practice: the fire burns on the server, which says what is seen at some moments ahead; here the
// time between is drawn, thirty times a second, and what a hand does is sent at once. Without a
// script every button sends its form, and the page says the fire in words.
import { between, coloursOf, draw, fit } from "./glass.js";
import { clock } from "./strip.js";
import { t } from "./words.js";

// passFor is how much time is asked for at once, s: enough for more than half a second of drawing, and whole steps of the fire.
export const passFor = (pace) => Math.max(2, 2 * Math.round(pace * 0.35));

const frameEvery = 1000 / 30;

// following are the page's colours, also when the device turns dark meanwhile.
const following = (root) => {
  let colours = coloursOf(root);
  matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => { colours = coloursOf(root); });
  return () => colours;
};

const begin = (root) => {
  const conf = JSON.parse(root.dataset.practice), canvas = root.querySelector("canvas"), g = fit(canvas);
  const inks = following(root);
  const at = (name) => root.querySelector("[data-" + name + "]");
  const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  let state = JSON.parse(root.dataset.first), frames = [...state.frames], known = frames.at(-1).t, shown = known;
  let running = false, pace = 20, waiting = null, last = 0, drawn = 0, due = false;

  const text = (node, says) => { if (node && node.textContent !== says) node.textContent = says; };
  const hint = (h) => {
    const place = at("hint"), key = JSON.stringify(h ?? null);
    if (place.dataset.key === key) return;
    place.dataset.key = key;
    place.replaceChildren();
    if (!h) return;
    const add = (says, name) => { const p = document.createElement("p"); p.className = name; p.textContent = says; place.append(p); };
    add(h.do, h.now ? "do" : "");
    if (h.why) add(h.why, "why");
    if (h.does) {
      const button = document.createElement("button");
      button.type = "button";
      button.className = "tap";
      button.textContent = t("Do it");
      button.addEventListener("click", () => send({ kind: "hint" }));
      place.append(button);
    }
  };
  const show = (a) => {
    state = a;
    text(at("clock"), a.clock);
    text(at("left"), t("{0} left", a.left));
    text(at("seen"), a.says);
    text(at("laid"), a.laid ?? "");
    if (a.happened?.length) text(at("happened"), a.happened.join(" "));
    hint(a.hint);
    for (const [key, mark] of Object.entries(a.marks)) {
      text(root.querySelector('[data-mark="' + key + '"]'), mark);
      const slide = root.querySelector('[data-control="' + key + '"]');
      if (slide && document.activeElement !== slide) slide.value = 100 * a.controls[key];
    }
    for (const button of root.querySelectorAll("[data-door]")) button.setAttribute("aria-pressed", String(Number(button.dataset.door) === a.door));
    for (const [name, on] of [["window", a.window], ["fan", a.fan]]) {
      at(name)?.setAttribute("aria-pressed", String(!!on));
      root.querySelector('[data-other="' + name + '"]').value = on ? "" : "1";
    }
    at("load").value = a.burns ? "load" : "lay";
    at("load-word").textContent = a.burns ? at("load-word").dataset.lit : at("load-word").dataset.laid;
    at("unlit").hidden = !!a.burns;
    const refused = at("refused");
    refused.hidden = !a.refused;
    text(refused, a.refused ?? "");
    if (a.hint?.now && !due) run(false); // what is due is not run past
    due = !!a.hint?.now;
    if (a.over) { location.reload(); running = false; }
  };
  // One thing after the other: what is done stands before what comes of it.
  const send = (fields) => {
    waiting = (waiting ?? Promise.resolve()).then(async () => {
      const body = new URLSearchParams({ ...fields, at: String(known), "shown-in": conf.unit === "°F" ? "imperial" : "metric" });
      const answer = await fetch("/practice/" + conf.id + "/do", { method: "POST", body, headers: { Accept: "application/json" } }).catch(() => null);
      if (!answer) { run(false); text(at("happened"), t("The server does not answer. Nothing is lost: go on when it does.")); return; }
      if (answer.status === 409) { location.reload(); return; }
      const a = await answer.json().catch(() => null);
      if (!a) { run(false); return; }
      if (!a.frames) { location.reload(); return; }
      const acted = !!fields.kind;
      frames.push(...a.frames.filter((f) => f.t > known || acted));
      if (acted) { frames = a.frames; shown = Math.max(shown, a.frames[0].t); }
      known = a.frames.at(-1).t;
      if (!running) shown = known;
      show(a);
    });
    const mine = waiting;
    mine.then(() => { if (waiting === mine) waiting = null; });
    return mine;
  };
  const run = (on) => {
    running = on;
    text(at("run"), on ? t("Stop") : t("Run"));
    at("run").setAttribute("aria-pressed", String(on));
  };
  const turn = (now) => {
    requestAnimationFrame(turn);
    if (now - drawn < frameEvery - 2) return;
    const by = Math.min(0.25, (now - (last || now)) / 1000);
    last = drawn = now;
    if (running) {
      shown = Math.min(known, shown + by * pace);
      if (!waiting && known - shown < passFor(pace)) send({ pass: passFor(pace) });
      while (frames.length > 2 && frames[1].t < shown) frames.shift();
    }
    const f = between(frames, shown);
    draw(g, f, state, conf, inks(), still ? 0 : now / 1000);
    root.querySelectorAll("[data-dial]").forEach((node, i) => text(node, Math.round(f.gauges[i] ?? f.room) + " " + conf.unit));
    root.dataset.drawn = String(Number(root.dataset.drawn ?? 0) + 1);
  };

  for (const name of ["run", "paces"]) at(name).hidden = false;
  for (const button of root.querySelectorAll("[data-without]")) button.hidden = true;
  at("run").addEventListener("click", () => run(!running));
  at("pace").addEventListener("change", (e) => { pace = Number(e.target.value); });
  root.addEventListener("submit", (e) => {
    const form = e.target.closest("form[data-act]");
    if (!form) return;
    e.preventDefault();
    send(Object.fromEntries(new FormData(form)));
  });
  root.addEventListener("change", (e) => {
    if (e.target.dataset.control) send({ kind: "control", control: e.target.dataset.control, opening: e.target.value });
  });
  document.addEventListener("keydown", (e) => {
    if (e.ctrlKey || e.metaKey || e.altKey || e.target.matches?.("input, select, textarea, button, summary, a")) return;
    const main = root.querySelector("[data-main]");
    const does = {
      " ": () => run(!running),
      ArrowUp: () => main && moved(main, 1), ArrowDown: () => main && moved(main, -1),
      d: () => send({ kind: "door", door: (state.door + 1) % 3 }), k: () => send({ kind: "kindling" }), r: () => send({ kind: "rake" }), h: () => state.hint?.does && send({ kind: "hint" }),
      l: () => root.querySelector("form.load input[name=pieces]").focus(),
    }[e.key];
    if (!does) return;
    e.preventDefault();
    does();
  });
  const moved = (slide, by) => {
    slide.value = Number(slide.value) + by * Number(slide.dataset.step);
    send({ kind: "control", control: slide.dataset.control, opening: slide.value });
  };
  hint(state.hint);
  due = !!state.hint?.now;
  run(false);
  requestAnimationFrame(turn);
};

// A stretch of a burn, gone through: it plays, stops, and can be looked at minute by minute.
const play = (root) => {
  const conf = JSON.parse(root.dataset.play), frames = JSON.parse(root.dataset.frames), g = fit(root.querySelector("canvas")), inks = following(root);
  const run = root.querySelector("[data-run]"), to = root.querySelector("[data-to]"), still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  const from = frames[0].t, until = frames.at(-1).t, lasts = Math.max(1, until - from);
  let shown = until > from ? from : until, running = !still && until > from, last = 0, drawn = 0;
  const says = () => { run.textContent = running ? t("Stop") : t("Run"); };
  const turn = (now) => {
    requestAnimationFrame(turn);
    if (now - drawn < frameEvery - 2) return;
    if (running) shown = Math.min(until, shown + Math.min(0.25, (now - (last || now)) / 1000) * Math.max(60, lasts / 12));
    if (shown >= until && running) { running = false; says(); }
    last = drawn = now;
    to.value = 1000 * (shown - from) / lasts;
    const f = between(frames, shown);
    root.querySelector("[data-clock]").textContent = clock(Number(root.dataset.zero) + shown / 60).padStart(5, "0");
    draw(g, f, { door: f.door }, conf, inks(), still ? 0 : now / 1000);
    root.querySelectorAll("[data-dial]").forEach((node, i) => { node.textContent = Math.round(f.gauges[i] ?? f.room) + " " + conf.unit; });
    root.dataset.drawn = String(Number(root.dataset.drawn ?? 0) + 1);
  };
  run.hidden = root.querySelector("[data-scrub]").hidden = false;
  run.addEventListener("click", () => {
    if (!running && shown >= until) shown = from;
    running = !running;
    says();
  });
  to.addEventListener("input", () => { running = false; shown = from + Number(to.value) / 1000 * lasts; says(); });
  says();
  requestAnimationFrame(turn);
};

// What each setting gives: a strip along which one slides.
const along = (root) => {
  const rows = [...root.querySelectorAll("[data-given-row]")], slide = root.querySelector("[data-given-at]"), says = root.querySelector("[data-given-says]");
  const show = () => {
    const off = (r) => Math.abs(Number(r.dataset.givenRow) - Number(slide.value));
    const row = rows.reduce((best, r) => (off(r) < off(best) ? r : best)), [mark, heat, hours, smoke, warn] = [...row.cells].map((c) => c.textContent.trim());
    says.textContent = mark + ": " + [heat, hours, smoke].join(" · ") + (warn ? " · " + warn : "");
    rows.forEach((r) => r.classList.toggle("chosen", r === row));
    for (const svg of root.querySelectorAll("svg.given")) {
      const [left, right] = [Number(svg.dataset.left), Number(svg.dataset.right)], x = left + Number(row.dataset.givenRow) / 100 * (right - left), line = svg.querySelector(".cross");
      line.setAttribute("x1", x);
      line.setAttribute("x2", x);
      line.setAttribute("visibility", "visible");
    }
  };
  slide.hidden = false;
  slide.addEventListener("input", show);
  show();
};

export const start = () => {
  const root = document.querySelector("[data-practice]");
  if (root) begin(root);
  const played = document.querySelector("[data-play]");
  if (played) play(played);
  const given = document.querySelector("[data-given]");
  if (given) along(given);
};

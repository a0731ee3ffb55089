// What Smolder's pages do beyond plain HTML: say what a field understood, show
// a crosshair on the strip, and take entries at the stove without waiting for
// the network. Every page works without this file.
(() => {
  "use strict";

  // --- fields say what they understood -------------------------------------
  const understand = async (input) => {
    const out = input.closest("label, .sheet, span")?.querySelector(".understood");
    if (!out) return;
    if (!input.value.trim()) { out.textContent = ""; return; }
    const query = new URLSearchParams({ kind: input.dataset.understand, typed: input.value });
    try {
      const answer = await fetch("/understand?" + query, { headers: { Accept: "application/json" } });
      const body = await answer.json();
      out.textContent = answer.ok ? "= " + body.understood : body.error;
    } catch { out.textContent = ""; }
  };
  document.addEventListener("change", (e) => {
    if (e.target.matches?.("input[data-understand]")) understand(e.target);
  });

  // --- a form that is answered at every change ------------------------------
  // Or whose drawing beside it is: one that is sent elsewhere when it is done.
  // Only the newest answer counts; the parts marked data-swap are exchanged and
  // the address follows, so that the page can be kept and sent on.
  let asked = 0;
  const ask = async (form) => {
    const mine = ++asked;
    const query = new URLSearchParams(new FormData(form));
    const beside = form.dataset.beside; // a drawing of what is told so far
    const to = (beside ?? form.getAttribute("action")) + "?" + query;
    const answer = await fetch(to + "&part=1").catch(() => null);
    if (!answer || mine !== asked) return;
    const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
    for (const part of document.querySelectorAll("[data-swap]")) {
      const next = fresh.querySelector('[data-swap="' + CSS.escape(part.dataset.swap) + '"]');
      if (next) part.innerHTML = next.innerHTML;
    }
    if (!beside) history.replaceState(null, "", to);
  };
  document.addEventListener("input", (e) => {
    const form = e.target.closest?.("form[data-quick], form[data-beside]");
    if (form) ask(form);
  });

  // --- times and days by the browser's own controls ---------------------------
  // The words stay: what is picked is written into the field as it would be typed.
  const picture = {
    time: '<circle cx="9" cy="9" r="7"/><path d="M9 5v4l3 2"/>',
    date: '<rect x="2" y="3.5" width="14" height="12"/><path d="M2 7.5h14M6 1.5v3M12 1.5v3"/>',
  };
  for (const field of document.querySelectorAll("input[data-pick]")) {
    const kind = field.dataset.pick;
    const box = document.createElement("span");
    box.className = "pick";
    const native = Object.assign(document.createElement("input"), { type: kind, tabIndex: -1 });
    native.setAttribute("aria-hidden", "true");
    const button = Object.assign(document.createElement("button"), { type: "button" });
    button.setAttribute("aria-label", kind === "time" ? "by the clock" : "by the calendar");
    button.innerHTML = `<svg viewBox="0 0 18 18" width="18" height="18" aria-hidden="true">${picture[kind === "time" ? "time" : "date"]}</svg>`;
    button.addEventListener("click", () => { try { native.showPicker(); } catch { native.focus(); } });
    native.addEventListener("change", () => {
      if (!native.value) return;
      field.value = native.value.replace("T", " ");
      for (const event of ["input", "change"]) field.dispatchEvent(new Event(event, { bubbles: true }));
    });
    box.append(button, native);
    field.after(box);
    field.classList.add("has-pick");
  }

  // --- long lists are searched ------------------------------------------------
  const long = 10;
  const matches = (text, sought) => sought.toLowerCase().split(/\s+/).every((word) => text.toLowerCase().includes(word));
  const finder = (of, found) => {
    const find = Object.assign(document.createElement("input"), { type: "search", className: "find", placeholder: "find", autocomplete: "off" });
    find.setAttribute("aria-label", "find in " + of);
    find.addEventListener("input", (e) => { e.stopPropagation(); found(find.value.trim()); });
    find.addEventListener("keydown", (e) => { if (e.key === "Enter") e.preventDefault(); });
    return find;
  };
  for (const list of document.querySelectorAll("select:is([name=wood], [name=wood2], [name=stack], [name=kindling], [name=other-wood], [name=species])")) {
    if (list.options.length <= long) continue;
    const of = list.closest("label")?.querySelector("span")?.textContent ?? "the list";
    const find = finder(of, (sought) => {
      for (const option of list.options) option.hidden = option.disabled = !matches(option.textContent, sought);
      if (list.selectedOptions[0]?.disabled) {
        const first = [...list.options].find((option) => !option.disabled);
        if (first) { list.value = first.value; list.dispatchEvent(new Event("input", { bubbles: true })); }
      }
    });
    list.after(find); // a label names the first of its controls
    list.form?.addEventListener("submit", () => { for (const option of list.options) option.disabled = false; });
  }
  for (const table of document.querySelectorAll("table[data-find]")) {
    const rows = [...table.tBodies[0].rows];
    if (rows.length <= long) continue;
    table.before(finder(table.dataset.find, (sought) => { for (const row of rows) row.hidden = !matches(row.textContent, sought); }));
  }

  // --- the strip's crosshair -----------------------------------------------
  const clock = (minutes) => {
    const m = ((Math.round(minutes) % 1440) + 1440) % 1440;
    return Math.floor(m / 60) + ":" + String(m % 60).padStart(2, "0");
  };
  const valueAt = (points, minute) => {
    for (let i = 1; i < points.length; i++) {
      const [a, va] = points[i - 1], [b, vb] = points[i];
      if (a <= minute && minute <= b && b - a <= 60) return b === a ? va : va + (vb - va) * (minute - a) / (b - a);
    }
    return null;
  };
  document.addEventListener("alpine:init", () => {
    Alpine.data("strip", () => ({
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
          if (v !== null) said.push(pen.name + " " + (pen.name.startsWith("room") ? v.toFixed(1) : Math.round(v)) + " " + d.unit);
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
    }));
    // Long work says how far it is; short work says nothing. What was said stays
    // until the answer is there.
    Alpine.data("working", () => ({
      busy: false,
      said: "",
      over: false,
      start() {
        this.over = false;
        this.said = (this.$root.dataset.works ?? "Burning fires to find the best") + "…";
        this.ask();
        setTimeout(() => { this.busy = !this.over; }, 300);
      },
      async ask() {
        const name = this.$root.querySelector("[name=search]")?.value ?? "";
        const answer = await fetch("/plan/progress?search=" + encodeURIComponent(name), { headers: { Accept: "application/json" } }).catch(() => null);
        const body = answer?.ok ? await answer.json().catch(() => null) : null;
        if (body?.waiting) this.said = body.waiting === 1 ? "One search comes before yours…" : `${body.waiting} searches come before yours…`;
        else if (body?.of && this.$root.dataset.works) this.said = `${this.$root.dataset.works}: ${body.burnt} of ${body.of} ${this.$root.dataset.what} so far…`;
        else if (body?.of) this.said = `Burning fires to find the best: ${body.burnt} of ${body.of} so far…`;
        if (!this.over) setTimeout(() => this.ask(), 150);
      },
      init() {
        addEventListener("pageshow", () => { this.busy = false; this.over = true; });
      },
    }));
  });

  // --- a stretch of a burn's strip is looked at by dragging over it --------------
  const zoomed = document.querySelector("[data-zoom]");
  if (zoomed) {
    let from = null;
    const minuteAt = (svg, clientX) => {
      const d = JSON.parse(svg.dataset.strip), box = svg.getBoundingClientRect();
      const x = (clientX - box.left) / box.width * svg.viewBox.baseVal.width;
      return d.from + Math.min(1, Math.max(0, (x - d.left) / (d.right - d.left))) * (d.to - d.from);
    };
    zoomed.addEventListener("pointerdown", (e) => {
      const svg = e.target.closest("svg.strip");
      from = svg && e.pointerType === "mouse" && e.button === 0 ? { svg, x: e.clientX } : null;
    });
    addEventListener("pointerup", (e) => {
      const was = from;
      from = null;
      if (!was || Math.abs(e.clientX - was.x) < 24) return;
      const [a, b] = [minuteAt(was.svg, was.x), minuteAt(was.svg, e.clientX)].sort((x, y) => x - y);
      const query = new URLSearchParams(location.search);
      query.set("from", a.toFixed(1));
      query.set("to", Math.max(b, a + 5).toFixed(1));
      location.href = "?" + query + "#strip";
    });
  }

  // --- what would have been: tabs that are moved along the strip ---------------
  // The changes stand in the address. A tab is taken with the pointer, or chosen and
  // moved by keys; when it is let go the server burns the evening again and the strip
  // is exchanged. Only the newest answer counts.
  const tried = document.querySelector("[data-otherwise]");
  if (tried) {
    const changes = () => {
      const list = new Map();
      for (const e of new URLSearchParams(location.search).getAll("e")) {
        const [kind, id] = e.split(":");
        list.set(kind + ":" + (["later", "to", "without"].includes(kind) ? id : e), e);
      }
      return list;
    };
    let turn = 0;
    const go = async (list, entry) => {
      const mine = ++turn, query = new URLSearchParams();
      for (const e of list.values()) query.append("e", e);
      const to = tried.dataset.otherwise + "?" + query;
      tried.setAttribute("aria-busy", "true");
      const answer = await fetch(to + (query.size ? "&" : "") + "part=1").catch(() => null);
      if (mine !== turn) return;
      tried.setAttribute("aria-busy", "false");
      const fresh = answer && new DOMParser().parseFromString(await answer.text(), "text/html").querySelector('[data-swap="tried"]');
      if (!fresh) { const box = tried.querySelector(".would-have"); if (box) box.textContent = "The server cannot be reached; nothing was worked out."; return; }
      tried.querySelector('[data-swap="tried"]').innerHTML = fresh.innerHTML;
      history.replaceState(null, "", to);
      const again = [...tried.querySelectorAll(".hold")].find((h) => h.dataset.entry === entry && h.getBoundingClientRect().width > 0);
      again?.focus();
    };
    const set = (tab, kind, value) => {
      const list = changes(), id = tab.dataset.entry, key = kind + ":" + id;
      list.delete(key);
      if (kind === "without" ? value : value !== null) list.set(key, kind === "without" ? key : key + ":" + value);
      go(list, id);
    };
    const minutes = (svg, by) => {
      const d = JSON.parse(svg.dataset.strip), box = svg.getBoundingClientRect();
      return by / box.width * svg.viewBox.baseVal.width / (d.right - d.left) * (d.to - d.from);
    };
    const later = (tab, minute) => {
      const by = Math.round((minute - Number(tab.dataset.was)) * 2) / 2;
      set(tab, "later", by === 0 ? null : by);
    };
    let held = null;
    tried.addEventListener("pointerdown", (e) => {
      const tab = e.target.closest(".hold");
      if (!tab) return;
      held = { tab, from: e.clientX, svg: tab.ownerSVGElement, at: tab.getAttribute("transform") };
      tab.setPointerCapture?.(e.pointerId);
      e.preventDefault();
      tab.focus();
    });
    tried.addEventListener("pointermove", (e) => {
      if (!held) return;
      const by = (e.clientX - held.from) / held.svg.getBoundingClientRect().width * held.svg.viewBox.baseVal.width;
      const [x, y] = held.at.match(/-?[\d.]+/g).map(Number);
      held.tab.setAttribute("transform", `translate(${x + by} ${y})`);
    });
    const drop = (e) => {
      if (!held) return;
      const { tab, from, svg } = held;
      held = null;
      if (Math.abs(e.clientX - from) < 3) return;
      later(tab, Math.max(0, Number(tab.dataset.minute) + minutes(svg, e.clientX - from)));
    };
    tried.addEventListener("pointerup", drop);
    tried.addEventListener("pointercancel", () => { if (held) held.tab.setAttribute("transform", held.at); held = null; });
    tried.addEventListener("keydown", (e) => {
      const tab = e.target.closest?.(".hold");
      if (!tab) return;
      const at = Number(tab.dataset.minute), to = Number(tab.dataset.to), step = Number(tab.dataset.step), most = Number(tab.dataset.most);
      const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -10, PageDown: 10 }[e.key];
      const more = { ArrowUp: 1, ArrowDown: -1 }[e.key];
      if (by) later(tab, Math.max(0, at + by));
      else if (more && step) set(tab, "to", Math.min(most, Math.max(step >= 1 ? 1 : 0, Math.round((to + more * step) * 1e4) / 1e4)));
      else if (e.key === "Delete" || e.key === "Backspace") set(tab, "without", !tab.classList.contains("gone"));
      else return;
      e.preventDefault();
      e.stopPropagation();
    });
  }

  // --- the zone of the first run is this browser's --------------------------
  const zone = document.querySelector("input[data-zone]");
  if (zone) zone.value = Intl.DateTimeFormat().resolvedOptions().timeZone || zone.value;

  // Where Fahrenheit is at home the units begin with it: by language and zone
  // together, since many a browser elsewhere speaks that English.
  const kinds = document.querySelector("[data-units] select");
  if (kinds && navigator.language === "en-US" && /^(America|US)\/|^Pacific\/Honolulu$/.test(zone?.value ?? "")) kinds.value = "imperial";

  // --- a server that cannot be reached is said, and since when --------------
  const awayBox = document.querySelector("[data-away]");
  let awaySince = null;
  const reached = (yes) => {
    if (!awayBox) return;
    if (yes) { awaySince = null; awayBox.hidden = true; return; }
    awaySince ??= new Date();
    awayBox.textContent = "The server cannot be reached since " + awaySince.toTimeString().slice(0, 5) + ". What this page shows is of before; entries are kept on this device.";
    awayBox.hidden = false;
  };
  const look = async () => {
    if (document.hidden) return;
    try { reached((await fetch("/healthz", { cache: "no-store" })).ok); } catch { reached(false); }
  };

  // --- what must open without the network ------------------------------------
  // The worker keeps the page at the stove as it was seen last. It forgets it when
  // somebody signs out, or another household signs in.
  const here = document.body.dataset.household ?? "";
  if ("serviceWorker" in navigator) {
    const before = localStorage.getItem("smolder-pages-of");
    navigator.serviceWorker.register("/sw.js").then((r) => r.update?.()).catch(() => {});
    if (here && before !== here) {
      localStorage.setItem("smolder-pages-of", here);
      if (before !== null) caches?.delete("pages").catch(() => {});
    }
    if (!here && document.querySelector("form[action='/sign-in']")) caches?.delete("pages").catch(() => {});
    document.addEventListener("submit", (e) => { if (e.target.getAttribute?.("action") === "/sign-out") caches?.delete("pages").catch(() => {}); });
  }

  // --- at the stove: entries are kept here and sent when possible, once -----
  // Each entry has a place of its own on the device, under its household and its
  // id, so that two pages that write at once lose nothing of each other. One page
  // at a time sends. What is refused stays, with its reason, until somebody
  // changes or drops it.
  const live = () => document.querySelector("[data-live]");
  const household = document.body.dataset.household ?? "";
  const prefix = "smolder-entry:";
  const place = (id) => prefix + household + ":" + id;
  const read = (key) => { try { return JSON.parse(localStorage.getItem(key)); } catch { return null; } };
  const all = () => Object.keys(localStorage).filter((k) => k.startsWith(prefix)).map((key) => ({ key, entry: read(key) })).filter((e) => e.entry);
  const mine = () => all().filter((e) => e.key.startsWith(prefix + household + ":")).sort((a, b) => a.entry.made - b.entry.made);
  const keep = (key, entry) => {
    try { localStorage.setItem(key, JSON.stringify(entry)); return true; } catch { return false; }
  };
  // what was kept by an earlier version of this page
  const old = read("smolder-entries");
  if (household && Array.isArray(old)) {
    old.forEach((e, i) => keep(place(Object.fromEntries(e.fields).id ?? "old-" + i), { to: e.to, fields: e.fields, sheet: e.sheet, made: Date.now() + i }));
    localStorage.removeItem("smolder-entries");
  }
  const tell = (text, wrong) => {
    const box = document.querySelector("[data-told]");
    if (!box) return;
    box.textContent = text;
    box.classList.toggle("wrong", Boolean(wrong));
  };
  const said = (entry) => {
    const f = Object.fromEntries(entry.fields);
    const tapped = ", tapped " + new Date(f.at ?? entry.made).toTimeString().slice(0, 5);
    const names = JSON.parse(document.body.dataset.kinds ?? "{}");
    const one = (kind, control, place, ...more) => [names[kind] ?? kind, control, place && place + " reads", ...more].filter(Boolean).join(" ");
    const pieces = (n) => n && n + " pieces";
    if (f.n) { // one tap, and all that it logs
      const done = Object.keys(f).filter((k) => /^y\d+$/.test(k)).map((k) => k.slice(1));
      return done.map((i) => one(f["k" + i], f["c" + i], "", f["v" + i], pieces(f["p" + i]))).join(", ") + tapped;
    }
    return one(f.kind, f.control, f.place, f.value, pieces(f.pieces), f.mass, f.note, f.when && "at " + f.when) + tapped;
  };
  const node = (tag, text, also) => Object.assign(document.createElement(tag), { textContent: text ?? "" }, also);
  // show lists what waits, on every page; at the stove also in the log and on the
  // number.
  const show = () => {
    const box = document.querySelector("[data-waiting]");
    if (!box) return;
    const waiting = mine(), others = all().length - waiting.length, refused = waiting.filter((e) => e.entry.refused);
    box.hidden = waiting.length === 0 && others === 0;
    // A field that is being changed is left alone.
    if (!box.contains(document.activeElement) || document.activeElement.tagName !== "INPUT") {
      const list = node("ul");
      for (const { key, entry } of waiting) {
        const line = node("li");
        line.append(node("span", said(entry)));
        if (!entry.refused) { line.append(node("span", "waits")); list.append(line); continue; }
        line.append(node("span", entry.refused, { className: "wrong" }));
        const form = node("form");
        if (!entry.fields.some(([n]) => n === "when")) entry.fields.push(["when", ""]); // its time may be what was wrong
        for (const name of entry.fields.filter(([n]) => /^[vpm]\d+$/.test(n)).map(([n]) => n).concat("value", "pieces", "mass", "note", "when")) {
          const field = entry.fields.find(([n]) => n === name);
          if (field && (field[1] || name === "when")) form.append(node("input", "", { name, value: field[1], ariaLabel: name, placeholder: name }));
        }
        form.append(node("button", "Send it again", { className: "linkish" }));
        form.addEventListener("submit", (e) => {
          e.preventDefault();
          e.stopPropagation();
          for (const input of form.querySelectorAll("input")) entry.fields.find(([n]) => n === input.name)[1] = input.value;
          delete entry.refused;
          keep(key, entry);
          show();
          send();
        });
        const drop = node("button", "Drop it", { className: "linkish", type: "button" });
        drop.addEventListener("click", () => { localStorage.removeItem(key); show(); });
        line.append(form, drop);
        list.append(line);
      }
      box.replaceChildren(node("p", waiting.length === 1 ? "One entry is on this device and not in the log yet." : waiting.length + " entries are on this device and not in the log yet.", { className: "text-sm", hidden: waiting.length === 0 }), list);
      if (others) box.append(node("p", others + " of another household wait for its sign-in.", { className: "text-sm" }));
    }
    const log = document.querySelector("[data-waiting-log]");
    const here = live() ? waiting.filter((e) => location.pathname.startsWith(e.entry.to.replace(/(entries|done)$/, ""))) : [];
    log?.replaceChildren(...here.toReversed().map(({ entry }) => node("li", said(entry) + (entry.refused ? ", refused" : ", waits"))));
    const guide = document.querySelector("[data-guide]"), number = guide?.querySelector("[data-number]");
    const newest = here.filter(({ entry }) => { const f = Object.fromEntries(entry.fields); return !entry.refused && f.kind === "temperature" && f.place === guide?.dataset.guide; }).at(-1);
    if (number && newest) number.textContent = Object.fromEntries(newest.entry.fields).value.replace(/\s*°?[cf]?$/i, "") + "°";
    if (refused.length === 0 && waiting.length && live()) tell(waiting.length + " kept on this device; sent when there is a connection.");
  };
  // shut closes a sheet and leaves the focus on it, not on what is hidden.
  const shut = (sheet) => {
    const inside = sheet.contains(document.activeElement);
    sheet.open = false;
    if (inside) sheet.querySelector("summary").focus();
  };
  // alone runs f while no other page of this browser does.
  const alone = (f) => (navigator.locks ? navigator.locks.request("smolder-send", f) : f());
  const inHand = new Set(); // refused while their sheet was open: what is sent from it next takes their place
  let sending = null; // the sending that is under way
  const busy = (yes) => live()?.setAttribute("aria-busy", String(yes));
  const send = () => (sending ??= (busy(true), alone(sendAll)).finally(() => { sending = null; busy(false); show(); if (again) { again = false; send(); } }));
  let again = false; // something was kept while a sending was under way
  const sendAll = async () => {
    if (!household) return;
    const tried = new Set();
    for (;;) {
      const next = mine().find(({ key, entry }) => !entry.refused && !tried.has(key));
      if (!next) return;
      tried.add(next.key);
      const { key, entry } = next;
      let answer;
      try {
        answer = await fetch(entry.to, { method: "POST", headers: { Accept: "application/json" }, body: new URLSearchParams([...entry.fields, ["sent", new Date().toISOString()]]) });
      } catch {
        reached(false);
        return;
      }
      const body = await answer.json().catch(() => ({}));
      if (answer.status === 401 || answer.status === 429) { tell(body.error ?? "Kept on this device.", true); return; }
      if (answer.status >= 500) { // this one waits; those behind it do not
        tell(body.error ?? "Kept on this device; the other end does not answer just now.", true);
        if (answer.status === 503) { reached(false); return; }
        continue;
      }
      reached(true);
      if (answer.ok) {
        localStorage.removeItem(key);
        tell("Logged: " + body.said);
        // Only the sheet it came from: another may be open under the hand by now.
        document.querySelectorAll('details.sheet[open][data-key="' + CSS.escape(entry.sheet ?? "") + '"]').forEach(shut);
      } else {
        const typed = Object.fromEntries(entry.fields);
        entry.refused = body.error ?? "This entry was refused.";
        keep(key, entry);
        if (entry.sheet && document.querySelector('details.sheet[open][data-key="' + CSS.escape(entry.sheet) + '"]')) inHand.add(key);
        tell(entry.refused + (typed.value ? " Typed was: " + typed.value : "") + " It waits above, to be changed or dropped.", true);
      }
      await refresh();
      show();
    }
  };
  let doneAt = 0;
  // refresh takes the newest of every part that changes, and leaves the forms alone.
  const refresh = async () => {
    const page = live();
    if (!page) return;
    try {
      const answer = await fetch(page.dataset.live, { headers: { Accept: "text/html" } });
      reached(answer.status < 500);
      if (!answer.ok || answer.redirected) return;
      const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
      for (const part of document.querySelectorAll("[data-swap]")) {
        const next = fresh.querySelector('[data-swap="' + CSS.escape(part.dataset.swap) + '"]');
        if (!next || next.innerHTML === part.innerHTML) continue;
        // What is typed stays. A tap under the focus becomes the one of now: what it says is what it does.
        const focus = part.contains(document.activeElement) && document.activeElement, tap = focus && focus.closest("form[data-tap]")?.dataset.tap;
        if (focus && !tap || part.querySelector("details[open]")) continue;
        part.innerHTML = next.innerHTML;
        if (tap) part.querySelector('form[data-tap="' + tap + '"] button')?.focus();
      }
      show();
      aloud();
      tick();
    } catch { reached(false); } // the next turn tries again
  };
  document.addEventListener("submit", (e) => {
    const form = e.target;
    if (!form.matches?.("form[data-entry]")) return;
    e.preventDefault();
    if (form.dataset.tap === "y") { // a hand in a glove taps twice, and by then another step may stand there
      if (Date.now() - doneAt < 1500) return;
      doneAt = Date.now();
    }
    const fields = [...new FormData(form, e.submitter).entries()].map(([k, v]) => [k, String(v)]);
    // What is advised has an id of its own, the same on every page that shows it: done on
    // two of them it is done once.
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
      tell("This device keeps nothing more: the entry is not kept. Write it down.", true);
      return;
    }
    tell("Kept.");
    if (sending) again = true;
    if (form.dataset.tap) e.submitter?.blur(); // so that the taps can change under it
    send();
  });

  // --- keys at the stove ----------------------------------------------------
  const open = (name) => {
    const sheet = document.querySelector('details[data-key="' + name + '"], details[data-also="' + name + '"]');
    if (!sheet) return false;
    document.querySelectorAll("details.sheet[open]").forEach((d) => { if (d !== sheet) d.open = false; });
    sheet.open = true;
    (sheet.querySelector("input:not([type=hidden]), textarea, select, button") ?? sheet).focus();
    return true;
  };
  const stepThrough = (input, by) => {
    const steps = JSON.parse(input.dataset.steps);
    const at = steps.indexOf(input.value);
    input.value = steps[Math.min(steps.length - 1, Math.max(0, (at < 0 ? (by > 0 ? -1 : steps.length) : at) + by))];
  };
  document.addEventListener("keydown", (e) => {
    if (!live() || e.ctrlKey || e.metaKey || e.altKey) return;
    const field = e.target.matches?.("input:not([type=submit]), textarea, select");
    if (e.key === "Escape") {
      document.querySelectorAll("details.sheet[open]").forEach(shut);
      return;
    }
    if (field && e.target.dataset.steps && (e.key === "ArrowUp" || e.key === "ArrowDown")) {
      e.preventDefault();
      stepThrough(e.target, e.key === "ArrowUp" ? 1 : -1);
      return;
    }
    if (field) return;
    if (e.key === "u") { Promise.resolve(sending).then(() => document.querySelector("[data-undo] button")?.click()); return; }
    if (!/^[0-9a-z?]$/.test(e.key)) return;
    const tap = document.querySelector('form[data-tap="' + e.key + '"] button');
    if (tap) { tap.click(); return; }
    if (open(e.key)) e.preventDefault();
  });

  addEventListener("online", () => { look(); send(); });
  addEventListener("storage", (e) => { if (!e.key?.startsWith(prefix)) return;
    show();
    if (!e.newValue) refresh(); // another tab has sent it
  });
  // --- what others do, and thermometers report, as it comes ------------------
  // A reading is drawn at once: the number and the end of its pen. The rest of the
  // page follows a moment later, and at once where somebody has logged something.
  const ink = (points) => {
    const guide = document.querySelector("[data-guide]");
    for (const svg of document.querySelectorAll(".live svg.strip")) {
      const d = JSON.parse(svg.dataset.strip), [y0, y1, v0, v1] = d.scale ?? [];
      if (!(y0 > y1) || !d.zero) continue;
      for (const { p, t, v } of points) {
        const degrees = d.unit === "°F" ? v * 1.8 + 32 : v, minute = (t - d.zero) / 60000;
        if (!(minute >= d.from && minute <= d.to) || p.startsWith("room") || p === "draft" || p.startsWith("outdoor")) continue;
        const dot = document.createElementNS("http://www.w3.org/2000/svg", "circle");
        dot.setAttribute("class", "dot fresh");
        dot.setAttribute("r", "2.4");
        dot.setAttribute("cx", d.left + (minute - d.from) / (d.to - d.from) * (d.right - d.left));
        dot.setAttribute("cy", Math.max(y1, y0 - (degrees - v0) / (v1 - v0) * (y0 - y1)));
        svg.append(dot);
      }
    }
    const newest = points.filter(({ p }) => p === guide?.dataset.guide).at(-1), number = guide?.querySelector("[data-number]");
    const unit = document.querySelector(".live svg.strip") ? JSON.parse(document.querySelector(".live svg.strip").dataset.strip).unit : "°C";
    if (newest && number) number.textContent = Math.round(unit === "°F" ? newest.v * 1.8 + 32 : newest.v) + "°";
  };
  let soon = null, heard = false;
  const lookSoon = (within) => { // many pages must not all ask in the same moment
    if (soon && within > 500) return;
    clearTimeout(soon);
    soon = setTimeout(() => { soon = null; refresh(); }, within * (0.3 + 0.7 * Math.random()));
  };
  const hear = () => {
    const page = live();
    if (!page?.dataset.changes || !window.EventSource) return;
    const stream = new EventSource(page.dataset.changes);
    stream.addEventListener("open", () => { if (heard) refresh(); heard = true; page.dataset.hears = "yes"; });
    stream.addEventListener("change", () => lookSoon(200));
    stream.addEventListener("reading", (e) => { ink(JSON.parse(e.data)); lookSoon(6000); });
    stream.addEventListener("error", () => { delete page.dataset.hears; });
    addEventListener("pagehide", () => stream.close());
  };

  // --- timers, and the comforts of this device --------------------------------
  const clockOf = (ms) => { const s = Math.max(0, Math.round(ms / 1000)); return Math.floor(s / 60) + ":" + String(s % 60).padStart(2, "0"); };
  const timersKey = "smolder-timers:" + location.pathname, comfortsKey = "smolder-comforts";
  const timers = () => read(timersKey) ?? [];
  const comforts = () => read(comfortsKey) ?? {};
  let sounds = null, awake = null;
  const ring = () => {
    const c = comforts();
    if (c.shake) navigator.vibrate?.([300, 150, 300]);
    if (!c.sound) return;
    try {
      sounds ??= new AudioContext();
      for (const [at, hz] of [[0, 392], [0.35, 330], [0.7, 392]]) {
        const tone = sounds.createOscillator(), loud = sounds.createGain();
        tone.frequency.value = hz;
        loud.gain.setValueAtTime(0.2, sounds.currentTime + at);
        loud.gain.exponentialRampToValueAtTime(0.001, sounds.currentTime + at + 0.3);
        tone.connect(loud).connect(sounds.destination);
        tone.start(sounds.currentTime + at);
        tone.stop(sounds.currentTime + at + 0.32);
      }
    } catch { /* a device without sound */ }
  };
  const spoken = { last: "" };
  const aloud = () => {
    const text = document.querySelector("[data-read-aloud]")?.textContent.trim() ?? "";
    if (!text || text === spoken.last) return;
    const first = spoken.last === "";
    spoken.last = text;
    if (!first) ring();
    if (!comforts().aloud || !window.speechSynthesis) return;
    speechSynthesis.cancel();
    speechSynthesis.speak(Object.assign(new SpeechSynthesisUtterance(text), { lang: "en" }));
  };
  const keepAwake = async () => {
    try {
      if (comforts().awake && !awake && !document.hidden) {
        awake = await navigator.wakeLock?.request("screen");
        awake?.addEventListener("release", () => { awake = null; });
      }
      if (!comforts().awake) { await awake?.release(); awake = null; }
    } catch { awake = null; }
  };
  const tick = () => {
    for (const span of document.querySelectorAll("[data-timers] [data-since]")) {
      span.querySelector("b").textContent = clockOf(Date.now() - Number(span.dataset.since));
    }
    const own = document.querySelector("[data-own-timers]");
    if (!own) return;
    const kept = timers();
    let over = false;
    for (const timer of kept) if (!timer.rung && Date.now() >= timer.until) { timer.rung = true; over = true; }
    if (over) { keep(timersKey, kept); ring(); }
    const text = kept.map((timer) => timer.until + (timer.rung ? "!" : "")).join();
    if (own.dataset.shown !== text) {
      own.dataset.shown = text;
      own.replaceChildren(...kept.map((timer) => {
        const button = node("button", "", { type: "button", className: timer.rung ? "rung" : "" });
        button.append(node("span", timer.minutes + " min "), node("b"));
        button.setAttribute("aria-label", "stop this timer");
        button.addEventListener("click", () => { keep(timersKey, timers().filter((other) => other.until !== timer.until)); tick(); });
        return button;
      }));
    }
    own.querySelectorAll("b").forEach((b, i) => { if (kept[i]) b.textContent = kept[i].rung ? "over" : clockOf(kept[i].until - Date.now()); });
  };
  const comfort = () => {
    for (const box of document.querySelectorAll("[data-set-timer], [data-comforts]")) box.hidden = false;
    for (const button of document.querySelectorAll("[data-minutes]")) {
      button.addEventListener("click", () => {
        const minutes = Number(button.dataset.minutes);
        keep(timersKey, [...timers(), { minutes, until: Date.now() + minutes * 60000 }].slice(-6));
        tick();
        shut(button.closest("details"));
      });
    }
    for (const box of document.querySelectorAll("[data-comforts] input")) {
      box.checked = Boolean(comforts()[box.name]);
      box.addEventListener("change", () => {
        keep(comfortsKey, { ...comforts(), [box.name]: box.checked });
        keepAwake();
        if (box.name === "sound" && box.checked) ring();
        if (box.name === "aloud") { spoken.last = " "; aloud(); }
      });
    }
    document.addEventListener("visibilitychange", keepAwake);
    keepAwake();
    setInterval(tick, 1000);
    tick();
  };

  // pieces are picked by tapping them
  for (const row of document.querySelectorAll("[data-pick-pieces]")) {
    const field = row.closest("form").querySelector("[data-pieces]");
    row.hidden = false;
    const mark = () => row.querySelectorAll("button").forEach((b, i) => b.classList.toggle("taken", i < Number(field.value)));
    for (let n = 1; n <= 8; n++) {
      const button = node("button", "", { type: "button" });
      button.setAttribute("aria-label", n === 1 ? "one piece" : n + " pieces");
      button.innerHTML = '<svg viewBox="0 0 30 24" width="30" height="24" aria-hidden="true"><path d="M4 20C2 12 8 4 15 3c7 1 13 9 11 17z"/>' +
        '<path d="M9 18c1-5 3-8 6-9M15 18v-6"/></svg>';
      button.addEventListener("click", () => { field.value = n; mark(); });
      row.append(button);
    }
    field.addEventListener("input", mark);
    mark();
  }

  // --- as of: what was known and said at a minute ------------------------------
  const asOf = document.querySelector("[data-as-of-of]");
  if (asOf) {
    let wanted = null, asking = false;
    const ask = async () => {
      if (asking || wanted === null) return;
      asking = true;
      const minute = wanted;
      wanted = null;
      try {
        const answer = await fetch(asOf.dataset.asOfOf + "?part=1&minute=" + minute, { headers: { Accept: "text/html" } });
        const fresh = new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("[data-as-of]");
        if (fresh) { asOf.innerHTML = fresh.innerHTML; asOf.dataset.minute = minute; }
      } catch { reached(false); }
      asking = false;
      if (wanted !== null) ask();
    };
    let later = null;
    document.addEventListener("smolder:minute", (e) => {
      wanted = Math.max(0, Math.round(e.detail));
      clearTimeout(later);
      later = setTimeout(ask, 250);
    });
  }

  if (household) {
    show();
    send();
    if (live()) { look(); hear(); comfort(); aloud(); } // a page that was kept says at once that it is one
    let turn = 0;
    setInterval(() => { // who hears of changes looks by itself only for what time changes
      send();
      if (!live()) look();
      else if (!live().dataset.hears || ++turn % 3 === 0) refresh();
    }, 20000);
  }
})();

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
  // Only the newest answer counts; the parts marked data-swap are exchanged and
  // the address follows, so that the page can be kept and sent on.
  let asked = 0;
  const ask = async (form) => {
    const mine = ++asked;
    const query = new URLSearchParams(new FormData(form));
    const to = form.getAttribute("action") + "?" + query;
    const answer = await fetch(to + "&part=1").catch(() => null);
    if (!answer || mine !== asked) return;
    const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
    for (const part of document.querySelectorAll("[data-swap]")) {
      const next = fresh.querySelector('[data-swap="' + CSS.escape(part.dataset.swap) + '"]');
      if (next) part.innerHTML = next.innerHTML;
    }
    history.replaceState(null, "", to);
  };
  document.addEventListener("input", (e) => {
    const form = e.target.closest?.("form[data-quick]");
    if (form) ask(form);
  });

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
        this.text = (d.start >= 0 ? clock(d.start + this.minute) : clock(this.minute)) + (said.length ? " · " + said.join(" · ") : "");
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
    // Long work says how far it is; short work says nothing.
    Alpine.data("working", () => ({
      busy: false,
      said: "",
      start() {
        setTimeout(() => { this.busy = true; this.ask(); }, 300);
      },
      async ask() {
        const answer = await fetch("/plan/progress", { headers: { Accept: "application/json" } }).catch(() => null);
        const body = answer?.ok ? await answer.json().catch(() => null) : null;
        this.said = body?.of ? `Burning fires to find the best: ${body.burnt} of ${body.of} so far…` : "Burning fires to find the best…";
        if (this.busy) setTimeout(() => this.ask(), 200);
      },
      init() {
        addEventListener("pageshow", () => { this.busy = false; });
      },
    }));
  });

  // --- at the stove: entries are kept here and sent when possible, once -----
  const live = () => document.querySelector("[data-live]");
  const store = "smolder-entries";
  const kept = () => { try { return JSON.parse(localStorage.getItem(store)) ?? []; } catch { return []; } };
  const keep = (list) => localStorage.setItem(store, JSON.stringify(list));
  const tell = (text, wrong) => {
    const box = document.querySelector("[data-told]");
    if (!box) return;
    box.textContent = text;
    box.classList.toggle("wrong", Boolean(wrong));
  };
  // shut closes a sheet and leaves the focus on it, not on what is hidden.
  const shut = (sheet) => {
    const inside = sheet.contains(document.activeElement);
    sheet.open = false;
    if (inside) sheet.querySelector("summary").focus();
  };
  let sending = null; // the sending that is under way
  const send = () => (sending ??= sendAll().finally(() => { sending = null; }));
  const sendAll = async () => {
    while (kept().length) {
      const [entry] = kept();
      let answer;
      try {
        answer = await fetch(entry.to, { method: "POST", headers: { Accept: "application/json" }, body: new URLSearchParams([...entry.fields, ["sent", new Date().toISOString()]]) });
      } catch {
        tell(kept().length + " kept on this device; sent when there is a connection.");
        return;
      }
      if (answer.status >= 500 || answer.status === 401 || answer.status === 429) {
        const body = await answer.json().catch(() => ({}));
        tell(body.error ?? "Kept on this device; the other end does not answer just now.", true);
        return;
      }
      keep(kept().slice(1));
      const body = await answer.json().catch(() => ({}));
      if (answer.ok) {
        tell("Logged: " + body.said);
        // Only the sheet it came from: another may be open under the hand by now.
        document.querySelectorAll('details.sheet[open][data-key="' + CSS.escape(entry.sheet ?? "") + '"]').forEach(shut);
      } else {
        const typed = Object.fromEntries(entry.fields);
        tell((body.error ?? "This entry was refused.") + (typed.value ? " Typed was: " + typed.value : ""), true);
      }
      await refresh();
    }
  };
  // refresh takes the newest of every part that changes, and leaves the forms alone.
  const refresh = async () => {
    const page = live();
    if (!page) return;
    try {
      const answer = await fetch(page.dataset.live, { headers: { Accept: "text/html" } });
      if (!answer.ok || answer.redirected) return;
      const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
      for (const part of document.querySelectorAll("[data-swap]")) {
        const next = fresh.querySelector('[data-swap="' + CSS.escape(part.dataset.swap) + '"]');
        if (next && next.innerHTML !== part.innerHTML && !part.contains(document.activeElement)) part.innerHTML = next.innerHTML;
      }
    } catch { /* the next turn tries again */ }
  };
  document.addEventListener("submit", (e) => {
    const form = e.target;
    if (!form.matches?.("form[data-entry]")) return;
    e.preventDefault();
    const fields = [...new FormData(form, e.submitter).entries()].map(([k, v]) => [k, String(v)]);
    fields.push(["id", crypto.randomUUID?.() ?? Date.now().toString(36) + Math.random().toString(36).slice(2)], ["at", new Date().toISOString()]);
    keep([...kept(), { to: form.getAttribute("action"), fields, sheet: form.closest("details.sheet")?.dataset.key }]);
    tell("Kept.");
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
    const tap = /^[iwko]$/.test(e.key) && document.querySelector('form[data-tap="' + e.key + '"] button');
    if (tap) { tap.click(); return; }
    if (e.key === "?" || /^[0-9tldbsrn]$/.test(e.key)) { if (open(e.key)) e.preventDefault(); }
  });

  addEventListener("online", send);
  if (live()) {
    send();
    setInterval(() => { send(); refresh(); }, 20000);
  }
})();

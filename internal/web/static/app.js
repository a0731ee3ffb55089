(() => {
  var __defProp = Object.defineProperty;
  var __export = (target, all2) => {
    for (var name in all2)
      __defProp(target, name, { get: all2[name], enumerable: true });
  };

  // src/asof.js
  var asof_exports = {};
  __export(asof_exports, {
    start: () => start
  });

  // src/words.js
  var words;
  var t = (text2, ...fill) => {
    words ??= JSON.parse(document.body?.dataset.words || "{}");
    return (words[text2] ?? text2).replace(/\{(\d)\}/g, (_, n) => fill[n]);
  };

  // src/away.js
  var since = null;
  var reached = (yes) => {
    const box2 = document.querySelector("[data-away]");
    if (!box2) return;
    if (yes) {
      since = null;
      box2.hidden = true;
      return;
    }
    since ??= /* @__PURE__ */ new Date();
    box2.textContent = t(
      "The server cannot be reached since {0}. What this page shows is of before; entries are kept on this device.",
      since.toTimeString().slice(0, 5)
    );
    box2.hidden = false;
  };
  var look = async () => {
    if (document.hidden) return;
    try {
      reached((await fetch("/healthz", { cache: "no-store" })).ok);
    } catch {
      reached(false);
    }
  };

  // src/asof.js
  var start = () => {
    const asOf = document.querySelector("[data-as-of-of]");
    if (!asOf) return;
    let wanted = null, asking = false, later = null;
    const ask2 = async () => {
      if (asking || wanted === null) return;
      asking = true;
      const minute = wanted;
      wanted = null;
      try {
        const answer = await fetch(asOf.dataset.asOfOf + "?part=1&minute=" + minute, { headers: { Accept: "text/html" } });
        const fresh2 = new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("[data-as-of]");
        if (fresh2) {
          asOf.innerHTML = fresh2.innerHTML;
          asOf.dataset.minute = minute;
        }
      } catch {
        reached(false);
      }
      asking = false;
      if (wanted !== null) ask2();
    };
    document.addEventListener("smolder:minute", (e) => {
      const fold = asOf.closest("details");
      if (fold) fold.open = true;
      wanted = Math.max(0, Math.round(e.detail));
      clearTimeout(later);
      later = setTimeout(ask2, 250);
    });
  };

  // src/calls.js
  var calls_exports = {};
  __export(calls_exports, {
    fresh: () => fresh,
    start: () => start2
  });

  // src/page.js
  var live = () => document.querySelector("[data-live]");
  var bells = new EventTarget();
  var ring = (name) => bells.dispatchEvent(new Event(name));
  var on = (name, f) => bells.addEventListener(name, f);
  var node = (tag, text2, also) => Object.assign(document.createElement(tag), { textContent: text2 ?? "" }, also);
  var tell = (text2, wrong) => {
    const box2 = document.querySelector("[data-told]");
    if (!box2) return;
    box2.textContent = text2;
    box2.classList.toggle("wrong", Boolean(wrong));
  };
  var shut = (sheet) => {
    const inside = sheet.contains(document.activeElement);
    sheet.open = false;
    if (inside) sheet.querySelector("summary").focus();
  };
  var read = (key4) => {
    try {
      return JSON.parse(localStorage.getItem(key4));
    } catch {
      return null;
    }
  };
  var keep = (key4, value) => {
    try {
      localStorage.setItem(key4, JSON.stringify(value));
      return true;
    } catch {
      return false;
    }
  };

  // src/calls.js
  var every = 6e4;
  var made = "smolder-calls-made";
  var allowed = "smolder-calls-here";
  var remembered = 200;
  var fresh = (list, shown) => {
    const out = list.filter((call) => !shown.includes(call.key));
    return [out, [...shown, ...out.map((call) => call.key)].slice(-remembered)];
  };
  var show = async (call) => {
    const registration = await navigator.serviceWorker?.ready;
    const options = { body: call.text, tag: call.key, data: { link: call.link }, icon: "/icon-192.png", badge: "/icon-192.png", requireInteraction: call.urgent, lang: document.documentElement.lang };
    if (registration) await registration.showNotification(call.title, options);
    else new Notification(call.title, options);
  };
  var look2 = async () => {
    if (!read(allowed) || !("Notification" in window) || Notification.permission !== "granted") return;
    const answer = await fetch("/calls/now", { headers: { Accept: "application/json" } }).catch(() => null);
    if (!answer?.ok) return;
    const { calls } = await answer.json();
    const [anew, shown] = fresh(calls, read(made) ?? []);
    keep(made, shown);
    for (const call of anew) await show(call);
  };
  var bytes = (text2) => Uint8Array.from(atob(text2.replaceAll("-", "+").replaceAll("_", "/")), (c) => c.charCodeAt(0));
  var send = (path, fields) => fetch(path, { method: "POST", body: new URLSearchParams(fields) });
  var subscribe = async (key4) => {
    const registration = await navigator.serviceWorker.ready;
    const subscription = await registration.pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: bytes(key4) });
    const { endpoint, keys } = subscription.toJSON();
    return (await send("/calls/browser", { endpoint, ...keys })).ok;
  };
  var unsubscribe = async () => {
    const subscription = await (await navigator.serviceWorker?.ready)?.pushManager?.getSubscription();
    if (!subscription) return;
    await send("/calls/browser/gone", { endpoint: subscription.endpoint });
    await subscription.unsubscribe();
  };
  var settings = (box2) => {
    const says = box2.querySelector("[data-calls-says]"), on4 = box2.querySelector("[data-calls-on]"), off = box2.querySelector("[data-calls-off]");
    const tell2 = (failed) => {
      const can = "Notification" in window, here = can && Notification.permission === "granted" && read(allowed);
      on4.hidden = !can || here || Notification.permission === "denied";
      off.hidden = !here;
      says.textContent = !can ? t("This browser cannot call.") : Notification.permission === "denied" ? t("This browser was told not to: allow notifications of this page in its settings.") : here ? failed ? t("It calls while a page is open here; the push service could not be reached.") : t("This device calls.") : t("This device does not call yet.");
    };
    on4.addEventListener("click", async () => {
      let failed = false;
      if (await Notification.requestPermission() === "granted") {
        keep(allowed, true);
        if (box2.dataset.push) failed = !await subscribe(box2.dataset.push).catch(() => false);
        await look2();
      }
      tell2(failed);
    });
    off.addEventListener("click", async () => {
      keep(allowed, false);
      await unsubscribe().catch(() => {
      });
      tell2();
    });
    tell2();
  };
  var start2 = () => {
    const box2 = document.querySelector("[data-calls]");
    if (box2) settings(box2);
    if (!document.body.dataset.household) return;
    look2();
    setInterval(look2, every);
  };

  // src/comforts.js
  var comforts_exports = {};
  __export(comforts_exports, {
    alarm: () => alarm,
    start: () => start3
  });
  var key = "smolder-comforts";
  var comforts = () => read(key) ?? {};
  var sounds = null;
  var awake = null;
  var spoken = "";
  var alarm = () => {
    const c = comforts();
    if (c.shake) navigator.vibrate?.([300, 150, 300]);
    if (!c.sound) return;
    try {
      sounds ??= new AudioContext();
      for (const [at, hz] of [[0, 392], [0.35, 330], [0.7, 392]]) {
        const tone = sounds.createOscillator(), loud = sounds.createGain();
        tone.frequency.value = hz;
        loud.gain.setValueAtTime(0.2, sounds.currentTime + at);
        loud.gain.exponentialRampToValueAtTime(1e-3, sounds.currentTime + at + 0.3);
        tone.connect(loud).connect(sounds.destination);
        tone.start(sounds.currentTime + at);
        tone.stop(sounds.currentTime + at + 0.32);
      }
    } catch {
    }
  };
  var aloud = () => {
    const text2 = document.querySelector("[data-read-aloud]")?.textContent.trim() ?? "";
    if (!text2 || text2 === spoken) return;
    const first = spoken === "";
    spoken = text2;
    if (!first) alarm();
    if (!comforts().aloud || !window.speechSynthesis) return;
    speechSynthesis.cancel();
    speechSynthesis.speak(Object.assign(new SpeechSynthesisUtterance(text2), { lang: "en" }));
  };
  var keepAwake = async () => {
    try {
      if (comforts().awake && !awake && !document.hidden) {
        awake = await navigator.wakeLock?.request("screen");
        awake?.addEventListener("release", () => {
          awake = null;
        });
      }
      if (!comforts().awake) {
        await awake?.release();
        awake = null;
      }
    } catch {
      awake = null;
    }
  };
  var start3 = () => {
    if (!live()) return;
    for (const box2 of document.querySelectorAll("[data-comforts]")) box2.hidden = false;
    for (const box2 of document.querySelectorAll("[data-comforts] input")) {
      box2.checked = Boolean(comforts()[box2.name]);
      box2.addEventListener("change", () => {
        keep(key, { ...comforts(), [box2.name]: box2.checked });
        keepAwake();
        if (box2.name === "sound" && box2.checked) alarm();
        if (box2.name === "aloud") {
          spoken = " ";
          aloud();
        }
      });
    }
    document.addEventListener("visibilitychange", keepAwake);
    on("exchanged", aloud);
    keepAwake();
    aloud();
  };

  // src/fields.js
  var fields_exports = {};
  __export(fields_exports, {
    matches: () => matches,
    start: () => start4
  });
  var understand = async (input) => {
    const own = input.closest("label, .sheet, span")?.querySelector(".understood");
    const out = own ?? input.form?.querySelector("[data-understands]");
    if (!out) return;
    if (!input.value.trim()) {
      out.textContent = "";
      return;
    }
    const query = new URLSearchParams({ kind: input.dataset.understand, typed: input.value });
    for (const beside of ["begin", "low", "high"]) {
      const field = input.form?.elements[beside];
      if (field && field !== input) query.set(beside, field.value);
    }
    try {
      const answer = await fetch("/understand?" + query, { headers: { Accept: "application/json" } });
      const body = await answer.json();
      const name = own ? "" : input.closest("label")?.querySelector(".skip")?.textContent + ": ";
      out.textContent = answer.ok ? (name || "= ") + body.understood : body.error;
      if (!own) input.setAttribute("aria-invalid", String(!answer.ok));
    } catch {
      out.textContent = "";
    }
  };
  var asked = 0;
  var ask = async (form) => {
    const mine2 = ++asked;
    const query = new URLSearchParams(new FormData(form));
    const beside = form.dataset.beside;
    const to = (beside ?? form.getAttribute("action")) + "?" + query;
    const answer = await fetch(to + "&part=1").catch(() => null);
    if (!answer || mine2 !== asked) return;
    const fresh2 = new DOMParser().parseFromString(await answer.text(), "text/html");
    for (const part of document.querySelectorAll("[data-swap]")) {
      const next = fresh2.querySelector('[data-swap="' + CSS.escape(part.dataset.swap) + '"]');
      if (next) part.innerHTML = next.innerHTML;
    }
    if (!beside) history.replaceState(null, "", to);
  };
  var follow = ["begin", "low", "high", "room", "start", "wanted-of", "there"];
  var knows = async (form) => {
    const answer = await fetch(form.dataset.knows + "?stove=" + form.elements.stove.value).catch(() => null);
    if (!answer?.ok) return;
    const fresh2 = new DOMParser().parseFromString(await answer.text(), "text/html");
    const theirs = fresh2.querySelector("form[data-knows]");
    for (const name of theirs ? follow : []) {
      const mine2 = form.elements[name], known2 = theirs.elements[name];
      if (!mine2 || !known2 || mine2.dataset.typed || mine2 === document.activeElement) continue;
      mine2.value = known2.value;
    }
    const says = form.querySelector('[data-swap="in-it"]');
    if (says) says.textContent = fresh2.querySelector('[data-swap="in-it"]')?.textContent ?? "";
  };
  var picture = {
    time: '<circle cx="9" cy="9" r="7"/><path d="M9 5v4l3 2"/>',
    date: '<rect x="2" y="3.5" width="14" height="12"/><path d="M2 7.5h14M6 1.5v3M12 1.5v3"/>'
  };
  var pickers = () => {
    for (const field of document.querySelectorAll("input[data-pick]")) {
      const kind = field.dataset.pick;
      const box2 = document.createElement("span");
      box2.className = "pick";
      const native = Object.assign(document.createElement("input"), { type: kind, tabIndex: -1 });
      native.setAttribute("aria-hidden", "true");
      const button2 = Object.assign(document.createElement("button"), { type: "button" });
      button2.setAttribute("aria-label", kind === "time" ? t("by the clock") : t("by the calendar"));
      button2.innerHTML = `<svg viewBox="0 0 18 18" width="18" height="18" aria-hidden="true">${picture[kind === "time" ? "time" : "date"]}</svg>`;
      button2.addEventListener("click", () => {
        try {
          native.showPicker();
        } catch {
          native.focus();
        }
      });
      native.addEventListener("change", () => {
        if (!native.value) return;
        field.value = native.value.replace("T", " ");
        for (const event of ["input", "change"]) field.dispatchEvent(new Event(event, { bubbles: true }));
      });
      box2.append(button2, native);
      field.after(box2);
      field.classList.add("has-pick");
    }
  };
  var long = 10;
  var matches = (text2, sought) => sought.toLowerCase().split(/\s+/).every((word) => text2.toLowerCase().includes(word));
  var finder = (of2, found) => {
    const find = Object.assign(document.createElement("input"), { type: "search", className: "find", placeholder: t("find"), autocomplete: "off" });
    find.setAttribute("aria-label", t("find in {0}", of2));
    find.addEventListener("input", (e) => {
      e.stopPropagation();
      found(find.value.trim());
    });
    find.addEventListener("keydown", (e) => {
      if (e.key === "Enter") e.preventDefault();
    });
    return find;
  };
  var finders = () => {
    for (const list of document.querySelectorAll("select:is([name=wood], [name=wood2], [name=stack], [name=kindling], [name=other-wood], [name=species])")) {
      if (list.options.length <= long) continue;
      const of2 = list.closest("label")?.querySelector("span")?.textContent ?? t("the list");
      const find = finder(of2, (sought) => {
        for (const option of list.options) option.hidden = option.disabled = !matches(option.textContent, sought);
        if (list.selectedOptions[0]?.disabled) {
          const first = [...list.options].find((option) => !option.disabled);
          if (first) {
            list.value = first.value;
            list.dispatchEvent(new Event("input", { bubbles: true }));
          }
        }
      });
      list.after(find);
      list.form?.addEventListener("submit", () => {
        for (const option of list.options) option.disabled = false;
      });
    }
    for (const table of document.querySelectorAll("table[data-find]")) {
      const rows = [...table.tBodies[0].rows];
      if (rows.length <= long) continue;
      table.before(finder(table.dataset.find, (sought) => {
        for (const row of rows) row.hidden = !matches(row.textContent, sought);
      }));
    }
  };
  var wrongs = () => {
    const first = document.querySelector('form [aria-invalid="true"]');
    for (let box2 = first?.closest("details"); box2; box2 = box2.parentElement?.closest("details")) box2.open = true;
    first?.scrollIntoView({ block: "center" });
    first?.focus({ preventScroll: true });
    document.addEventListener("input", (e) => {
      if (e.target.name !== "stove" && e.target.closest?.("form[data-knows]")) e.target.dataset.typed = "yes";
      const field = e.target;
      if (field.getAttribute?.("aria-invalid") !== "true" || !field.hasAttribute("aria-describedby")) return;
      document.getElementById(field.getAttribute("aria-describedby"))?.remove();
      field.removeAttribute("aria-invalid");
      field.removeAttribute("aria-describedby");
    });
  };
  var start4 = () => {
    wrongs();
    document.addEventListener("toggle", (e) => {
      const said2 = e.target.querySelector?.(':scope > input[name="opened"]');
      if (said2) said2.value = e.target.open ? "yes" : "";
    }, true);
    document.addEventListener("focusin", (e) => {
      if (e.target.matches?.("[data-select]")) e.target.select();
    });
    document.addEventListener("change", (e) => {
      const wish = e.target.closest?.("form[data-knows]");
      if (wish && e.target.name === "stove") knows(wish);
      else if (wish) e.target.dataset.typed = "yes";
      if (e.target.matches?.("input[data-understand]")) understand(e.target);
    });
    let pause;
    document.addEventListener("input", (e) => {
      if (e.target.matches?.("input[data-understand]")) {
        clearTimeout(pause);
        pause = setTimeout(understand, 400, e.target);
      }
      const form = e.target.closest?.("form[data-quick], form[data-beside]");
      if (form) ask(form);
    });
    pickers();
    finders();
  };

  // src/first.js
  var first_exports = {};
  __export(first_exports, {
    fahrenheitAtHome: () => fahrenheitAtHome,
    start: () => start5
  });
  var fahrenheitAtHome = (language, zone) => language === "en-US" && /^(America|US)\/|^Pacific\/Honolulu$/.test(zone);
  var start5 = () => {
    const zone = document.querySelector("input[data-zone]");
    if (zone) zone.value = Intl.DateTimeFormat().resolvedOptions().timeZone || zone.value;
    const kinds = document.querySelector("[data-units] select");
    if (kinds && fahrenheitAtHome(navigator.language, zone?.value ?? "")) kinds.value = "imperial";
  };

  // src/fold.js
  var fold_exports = {};
  __export(fold_exports, {
    start: () => start6
  });
  var unfold = () => {
    const at = location.hash.length > 1 && document.getElementById(decodeURIComponent(location.hash.slice(1)));
    for (let fold = at && at.closest("details"); fold; fold = fold.parentElement?.closest("details")) fold.open = true;
  };
  var seeks = (e) => {
    if (e.key !== "/" || e.ctrlKey || e.metaKey || e.altKey || e.target.closest?.("input, textarea, select")) return;
    const find = document.querySelector("a[data-find]");
    if (!find) return;
    e.preventDefault();
    location.assign(find.href);
  };
  var start6 = () => {
    document.addEventListener("keydown", seeks);
    window.addEventListener("hashchange", unfold);
    unfold();
  };

  // src/keys.js
  var keys_exports = {};
  __export(keys_exports, {
    start: () => start9,
    stepTo: () => stepTo
  });

  // src/send.js
  var send_exports = {};
  __export(send_exports, {
    idle: () => idle,
    send: () => send2,
    start: () => start8
  });

  // src/queue.js
  var prefix = "smolder-entry:";
  var household = () => document.body.dataset.household ?? "";
  var place = (id) => prefix + household() + ":" + id;
  var all = () => Object.keys(localStorage).filter((k) => k.startsWith(prefix)).map((key4) => ({ key: key4, entry: read(key4) })).filter((e) => e.entry);
  var mine = () => all().filter((e) => e.key.startsWith(prefix + household() + ":")).sort((a, b) => a.entry.made - b.entry.made);
  var fromBefore = () => {
    const old = read("smolder-entries");
    if (!household() || !Array.isArray(old)) return;
    old.forEach((e, i) => keep(place(Object.fromEntries(e.fields).id ?? "old-" + i), { to: e.to, fields: e.fields, sheet: e.sheet, made: Date.now() + i }));
    localStorage.removeItem("smolder-entries");
  };
  var said = (entry, names) => {
    const f = Object.fromEntries(entry.fields);
    const tapped = ", tapped " + new Date(f.at ?? entry.made).toTimeString().slice(0, 5);
    const one = (kind, control, place2, ...more) => [names[kind] ?? kind, control, place2 && place2 + " reads", ...more].filter(Boolean).join(" ");
    const pieces = (n) => n && n + " pieces";
    if (f.n) {
      const done = Object.keys(f).filter((k) => /^y\d+$/.test(k)).map((k) => k.slice(1));
      return done.map((i) => one(f["k" + i], f["c" + i], "", f["v" + i], pieces(f["p" + i]))).join(", ") + tapped;
    }
    return one(f.kind, f.control, f.place, f.value, pieces(f.pieces), f.mass, f.note, f.when && "at " + f.when) + tapped;
  };
  var of = (entry, path) => path.startsWith(entry.to.replace(/(entries|done)$/, ""));

  // src/live.js
  var live_exports = {};
  __export(live_exports, {
    dotAt: () => dotAt,
    exchange: () => exchange,
    refresh: () => refresh,
    shownIn: () => shownIn,
    start: () => start7
  });
  var exchange = (parts) => {
    for (const part of document.querySelectorAll("[data-swap]")) {
      const next = parts[part.dataset.swap];
      if (next === void 0 || next === part.innerHTML) continue;
      const focus = part.contains(document.activeElement) && document.activeElement, tap = focus && focus.closest("form[data-tap]")?.dataset.tap;
      if (focus && !tap || part.querySelector("details[open]:not([data-teaches])")) continue;
      part.innerHTML = next;
      if (tap) part.querySelector('form[data-tap="' + tap + '"] button')?.focus();
    }
    ring("exchanged");
  };
  var refresh = async () => {
    const page = live();
    if (!page) return;
    try {
      const answer = await fetch(page.dataset.live, { headers: { Accept: "text/html" } });
      reached(answer.status < 500);
      if (!answer.ok || answer.redirected) return;
      const fresh2 = new DOMParser().parseFromString(await answer.text(), "text/html");
      exchange(Object.fromEntries([...fresh2.querySelectorAll("[data-swap]")].map((part) => [part.dataset.swap, part.innerHTML])));
    } catch {
      reached(false);
    }
  };
  var shownIn = (unit, celsius) => unit === "\xB0F" ? celsius * 1.8 + 32 : celsius;
  var dotAt = (d, { p, t: t2, v }) => {
    const [y0, y1, v0, v1] = d.scale ?? [];
    if (!(y0 > y1) || !d.zero) return null;
    const minute = (t2 - d.zero) / 6e4;
    if (!(minute >= d.from && minute <= d.to) || p.startsWith("room") || p === "draft" || p.startsWith("outdoor")) return null;
    return {
      x: d.left + (minute - d.from) / (d.to - d.from) * (d.right - d.left),
      y: Math.max(y1, y0 - (shownIn(d.unit, v) - v0) / (v1 - v0) * (y0 - y1))
    };
  };
  var ink = (points) => {
    let unit = "\xB0C";
    for (const svg of document.querySelectorAll(".live svg.strip")) {
      const d = JSON.parse(svg.dataset.strip);
      unit = d.unit;
      for (const at of points.map((point) => dotAt(d, point)).filter(Boolean)) {
        const dot = document.createElementNS("http://www.w3.org/2000/svg", "circle");
        for (const [name, value] of Object.entries({ class: "dot fresh", r: "2.4", cx: at.x, cy: at.y })) dot.setAttribute(name, value);
        svg.append(dot);
      }
    }
    const guide = document.querySelector("[data-guide]"), number2 = guide?.querySelector("[data-number]");
    const newest = points.filter(({ p }) => p === guide?.dataset.guide).at(-1);
    if (newest && number2) number2.textContent = Math.round(shownIn(unit, newest.v)) + "\xB0";
  };
  var start7 = () => {
    const page = live();
    if (!page) return;
    look();
    if (!page.dataset.changes || !window.EventSource) return;
    let heard = false;
    const stream = new EventSource(page.dataset.changes);
    stream.addEventListener("open", () => {
      if (heard) refresh();
      heard = true;
      page.dataset.hears = "yes";
    });
    stream.addEventListener("parts", (e) => {
      reached(true);
      exchange(JSON.parse(e.data));
    });
    stream.addEventListener("lost", () => refresh());
    stream.addEventListener("reading", (e) => ink(JSON.parse(e.data)));
    stream.addEventListener("error", () => {
      delete page.dataset.hears;
      look();
    });
    addEventListener("pagehide", () => stream.close());
  };

  // src/send.js
  var alone = (f) => navigator.locks ? navigator.locks.request("smolder-send", f) : f();
  var inHand = /* @__PURE__ */ new Set();
  var sending = null;
  var again = false;
  var busy = (yes) => live()?.setAttribute("aria-busy", String(yes));
  var idle = () => Promise.resolve(sending);
  var send2 = () => {
    sending ??= (busy(true), alone(sendAll)).finally(() => {
      sending = null;
      busy(false);
      ring("answered");
      if (again) {
        again = false;
        send2();
      }
    });
    return sending;
  };
  var sendAll = async () => {
    if (!household()) return;
    const tried = /* @__PURE__ */ new Set();
    for (; ; ) {
      const next = mine().find(({ key: key4, entry }) => !entry.refused && !tried.has(key4));
      if (!next) return;
      tried.add(next.key);
      if (!await sendOne(next)) return;
    }
  };
  var sendOne = async ({ key: key4, entry }) => {
    let answer;
    try {
      const body2 = new URLSearchParams([...entry.fields, ["sent", (/* @__PURE__ */ new Date()).toISOString()]]);
      answer = await fetch(entry.to, { method: "POST", headers: { Accept: "application/json" }, body: body2 });
    } catch {
      reached(false);
      return false;
    }
    const body = await answer.json().catch(() => ({}));
    if (answer.status === 401 || answer.status === 429) {
      tell(body.error ?? t("Kept on this device."), true);
      return false;
    }
    if (answer.status >= 500) {
      tell(body.error ?? t("Kept on this device; the other end does not answer just now."), true);
      if (answer.status === 503) reached(false);
      return answer.status !== 503;
    }
    reached(true);
    if (answer.ok) {
      localStorage.removeItem(key4);
      tell(t("Logged: {0}", body.said));
      document.querySelectorAll('details.sheet[open][data-key="' + CSS.escape(entry.sheet ?? "") + '"]').forEach(shut);
    } else {
      refuse(key4, entry, body.error ?? t("This entry was refused."));
    }
    if (!answer.ok || !await heardOf(entry)) await refresh();
    ring("answered");
    return true;
  };
  var heardOf = async (entry) => {
    if (!of(entry, location.pathname)) return true;
    const id = Object.fromEntries(entry.fields).id, until = Date.now() + hearsWithin;
    const shown = () => document.querySelector("[data-undo]")?.getAttribute("action").includes(id);
    while (live()?.dataset.hears && !shown() && Date.now() < until) await new Promise((go) => setTimeout(go, 40));
    return Boolean(live()?.dataset.hears && shown());
  };
  var refuse = (key4, entry, why) => {
    const typed = Object.fromEntries(entry.fields);
    entry.refused = why;
    keep(key4, entry);
    if (entry.sheet && document.querySelector('details.sheet[open][data-key="' + CSS.escape(entry.sheet) + '"]')) inHand.add(key4);
    tell(why + " " + (typed.value ? t("Typed was: {0}", typed.value) + " " : "") + t("It waits above, to be changed or dropped."), true);
  };
  var hearsWithin = 2500;
  var twice = 1500;
  var doneAt = 0;
  var submitted = (e) => {
    const form = e.target;
    if (!form.matches?.("form[data-entry]")) return;
    e.preventDefault();
    if (form.dataset.tap === "y") {
      if (Date.now() - doneAt < twice) return;
      doneAt = Date.now();
    }
    const fields = [...new FormData(form, e.submitter).entries()].map(([k, v]) => [k, String(v)]);
    const fixed = form.querySelector("input[name=id][data-fixed]")?.value;
    const id = fixed || (crypto.randomUUID?.() ?? Date.now().toString(36) + Math.random().toString(36).slice(2));
    if (!fixed) fields.push(["id", id]);
    fields.push(["at", (/* @__PURE__ */ new Date()).toISOString()]);
    const from = form.closest("details.sheet")?.dataset.key;
    for (const key4 of inHand) {
      if (read(key4)?.sheet !== from) continue;
      inHand.delete(key4);
      localStorage.removeItem(key4);
    }
    if (!keep(place(id), { to: form.getAttribute("action"), fields, sheet: from, made: Date.now() })) {
      tell(t("This device keeps nothing more: the entry is not kept. Write it down."), true);
      return;
    }
    tell(t("Kept."));
    ring("kept");
    if (sending) again = true;
    if (form.dataset.tap) e.submitter?.blur();
    send2();
  };
  var asksAgain = 2e4;
  var start8 = () => {
    document.addEventListener("submit", submitted);
    addEventListener("online", () => {
      look();
      send2();
    });
    addEventListener("storage", (e) => {
      if (e.key?.startsWith(prefix) && !e.newValue) refresh();
    });
    if (!household()) return;
    fromBefore();
    send2();
    setInterval(() => {
      send2();
      if (!live()) look();
      else if (!live().dataset.hears) refresh();
    }, asksAgain);
  };

  // src/keys.js
  var open = (name) => {
    const sheet = document.querySelector('details[data-key="' + name + '"], details[data-also="' + name + '"]');
    if (!sheet) return false;
    document.querySelectorAll("details.sheet[open]").forEach((d) => {
      if (d !== sheet) d.open = false;
    });
    for (let around = sheet.parentElement?.closest("details"); around; around = around.parentElement?.closest("details")) around.open = true;
    sheet.open = true;
    (sheet.querySelector("input:not([type=hidden]), textarea, select, button") ?? sheet).focus();
    return true;
  };
  var stepTo = (steps, value, by) => {
    const at = steps.indexOf(value);
    return steps[Math.min(steps.length - 1, Math.max(0, (at < 0 ? by > 0 ? -1 : steps.length : at) + by))];
  };
  var pressed = (e) => {
    if (!live() || document.body.classList.contains("role-looks") || e.ctrlKey || e.metaKey || e.altKey) return;
    const field = e.target.matches?.("input:not([type=submit]), textarea, select");
    if (e.key === "Escape") {
      document.querySelectorAll("details.sheet[open]").forEach(shut);
      return;
    }
    if (field && e.target.dataset.steps && (e.key === "ArrowUp" || e.key === "ArrowDown")) {
      e.preventDefault();
      e.target.value = stepTo(JSON.parse(e.target.dataset.steps), e.target.value, e.key === "ArrowUp" ? 1 : -1);
      return;
    }
    if (field) return;
    if (e.key === "u") {
      idle().then(() => document.querySelector("[data-undo] button")?.click());
      return;
    }
    if (!/^[0-9a-z?]$/.test(e.key)) return;
    const tap = document.querySelector('form[data-tap="' + e.key + '"] button');
    if (tap) tap.click();
    else if (open(e.key)) e.preventDefault();
  };
  var start9 = () => document.addEventListener("keydown", pressed);

  // src/offline.js
  var offline_exports = {};
  __export(offline_exports, {
    start: () => start10
  });
  var key2 = "smolder-pages-of";
  var start10 = () => {
    if (!("serviceWorker" in navigator)) return;
    const here = document.body.dataset.household ?? "", before = localStorage.getItem(key2);
    const forget = () => caches?.delete("pages").catch(() => {
    });
    navigator.serviceWorker.register("/sw.js").then((r) => r.update?.()).catch(() => {
    });
    if (!navigator.serviceWorker.controller) {
      navigator.serviceWorker.ready.then((r) => r.active.postMessage({ keep: location.pathname })).catch(() => {
      });
    }
    if (here && before !== here) {
      localStorage.setItem(key2, here);
      if (before !== null) forget();
    }
    if (!here && document.querySelector("form[action='/sign-in']")) forget();
    document.addEventListener("submit", (e) => {
      if (e.target.getAttribute?.("action") === "/sign-out") forget();
    });
  };

  // src/otherwise.js
  var otherwise_exports = {};
  __export(otherwise_exports, {
    changesIn: () => changesIn,
    start: () => start11
  });

  // src/strip.js
  var clock = (minutes) => {
    const m = (Math.round(minutes) % 1440 + 1440) % 1440;
    return Math.floor(m / 60) + ":" + String(m % 60).padStart(2, "0");
  };
  var valueAt = (points, minute) => {
    for (let i = 1; i < points.length; i++) {
      const [a, va] = points[i - 1], [b, vb] = points[i];
      if (a <= minute && minute <= b && b - a <= 60) return b === a ? va : va + (vb - va) * (minute - a) / (b - a);
    }
    return null;
  };
  var minuteAt = (d, box2, view, clientX) => {
    const x = (clientX - box2.left) / box2.width * view;
    return d.from + Math.min(1, Math.max(0, (x - d.left) / (d.right - d.left))) * (d.to - d.from);
  };
  var minutesOver = (d, box2, view, by) => by / box2.width * view / (d.right - d.left) * (d.to - d.from);
  var on2 = (svg) => [JSON.parse(svg.dataset.strip), svg.getBoundingClientRect(), svg.viewBox.baseVal.width];
  var component = () => ({
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
      const line2 = svg.querySelector(".cross");
      line2.setAttribute("x1", x);
      line2.setAttribute("x2", x);
      line2.setAttribute("visibility", "visible");
      const said2 = [];
      for (const pen of d.pens) {
        const v = valueAt(pen.points, this.minute);
        if (v !== null) said2.push(pen.name + " " + (pen.fine ? v.toFixed(1) : Math.round(v)) + " " + d.unit);
      }
      let moved = 0;
      for (const [from, by] of d.moves ?? []) if (this.minute >= from) moved = by;
      document.dispatchEvent(new CustomEvent("smolder:minute", { detail: this.minute }));
      this.text = (d.start >= 0 ? clock(d.start + this.minute + moved) : clock(this.minute)) + (said2.length ? " \xB7 " + said2.join(" \xB7 ") : "");
    },
    move(event) {
      const svg = this.chart();
      if (!svg) return;
      const d = JSON.parse(svg.dataset.strip), box2 = svg.getBoundingClientRect();
      const x = (event.clientX - box2.left) / box2.width * svg.viewBox.baseVal.width;
      if (x >= d.left && x <= d.right) this.show(d.from + (x - d.left) / (d.right - d.left) * (d.to - d.from));
    },
    key(event) {
      const step = { ArrowLeft: -5, ArrowRight: 5, PageUp: -60, PageDown: 60 }[event.key];
      if (!step) return;
      event.preventDefault();
      this.show((this.minute ?? 0) + step);
    }
  });
  var dragging = () => {
    const zoomed = document.querySelector("[data-zoom]");
    if (!zoomed) return;
    const least = 24;
    let from = null;
    zoomed.addEventListener("pointerdown", (e) => {
      const svg = e.target.closest("svg.strip");
      from = svg && e.pointerType === "mouse" && e.button === 0 ? { svg, x: e.clientX } : null;
    });
    addEventListener("pointerup", (e) => {
      const was = from;
      from = null;
      if (!was || Math.abs(e.clientX - was.x) < least) return;
      const [a, b] = [minuteAt(...on2(was.svg), was.x), minuteAt(...on2(was.svg), e.clientX)].sort((x, y) => x - y);
      const query = new URLSearchParams(location.search);
      query.set("from", a.toFixed(1));
      query.set("to", Math.max(b, a + 5).toFixed(1));
      location.href = "?" + query + "#" + (zoomed.dataset.zoom || "strip");
    });
  };

  // src/otherwise.js
  var changesIn = (search) => {
    const list = /* @__PURE__ */ new Map();
    for (const e of new URLSearchParams(search).getAll("e")) {
      const [kind, id] = e.split(":");
      list.set(kind + ":" + (["later", "to", "without"].includes(kind) ? id : e), e);
    }
    return list;
  };
  var start11 = () => {
    const tried = document.querySelector("[data-otherwise]");
    if (!tried) return;
    const changes = () => changesIn(location.search);
    let turn = 0;
    const go = async (list, entry) => {
      const mine2 = ++turn, query = new URLSearchParams();
      for (const e of list.values()) query.append("e", e);
      const to = tried.dataset.otherwise + "?" + query;
      tried.setAttribute("aria-busy", "true");
      const answer = await fetch(to + (query.size ? "&" : "") + "part=1").catch(() => null);
      if (mine2 !== turn) return;
      tried.setAttribute("aria-busy", "false");
      const fresh2 = answer && new DOMParser().parseFromString(await answer.text(), "text/html").querySelector('[data-swap="tried"]');
      if (!fresh2) {
        const box2 = tried.querySelector(".would-have");
        if (box2) box2.textContent = t("The server cannot be reached; nothing was worked out.");
        return;
      }
      tried.querySelector('[data-swap="tried"]').innerHTML = fresh2.innerHTML;
      history.replaceState(null, "", to);
      const again3 = [...tried.querySelectorAll(".hold")].find((h) => h.dataset.entry === entry && h.getBoundingClientRect().width > 0);
      again3?.focus();
    };
    const set = (tab, kind, value) => {
      const list = changes(), id = tab.dataset.entry, key4 = kind + ":" + id;
      list.delete(key4);
      if (kind === "without" ? value : value !== null) list.set(key4, kind === "without" ? key4 : key4 + ":" + value);
      go(list, id);
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
      later(tab, Math.max(0, Number(tab.dataset.minute) + minutesOver(...on2(svg), e.clientX - from)));
    };
    tried.addEventListener("pointerup", drop);
    tried.addEventListener("pointercancel", () => {
      if (held) held.tab.setAttribute("transform", held.at);
      held = null;
    });
    tried.addEventListener("keydown", (e) => {
      const tab = e.target.closest?.(".hold");
      if (!tab) return;
      const at = Number(tab.dataset.minute), to = Number(tab.dataset.to), step = Number(tab.dataset.step), most2 = Number(tab.dataset.most);
      const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -10, PageDown: 10 }[e.key];
      const more = { ArrowUp: 1, ArrowDown: -1 }[e.key];
      if (by) later(tab, Math.max(0, at + by));
      else if (more && step) set(tab, "to", Math.min(most2, Math.max(step >= 1 ? 1 : 0, Math.round((to + more * step) * 1e4) / 1e4)));
      else if (e.key === "Delete" || e.key === "Backspace") set(tab, "without", !tab.classList.contains("gone"));
      else return;
      e.preventDefault();
      e.stopPropagation();
    });
  };

  // src/passkeys.js
  var passkeys_exports = {};
  __export(passkeys_exports, {
    asked: () => asked2,
    made: () => made2,
    signed: () => signed,
    start: () => start12
  });
  var bytes2 = (text2) => Uint8Array.from(atob(text2.replaceAll("-", "+").replaceAll("_", "/")), (c) => c.charCodeAt(0));
  var text = (buffer) => btoa(String.fromCharCode(...new Uint8Array(buffer))).replaceAll("+", "-").replaceAll("/", "_").replaceAll("=", "");
  var known = (list) => list?.map((c) => ({ ...c, id: bytes2(c.id) }));
  var made2 = (c) => ({
    id: c.id,
    rawId: text(c.rawId),
    type: c.type,
    response: { clientDataJSON: text(c.response.clientDataJSON), attestationObject: text(c.response.attestationObject), transports: c.response.getTransports?.() ?? [] }
  });
  var signed = (c) => ({
    id: c.id,
    rawId: text(c.rawId),
    type: c.type,
    response: {
      clientDataJSON: text(c.response.clientDataJSON),
      authenticatorData: text(c.response.authenticatorData),
      signature: text(c.response.signature),
      userHandle: c.response.userHandle && text(c.response.userHandle)
    }
  });
  var asked2 = (key4) => ({
    ...key4,
    challenge: bytes2(key4.challenge),
    ...key4.user && { user: { ...key4.user, id: bytes2(key4.user.id) } },
    ...key4.excludeCredentials && { excludeCredentials: known(key4.excludeCredentials) },
    ...key4.allowCredentials && { allowCredentials: known(key4.allowCredentials) }
  });
  var post = async (path, body) => {
    const answer = await fetch(path, { method: "POST", headers: { "Content-Type": "application/json", Accept: "application/json" }, body: body && JSON.stringify(body) });
    const got = await answer.json().catch(() => ({}));
    if (!answer.ok) throw new Error(got.error ?? t("The server does not answer. Try again in a moment."));
    return got;
  };
  var on3 = (box2, ask2) => {
    const button2 = box2.querySelector("button"), says = box2.querySelector("[data-passkey-says]");
    box2.hidden = false;
    button2.addEventListener("click", async () => {
      button2.disabled = true;
      says.textContent = "";
      try {
        await ask2();
      } catch (e) {
        says.textContent = e instanceof DOMException ? e.name === "InvalidStateError" ? t("This device has a passkey here already.") : t("Nothing was signed. Try again, or use your password.") : e.message;
      }
      button2.disabled = false;
    });
  };
  var start12 = () => {
    if (!window.PublicKeyCredential) return;
    const make = document.querySelector("[data-passkey-make]"), enter = document.querySelector("[data-passkey-enter]");
    if (make) on3(make, async () => {
      const { publicKey } = await post("/household/passkeys/ask");
      const answer = made2(await navigator.credentials.create({ publicKey: asked2(publicKey) }));
      await post(`/household/passkeys?name=${encodeURIComponent(make.querySelector("input").value)}`, answer);
      location.reload();
    });
    if (enter) on3(enter, async () => {
      const { publicKey } = await post("/sign-in/passkey/ask");
      const answer = signed(await navigator.credentials.get({ publicKey: asked2(publicKey) }));
      const { to } = await post(`/sign-in/passkey?back=${encodeURIComponent(enter.dataset.passkeyEnter)}`, answer);
      location.assign(to);
    });
  };

  // src/pieces.js
  var pieces_exports = {};
  __export(pieces_exports, {
    start: () => start13
  });
  var most = 8;
  var drawing = '<svg viewBox="0 0 30 24" width="30" height="24" aria-hidden="true"><path d="M4 20C2 12 8 4 15 3c7 1 13 9 11 17z"/><path d="M9 18c1-5 3-8 6-9M15 18v-6"/></svg>';
  var start13 = () => {
    for (const row of document.querySelectorAll("[data-pick-pieces]")) {
      const field = row.closest("form").querySelector("[data-pieces]");
      row.hidden = false;
      const mark = () => row.querySelectorAll("button").forEach((b, i) => b.classList.toggle("taken", i < Number(field.value)));
      for (let n = 1; n <= most; n++) {
        const button2 = node("button", "", { type: "button" });
        button2.setAttribute("aria-label", n === 1 ? t("one piece") : t("{0} pieces", n));
        button2.innerHTML = drawing;
        button2.addEventListener("click", () => {
          field.value = n;
          mark();
        });
        row.append(button2);
      }
      field.addEventListener("input", mark);
      mark();
    }
  };

  // src/practice.js
  var practice_exports = {};
  __export(practice_exports, {
    passFor: () => passFor,
    start: () => start14
  });

  // src/glass.js
  var between = (frames, at) => {
    let i = frames.findIndex((f) => f.t >= at);
    if (i < 0) return frames.at(-1);
    if (i === 0) return frames[0];
    const a = frames[i - 1], b = frames[i], w = (at - a.t) / Math.max(1e-9, b.t - a.t);
    const mix = (x, y) => x + (y - x) * w;
    const out = { ...b, t: at, gauges: b.gauges.map((v, k) => mix(a.gauges[k] ?? v, v)) };
    for (const name of ["bed", "glow", "reach", "burns", "jets", "comb", "glass", "dense", "vapour", "room"]) out[name] = mix(a[name], b[name]);
    if (a.lying.length === b.lying.length) {
      out.lying = b.lying.map((l, k) => a.lying[k].n === l.n ? { ...l, l: mix(a.lying[k].l, l.l), b: mix(a.lying[k].b, l.b), f: mix(a.lying[k].f, l.f) } : l);
    }
    return out;
  };
  var wide = 640;
  var tall = 430;
  var box = { left: 22, top: 22, right: 452, bottom: 396, floor: 372, baffle: 58 };
  var cap = { left: 486, right: 618, top: 14, bottom: 128 };
  var noise = (seed, time) => (Math.sin(time * 1.7 + seed * 12.9) + Math.sin(time * 2.9 + seed * 7.3) + Math.sin(time * 0.83 + seed * 3.1)) / 3;
  var chance = (seed) => {
    const v = Math.sin(seed * 127.1 + 11.7) * 43758.5453;
    return v - Math.floor(v);
  };
  var clamp = (v, low, high) => Math.max(low, Math.min(high, v));
  var rgb = (a, b, w) => "rgb(" + a.map((v, i) => Math.round(v + (b[i] - v) * clamp(w, 0, 1))).join(",") + ")";
  var grey = [58, 54, 52];
  var red = [170, 38, 14];
  var hot = [255, 150, 52];
  var pale = [255, 226, 150];
  var glowing = (celsius) => celsius < 560 ? rgb(grey, red, (celsius - 380) / 180) : celsius < 900 ? rgb(red, hot, (celsius - 560) / 340) : rgb(hot, pale, (celsius - 900) / 300);
  var bricks = (g) => {
    g.fillStyle = "#191411";
    g.fillRect(box.left, box.top, box.right - box.left, box.bottom - box.top);
    g.strokeStyle = "#241d18";
    g.lineWidth = 1.5;
    for (let row = 0; row < 8; row++) {
      const y = box.top + row * 47;
      g.beginPath();
      g.moveTo(box.left, y);
      g.lineTo(box.right, y);
      for (let x = box.left + (row % 2 ? 36 : 0); x < box.right; x += 72) {
        g.moveTo(x, y);
        g.lineTo(x, y + 47);
      }
      g.stroke();
    }
  };
  var coals = (g, f, time) => {
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
  var pile = (lying, from) => {
    const out = [];
    let y = from;
    for (const l of [...lying].sort((a, b) => (a.k ? 1 : 0) - (b.k ? 1 : 0))) {
      const shown = Math.min(l.n, l.k ? 12 : 10), across = l.k ? 4 : shown > 4 ? 2 : 1;
      const thick = (l.k ? 8 : across === 2 ? 26 : 34) * Math.sqrt(clamp(l.l, 0.03, 1)), long2 = (l.k ? 92 : across === 2 ? 172 : 250) * (0.9 + 0.1 * l.l);
      for (let i = 0; i < shown; i++) {
        const row = Math.floor(i / across), column = i % across, inRow = Math.min(across, shown - row * across);
        out.push({ x: 237 + (column - (inRow - 1) / 2) * (long2 + 6) + (chance(i + out.length) - 0.5) * 12, y: y - row * thick * 0.94 - thick / 2, long: long2, thick, turn: (chance(i * 3 + out.length) - 0.5) * (l.k ? 0.5 : 0.09), of: l });
      }
      y -= Math.ceil(shown / across) * thick * 0.94;
    }
    return { pieces: out, top: y };
  };
  var wood = (g, pieces, f, time) => {
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
  var tongue = (g, x, base, high, half, lean) => {
    g.beginPath();
    g.moveTo(x - half, base);
    g.bezierCurveTo(x - half * 1.15, base - high * 0.45, x + lean - half * 0.3, base - high * 0.6, x + lean, base - high);
    g.bezierCurveTo(x + lean + half * 0.35, base - high * 0.55, x + half * 1.1, base - high * 0.4, x + half, base);
    g.closePath();
    g.fill();
  };
  var flames = (g, f, pieces, top, time, front) => {
    const burns = clamp(f.burns, 0, 1.6);
    if (burns < 0.015) return;
    const left = Math.min(...pieces.map((p) => p.x - p.long / 2)) + 8, right = Math.max(...pieces.map((p) => p.x + p.long / 2)) - 8;
    const n = Math.round((front ? 3 : 4) + (front ? 4 : 7) * clamp(burns * 1.5, 0, 1)), deep = box.floor - top;
    const base = front ? top + Math.min(deep, 46) : top + Math.min(deep, 26), high = (clamp(f.reach, 0.1, 1.25) * (top - box.baffle) + 34) * (front ? 0.34 : 1);
    const speed = 1.2 + 2.4 * clamp(burns, 0, 1), half = (right - left) / n * (front ? 0.42 : 0.62);
    g.globalCompositeOperation = "screen";
    const layers = front ? [["rgba(196,74,18,0.34)", 1], ["rgba(255,176,84,0.3)", 0.6]] : [["rgba(128,30,8,0.55)", 1], ["rgba(206,84,20,0.5)", 0.8], ["rgba(255,158,58,0.42)", 0.58], ["rgba(255,226,160,0.4)", 0.34]];
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
  var second = (g, f, time) => {
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
  var above = (g, f, conf) => {
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
    for (let x = 158; x < 324; x += 9) {
      g.beginPath();
      g.moveTo(x, box.top + 2);
      g.lineTo(x, box.top + 20);
      g.stroke();
    }
  };
  var pane = (g, f, state, ink2, time) => {
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
    g.strokeStyle = ink2;
    g.lineWidth = 5;
    g.strokeRect(box.left - 4, box.top - 4, box.right - box.left + 8, box.bottom - box.top + 8);
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
  var chimney = (g, f, ink2, time) => {
    const middle = (cap.left + cap.right) / 2, mouth = cap.bottom - 34;
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
    g.strokeStyle = ink2;
    g.lineWidth = 2;
    g.strokeRect(middle - 15, mouth, 30, 34);
    g.beginPath();
    g.moveTo(cap.left, cap.bottom);
    g.lineTo(cap.right, cap.bottom);
    g.moveTo(middle - 20, mouth);
    g.lineTo(middle + 20, mouth);
    g.stroke();
  };
  var dial = (g, gauge, value, at, colours) => {
    const { x, y, r } = at, angle = (v) => -Math.PI / 2 * clamp(v / gauge.top, 0, 1);
    const on4 = (v, far) => [x + Math.cos(angle(v)) * far, y + Math.sin(angle(v)) * far];
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
      g.moveTo(...on4(v, r - 9));
      g.lineTo(...on4(v, r + 2));
      g.stroke();
    }
    g.strokeStyle = value >= gauge.hot ? colours.ember : colours.ink;
    g.lineWidth = 2.5;
    g.beginPath();
    g.moveTo(x, y);
    g.lineTo(...on4(value, r - 2));
    g.stroke();
    g.fillStyle = colours.ink;
    g.beginPath();
    g.arc(x, y, 4, 0, 7);
    g.fill();
    g.font = "12px " + colours.font;
    g.textAlign = "right";
    g.fillText(gauge.name, x + r, y + 17);
  };
  var draw = (g, f, state, conf, colours, time) => {
    g.clearRect(0, 0, wide, tall);
    g.save();
    g.beginPath();
    g.rect(box.left, box.top, box.right - box.left, box.bottom - box.top);
    g.clip();
    bricks(g);
    above(g, f, conf);
    coals(g, f, time);
    const { pieces, top } = pile(f.lying, box.floor + 12 - clamp(f.bed, 0, 1.2) * 26);
    const over = pieces.length ? pieces : [{ x: 237, long: 200 }];
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
    if (f.burns > 0.02) {
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
  var fit = (canvas) => {
    const scale = Math.min(2, window.devicePixelRatio || 1);
    canvas.width = wide * scale;
    canvas.height = tall * scale;
    const g = canvas.getContext("2d");
    g.setTransform(scale, 0, 0, scale, 0, 0);
    return g;
  };
  var coloursOf = (root) => {
    const style = getComputedStyle(root), of2 = (name) => style.getPropertyValue(name).trim();
    return { ink: of2("--ink"), ember: of2("--ember"), hair: of2("--quiet"), font: style.fontFamily };
  };

  // src/practice.js
  var passFor = (pace) => Math.max(2, 2 * Math.round(pace * 0.35));
  var frameEvery = 1e3 / 30;
  var following = (root) => {
    let colours = coloursOf(root);
    matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => {
      colours = coloursOf(root);
    });
    return () => colours;
  };
  var begin = (root) => {
    const conf = JSON.parse(root.dataset.practice), canvas = root.querySelector("canvas"), g = fit(canvas);
    const inks = following(root);
    const at = (name) => root.querySelector("[data-" + name + "]");
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    let state = JSON.parse(root.dataset.first), frames = [...state.frames], known2 = frames.at(-1).t, shown = known2;
    let running = false, pace = 20, waiting = null, last = 0, drawn = 0, due = false;
    const text2 = (node2, says) => {
      if (node2 && node2.textContent !== says) node2.textContent = says;
    };
    const hint = (h) => {
      const place2 = at("hint"), key4 = JSON.stringify(h ?? null);
      if (place2.dataset.key === key4) return;
      place2.dataset.key = key4;
      place2.replaceChildren();
      if (!h) return;
      const add = (says, name) => {
        const p = document.createElement("p");
        p.className = name;
        p.textContent = says;
        place2.append(p);
      };
      add(h.do, h.now ? "do" : "");
      if (h.why) add(h.why, "why");
      if (h.does) {
        const button2 = document.createElement("button");
        button2.type = "button";
        button2.className = "tap";
        button2.textContent = t("Do it");
        button2.addEventListener("click", () => send3({ kind: "hint" }));
        place2.append(button2);
      }
    };
    const show3 = (a) => {
      state = a;
      text2(at("clock"), a.clock);
      text2(at("left"), t("{0} left", a.left));
      text2(at("seen"), a.says);
      text2(at("laid"), a.laid ?? "");
      if (a.happened?.length) text2(at("happened"), a.happened.join(" "));
      hint(a.hint);
      for (const [key4, mark] of Object.entries(a.marks)) {
        text2(root.querySelector('[data-mark="' + key4 + '"]'), mark);
        const slide = root.querySelector('[data-control="' + key4 + '"]');
        if (slide && document.activeElement !== slide) slide.value = 100 * a.controls[key4];
      }
      for (const button2 of root.querySelectorAll("[data-door]")) button2.setAttribute("aria-pressed", String(Number(button2.dataset.door) === a.door));
      for (const [name, on4] of [["window", a.window], ["fan", a.fan]]) {
        at(name)?.setAttribute("aria-pressed", String(!!on4));
        root.querySelector('[data-other="' + name + '"]').value = on4 ? "" : "1";
      }
      at("load").value = a.burns ? "load" : "lay";
      at("load-word").textContent = a.burns ? at("load-word").dataset.lit : at("load-word").dataset.laid;
      at("unlit").hidden = !!a.burns;
      const refused = at("refused");
      refused.hidden = !a.refused;
      text2(refused, a.refused ?? "");
      if (a.hint?.now && !due) run(false);
      due = !!a.hint?.now;
      if (a.over) {
        location.reload();
        running = false;
      }
    };
    const send3 = (fields) => {
      waiting = (waiting ?? Promise.resolve()).then(async () => {
        const body = new URLSearchParams({ ...fields, at: String(known2), "shown-in": conf.unit === "\xB0F" ? "imperial" : "metric" });
        const answer = await fetch("/practice/" + conf.id + "/do", { method: "POST", body, headers: { Accept: "application/json" } }).catch(() => null);
        if (!answer) {
          run(false);
          text2(at("happened"), t("The server does not answer. Nothing is lost: go on when it does."));
          return;
        }
        if (answer.status === 409) {
          location.reload();
          return;
        }
        const a = await answer.json().catch(() => null);
        if (!a) {
          run(false);
          return;
        }
        if (!a.frames) {
          location.reload();
          return;
        }
        const acted = !!fields.kind;
        frames.push(...a.frames.filter((f) => f.t > known2 || acted));
        if (acted) {
          frames = a.frames;
          shown = Math.max(shown, a.frames[0].t);
        }
        known2 = a.frames.at(-1).t;
        if (!running) shown = known2;
        show3(a);
      });
      const mine2 = waiting;
      mine2.then(() => {
        if (waiting === mine2) waiting = null;
      });
      return mine2;
    };
    const run = (on4) => {
      running = on4;
      text2(at("run"), on4 ? t("Stop") : t("Run"));
      at("run").setAttribute("aria-pressed", String(on4));
    };
    const turn = (now) => {
      requestAnimationFrame(turn);
      if (now - drawn < frameEvery - 2) return;
      const by = Math.min(0.25, (now - (last || now)) / 1e3);
      last = drawn = now;
      if (running) {
        shown = Math.min(known2, shown + by * pace);
        if (!waiting && known2 - shown < passFor(pace)) send3({ pass: passFor(pace) });
        while (frames.length > 2 && frames[1].t < shown) frames.shift();
      }
      const f = between(frames, shown);
      draw(g, f, state, conf, inks(), still ? 0 : now / 1e3);
      root.querySelectorAll("[data-dial]").forEach((node2, i) => text2(node2, Math.round(f.gauges[i] ?? f.room) + " " + conf.unit));
      root.dataset.drawn = String(Number(root.dataset.drawn ?? 0) + 1);
    };
    for (const name of ["run", "paces"]) at(name).hidden = false;
    for (const button2 of root.querySelectorAll("[data-without]")) button2.hidden = true;
    at("run").addEventListener("click", () => run(!running));
    at("pace").addEventListener("change", (e) => {
      pace = Number(e.target.value);
    });
    root.addEventListener("submit", (e) => {
      const form = e.target.closest("form[data-act]");
      if (!form) return;
      e.preventDefault();
      send3(Object.fromEntries(new FormData(form)));
    });
    root.addEventListener("change", (e) => {
      if (e.target.dataset.control) send3({ kind: "control", control: e.target.dataset.control, opening: e.target.value });
    });
    document.addEventListener("keydown", (e) => {
      if (e.ctrlKey || e.metaKey || e.altKey || e.target.matches?.("input, select, textarea, button, summary, a")) return;
      const main = root.querySelector("[data-main]");
      const does = {
        " ": () => run(!running),
        ArrowUp: () => main && moved(main, 1),
        ArrowDown: () => main && moved(main, -1),
        d: () => send3({ kind: "door", door: (state.door + 1) % 3 }),
        k: () => send3({ kind: "kindling" }),
        r: () => send3({ kind: "rake" }),
        h: () => state.hint?.does && send3({ kind: "hint" }),
        l: () => root.querySelector("form.load input[name=pieces]").focus()
      }[e.key];
      if (!does) return;
      e.preventDefault();
      does();
    });
    const moved = (slide, by) => {
      slide.value = Number(slide.value) + by * Number(slide.dataset.step);
      send3({ kind: "control", control: slide.dataset.control, opening: slide.value });
    };
    hint(state.hint);
    due = !!state.hint?.now;
    run(false);
    requestAnimationFrame(turn);
  };
  var play = (root) => {
    const conf = JSON.parse(root.dataset.play), frames = JSON.parse(root.dataset.frames), g = fit(root.querySelector("canvas")), inks = following(root);
    const run = root.querySelector("[data-run]"), to = root.querySelector("[data-to]"), still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const from = frames[0].t, until = frames.at(-1).t, lasts = Math.max(1, until - from);
    let shown = until > from ? from : until, running = !still && until > from, last = 0, drawn = 0;
    const says = () => {
      run.textContent = running ? t("Stop") : t("Run");
    };
    const turn = (now) => {
      requestAnimationFrame(turn);
      if (now - drawn < frameEvery - 2) return;
      if (running) shown = Math.min(until, shown + Math.min(0.25, (now - (last || now)) / 1e3) * Math.max(60, lasts / 12));
      if (shown >= until && running) {
        running = false;
        says();
      }
      last = drawn = now;
      to.value = 1e3 * (shown - from) / lasts;
      const f = between(frames, shown);
      root.querySelector("[data-clock]").textContent = clock(Number(root.dataset.zero) + shown / 60).padStart(5, "0");
      draw(g, f, { door: f.door }, conf, inks(), still ? 0 : now / 1e3);
      root.querySelectorAll("[data-dial]").forEach((node2, i) => {
        node2.textContent = Math.round(f.gauges[i] ?? f.room) + " " + conf.unit;
      });
      root.dataset.drawn = String(Number(root.dataset.drawn ?? 0) + 1);
    };
    run.hidden = root.querySelector("[data-scrub]").hidden = false;
    run.addEventListener("click", () => {
      if (!running && shown >= until) shown = from;
      running = !running;
      says();
    });
    to.addEventListener("input", () => {
      running = false;
      shown = from + Number(to.value) / 1e3 * lasts;
      says();
    });
    says();
    requestAnimationFrame(turn);
  };
  var along = (root) => {
    const rows = [...root.querySelectorAll("[data-given-row]")], slide = root.querySelector("[data-given-at]"), says = root.querySelector("[data-given-says]");
    const show3 = () => {
      const off = (r) => Math.abs(Number(r.dataset.givenRow) - Number(slide.value));
      const row = rows.reduce((best, r) => off(r) < off(best) ? r : best), [mark, heat, hours, smoke, warn] = [...row.cells].map((c) => c.textContent.trim());
      says.textContent = mark + ": " + [heat, hours, smoke].join(" \xB7 ") + (warn ? " \xB7 " + warn : "");
      rows.forEach((r) => r.classList.toggle("chosen", r === row));
      for (const svg of root.querySelectorAll("svg.given")) {
        const [left, right] = [Number(svg.dataset.left), Number(svg.dataset.right)], x = left + Number(row.dataset.givenRow) / 100 * (right - left), line2 = svg.querySelector(".cross");
        line2.setAttribute("x1", x);
        line2.setAttribute("x2", x);
        line2.setAttribute("visibility", "visible");
      }
    };
    slide.hidden = false;
    slide.addEventListener("input", show3);
    show3();
  };
  var start14 = () => {
    const root = document.querySelector("[data-practice]");
    if (root) begin(root);
    const played = document.querySelector("[data-play]");
    if (played) play(played);
    const given = document.querySelector("[data-given]");
    if (given) along(given);
  };

  // src/teach.js
  var teach_exports = {};
  __export(teach_exports, {
    shows: () => shows,
    start: () => start15
  });
  var ofDevice = "taught";
  var fires = 3;
  var shows = (taught, thing, fire) => {
    const seen = taught?.[thing] ?? [];
    if (seen.includes(fire)) return [true, taught ?? {}];
    if (seen.length >= fires) return [false, taught];
    return [true, { ...taught, [thing]: [...seen, fire] }];
  };
  var byHand = null;
  var apply = () => {
    for (const why of document.querySelectorAll("details[data-teaches]")) {
      let [open2, taught] = shows(read(ofDevice), why.dataset.teaches, location.pathname);
      keep(ofDevice, taught);
      if (taught.byHand !== void 0) open2 = taught.byHand;
      if (byHand !== null) open2 = byHand;
      why.open = open2;
    }
  };
  var start15 = () => {
    document.addEventListener("click", (e) => {
      const why = e.target.closest("details[data-teaches] > summary")?.parentElement;
      if (!why) return;
      byHand = !why.open;
      keep(ofDevice, { ...read(ofDevice), byHand });
    });
    on("exchanged", apply);
    apply();
  };

  // src/timers.js
  var timers_exports = {};
  __export(timers_exports, {
    clockOf: () => clockOf,
    ended: () => ended,
    start: () => start16
  });
  var key3 = "smolder-timers:" + location.pathname;
  var mostTimers = 6;
  var timers = () => read(key3) ?? [];
  var clockOf = (ms) => {
    const s = Math.max(0, Math.round(ms / 1e3));
    return Math.floor(s / 60) + ":" + String(s % 60).padStart(2, "0");
  };
  var ended = (list, now) => {
    let just = false;
    for (const timer of list) {
      if (timer.rung || now < timer.until) continue;
      timer.rung = just = true;
    }
    return just;
  };
  var rung = 0;
  var tick = () => {
    for (const span of document.querySelectorAll("[data-timers] [data-since]")) {
      span.querySelector("b").textContent = clockOf(Date.now() - Number(span.dataset.since));
    }
    for (const span of document.querySelectorAll("[data-timers] [data-until]")) {
      const until = Number(span.dataset.until);
      span.querySelector("b").textContent = until > Date.now() ? clockOf(until - Date.now()) : t("now");
      if (until <= Date.now() && rung !== until) {
        rung = until;
        alarm();
      }
    }
    const own = document.querySelector("[data-own-timers]");
    if (!own) return;
    const kept = timers();
    if (ended(kept, Date.now())) {
      keep(key3, kept);
      alarm();
    }
    const text2 = kept.map((timer) => timer.until + (timer.rung ? "!" : "")).join();
    if (own.dataset.shown !== text2) {
      own.dataset.shown = text2;
      own.replaceChildren(...kept.map(button));
    }
    own.querySelectorAll("b").forEach((b, i) => {
      if (kept[i]) b.textContent = kept[i].rung ? t("over") : clockOf(kept[i].until - Date.now());
    });
  };
  var button = (timer) => {
    const stop = node("button", "", { type: "button", className: timer.rung ? "rung" : "" });
    stop.append(node("span", timer.minutes + " min "), node("b"));
    stop.setAttribute("aria-label", t("stop this timer"));
    stop.addEventListener("click", () => {
      keep(key3, timers().filter((other) => other.until !== timer.until));
      tick();
    });
    return stop;
  };
  var start16 = () => {
    if (!live()) return;
    for (const box2 of document.querySelectorAll("[data-set-timer]")) box2.hidden = false;
    for (const set of document.querySelectorAll("[data-minutes]")) {
      set.addEventListener("click", () => {
        const minutes = Number(set.dataset.minutes);
        keep(key3, [...timers(), { minutes, until: Date.now() + minutes * 6e4 }].slice(-mostTimers));
        tick();
        shut(set.closest("details"));
      });
    }
    on("exchanged", tick);
    setInterval(tick, 1e3);
    tick();
  };

  // src/waiting.js
  var waiting_exports = {};
  __export(waiting_exports, {
    show: () => show2,
    start: () => start17
  });
  var words2 = (entry) => said(entry, JSON.parse(document.body.dataset.kinds ?? "{}"));
  var again2 = (key4, entry) => {
    const form = node("form");
    if (!entry.fields.some(([n]) => n === "when")) entry.fields.push(["when", ""]);
    const names = entry.fields.filter(([n]) => /^[vpm]\d+$/.test(n)).map(([n]) => n).concat("value", "pieces", "mass", "note", "when");
    for (const name of names) {
      const field = entry.fields.find(([n]) => n === name);
      if (field && (field[1] || name === "when")) form.append(node("input", "", { name, value: field[1], ariaLabel: name, placeholder: name }));
    }
    form.append(node("button", t("Send it again"), { className: "linkish" }));
    form.addEventListener("submit", (e) => {
      e.preventDefault();
      e.stopPropagation();
      for (const input of form.querySelectorAll("input")) entry.fields.find(([n]) => n === input.name)[1] = input.value;
      delete entry.refused;
      keep(key4, entry);
      show2();
      send2();
    });
    return form;
  };
  var line = ({ key: key4, entry }) => {
    const item = node("li");
    item.append(node("span", words2(entry)));
    if (!entry.refused) {
      item.append(node("span", t("waits")));
      return item;
    }
    const drop = node("button", t("Drop it"), { className: "linkish", type: "button" });
    drop.addEventListener("click", () => {
      localStorage.removeItem(key4);
      show2();
    });
    const note = node("button", t("Keep it as a note"), { className: "linkish", type: "button" });
    note.addEventListener("click", () => {
      entry.fields.push(["as", "note"]);
      delete entry.refused;
      keep(key4, entry);
      show2();
      send2();
    });
    item.append(node("span", entry.refused, { className: "wrong" }), again2(key4, entry), note, drop);
    return item;
  };
  var show2 = () => {
    const box2 = document.querySelector("[data-waiting]");
    if (!box2) return;
    const waiting = mine(), others = all().length - waiting.length, refused = waiting.filter((e) => e.entry.refused);
    box2.hidden = waiting.length === 0 && others === 0;
    if (!box2.contains(document.activeElement) || document.activeElement.tagName !== "INPUT") {
      const list = node("ul");
      list.append(...waiting.map(line));
      const many = waiting.length === 1 ? t("One entry is on this device and not in the log yet.") : t("{0} entries are on this device and not in the log yet.", waiting.length);
      box2.replaceChildren(node("p", many, { className: "text-sm", hidden: waiting.length === 0 }), list);
      if (others) box2.append(node("p", t("{0} of another household wait for its sign-in.", others), { className: "text-sm" }));
    }
    const here = live() ? waiting.filter((e) => of(e.entry, location.pathname)) : [];
    document.querySelector("[data-waiting-log]")?.replaceChildren(
      ...here.toReversed().map(({ entry }) => node("li", words2(entry) + ", " + (entry.refused ? t("refused") : t("waits"))))
    );
    number(here);
    if (refused.length === 0 && waiting.length && live()) tell(t("{0} kept on this device; sent when there is a connection.", waiting.length));
  };
  var number = (here) => {
    const guide = document.querySelector("[data-guide]"), box2 = guide?.querySelector("[data-number]");
    const newest = here.filter(({ entry }) => {
      const f = Object.fromEntries(entry.fields);
      return !entry.refused && f.kind === "temperature" && f.place === guide?.dataset.guide;
    }).at(-1);
    if (box2 && newest) box2.textContent = Object.fromEntries(newest.entry.fields).value.replace(/\s*°?[cf]?$/i, "") + "\xB0";
  };
  var start17 = () => {
    if (!household()) return;
    for (const bell of ["kept", "answered", "exchanged"]) on(bell, show2);
    addEventListener("storage", (e) => {
      if (e.key?.startsWith(prefix)) show2();
    });
    show2();
  };

  // src/working.js
  var usual = () => t("Burning fires to find the best");
  var progress = (body, works, what) => {
    if (body?.waiting) return body.waiting === 1 ? t("One search comes before yours\u2026") : t("{0} searches come before yours\u2026", body.waiting);
    if (!body?.of) return "";
    return works ? t("{0}: {1} of {2} {3} so far\u2026", works, body.burnt, body.of, what) : t("{0}: {1} of {2} so far\u2026", usual(), body.burnt, body.of);
  };
  var component2 = () => ({
    busy: false,
    said: "",
    over: false,
    start() {
      this.over = false;
      this.said = (this.$root.dataset.works ?? usual()) + "\u2026";
      this.ask();
      setTimeout(() => {
        this.busy = !this.over;
      }, 300);
    },
    async ask() {
      const name = this.$root.querySelector("[name=search]")?.value ?? "", { works, what } = this.$root.dataset;
      const answer = await fetch("/plan/progress?search=" + encodeURIComponent(name), { headers: { Accept: "application/json" } }).catch(() => null);
      const body = answer?.ok ? await answer.json().catch(() => null) : null;
      this.said = progress(body, works, what) || this.said;
      if (!this.over) setTimeout(() => this.ask(), 150);
    },
    init() {
      addEventListener("pageshow", () => {
        this.busy = false;
        this.over = true;
      });
    }
  });

  // src/main.js
  document.addEventListener("alpine:init", () => {
    Alpine.data("strip", component);
    Alpine.data("working", component2);
  });
  dragging();
  for (const module of [fields_exports, otherwise_exports, first_exports, offline_exports, waiting_exports, send_exports, live_exports, keys_exports, timers_exports, comforts_exports, pieces_exports, asof_exports, teach_exports, fold_exports, calls_exports, practice_exports, passkeys_exports]) module.start();
})();

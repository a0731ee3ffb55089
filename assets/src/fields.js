// Fields that say what they understood, forms that are answered at every change, times and days
// by the browser's own controls, and long lists that are searched.
import { t } from "./words.js";

const understand = async (input) => {
  const own = input.closest("label, .sheet, span")?.querySelector(".understood");
  const out = own ?? input.form?.querySelector("[data-understands]");
  if (!out) return;
  if (!input.value.trim()) { out.textContent = ""; return; }
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
  } catch { out.textContent = ""; }
};

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

// Another stove is chosen: what is known of that one is filled in where nobody has typed anything.
const follow = ["begin", "low", "high", "room", "start", "wanted-of", "there"];
const knows = async (form) => {
  const answer = await fetch(form.dataset.knows + "?stove=" + form.elements.stove.value).catch(() => null);
  if (!answer?.ok) return;
  const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
  const theirs = fresh.querySelector("form[data-knows]");
  for (const name of theirs ? follow : []) {
    const mine = form.elements[name], known = theirs.elements[name];
    if (!mine || !known || mine.dataset.typed || mine === document.activeElement) continue; // nothing changes under a hand
    mine.value = known.value;
  }
  const says = form.querySelector('[data-swap="in-it"]');
  if (says) says.textContent = fresh.querySelector('[data-swap="in-it"]')?.textContent ?? "";
};

// The words stay: what is picked is written into the field as it would be typed.
const picture = {
  time: '<circle cx="9" cy="9" r="7"/><path d="M9 5v4l3 2"/>',
  date: '<rect x="2" y="3.5" width="14" height="12"/><path d="M2 7.5h14M6 1.5v3M12 1.5v3"/>',
};
const pickers = () => {
  for (const field of document.querySelectorAll("input[data-pick]")) {
    const kind = field.dataset.pick;
    const box = document.createElement("span");
    box.className = "pick";
    const native = Object.assign(document.createElement("input"), { type: kind, tabIndex: -1 });
    native.setAttribute("aria-hidden", "true");
    const button = Object.assign(document.createElement("button"), { type: "button" });
    button.setAttribute("aria-label", kind === "time" ? t('by the clock') : t('by the calendar'));
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
};

const long = 10;
// matches tells whether a text has all the words that are sought, in any order.
export const matches = (text, sought) => sought.toLowerCase().split(/\s+/).every((word) => text.toLowerCase().includes(word));
const finder = (of, found) => {
  const find = Object.assign(document.createElement("input"), { type: "search", className: "find", placeholder: t('find'), autocomplete: "off" });
  find.setAttribute("aria-label", t('find in {0}', of));
  find.addEventListener("input", (e) => { e.stopPropagation(); found(find.value.trim()); });
  find.addEventListener("keydown", (e) => { if (e.key === "Enter") e.preventDefault(); });
  return find;
};
const finders = () => {
  for (const list of document.querySelectorAll("select:is([name=wood], [name=wood2], [name=stack], [name=kindling], [name=other-wood], [name=species])")) {
    if (list.options.length <= long) continue;
    const of = list.closest("label")?.querySelector("span")?.textContent ?? t('the list');
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
};

// The first field that is wrong is in view, with what is folded round it open; one that is mended
// is not called wrong any more.
const wrongs = () => {
  const first = document.querySelector('form [aria-invalid="true"]');
  for (let box = first?.closest("details"); box; box = box.parentElement?.closest("details")) box.open = true;
  first?.scrollIntoView({ block: "center" });
  first?.focus({ preventScroll: true });
  document.addEventListener("input", (e) => {
    if (e.target.name !== "stove" && e.target.closest?.("form[data-knows]")) e.target.dataset.typed = "yes"; // before it is done, too
    const field = e.target;
    if (field.getAttribute?.("aria-invalid") !== "true" || !field.hasAttribute("aria-describedby")) return;
    document.getElementById(field.getAttribute("aria-describedby"))?.remove();
    field.removeAttribute("aria-invalid");
    field.removeAttribute("aria-describedby");
  });
};

export const start = () => {
  wrongs();
  // What somebody unfolds stays so when the form comes back.
  document.addEventListener("toggle", (e) => {
    const said = e.target.querySelector?.(':scope > input[name="opened"]');
    if (said) said.value = e.target.open ? "yes" : "";
  }, true);
  document.addEventListener("focusin", (e) => { if (e.target.matches?.("[data-select]")) e.target.select(); });
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
      pause = setTimeout(understand, 400, e.target); // while typing: what is half typed is not told to be wrong at once
    }
    const form = e.target.closest?.("form[data-quick], form[data-beside]");
    if (form) ask(form);
  });
  pickers();
  finders();
};

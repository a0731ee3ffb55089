// What would have been: tabs that are moved along the strip. The changes stand in the address. A
// tab is taken with the pointer, or chosen and moved by keys; when it is let go the server burns
// the evening again and the strip is exchanged. Only the newest answer counts.
import { minutesOver, on } from "./strip.js";
import { t } from "./words.js";

// changesIn are the changes of an address, by what they change: one of a kind to an entry.
export const changesIn = (search) => {
  const list = new Map();
  for (const e of new URLSearchParams(search).getAll("e")) {
    const [kind, id] = e.split(":");
    list.set(kind + ":" + (["later", "to", "without"].includes(kind) ? id : e), e);
  }
  return list;
};

export const start = () => {
  const tried = document.querySelector("[data-otherwise]");
  if (!tried) return;
  const changes = () => changesIn(location.search);
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
    if (!fresh) { const box = tried.querySelector(".would-have"); if (box) box.textContent = t('The server cannot be reached; nothing was worked out.'); return; }
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
    later(tab, Math.max(0, Number(tab.dataset.minute) + minutesOver(...on(svg), e.clientX - from)));
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
};

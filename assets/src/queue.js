// Entries are kept on this device until the server has them. Each has a place of its own, under
// its household and its id, so that two pages that write at once lose nothing of each other.
//
// An entry is { to, fields: [[name, value]], sheet, made } and, once the server has refused it,
// { refused } with its reason: then it stays until somebody changes or drops it.
import { keep, read } from "./page.js";

export const prefix = "smolder-entry:";

export const household = () => document.body.dataset.household ?? "";

// place is where an entry of this household is kept.
export const place = (id) => prefix + household() + ":" + id;

// all are the entries on this device, and mine those of this household, the oldest first.
export const all = () =>
  Object.keys(localStorage).filter((k) => k.startsWith(prefix)).map((key) => ({ key, entry: read(key) })).filter((e) => e.entry);
export const mine = () => all().filter((e) => e.key.startsWith(prefix + household() + ":")).sort((a, b) => a.entry.made - b.entry.made);

// fromBefore takes over what an earlier version of this page has kept, in one list.
export const fromBefore = () => {
  const old = read("smolder-entries");
  if (!household() || !Array.isArray(old)) return;
  old.forEach((e, i) =>
    keep(place(Object.fromEntries(e.fields).id ?? "old-" + i), { to: e.to, fields: e.fields, sheet: e.sheet, made: Date.now() + i }));
  localStorage.removeItem("smolder-entries");
};

// said is an entry in words; names are the words of the kinds.
export const said = (entry, names) => {
  const f = Object.fromEntries(entry.fields);
  const tapped = ", tapped " + new Date(f.at ?? entry.made).toTimeString().slice(0, 5);
  const one = (kind, control, place, ...more) => [names[kind] ?? kind, control, place && place + " reads", ...more].filter(Boolean).join(" ");
  const pieces = (n) => n && n + " pieces";
  if (f.n) { // one tap, and all that it logs
    const done = Object.keys(f).filter((k) => /^y\d+$/.test(k)).map((k) => k.slice(1));
    return done.map((i) => one(f["k" + i], f["c" + i], "", f["v" + i], pieces(f["p" + i]))).join(", ") + tapped;
  }
  return one(f.kind, f.control, f.place, f.value, pieces(f.pieces), f.mass, f.note, f.when && "at " + f.when) + tapped;
};

// of tells whether an entry belongs to the page at an address.
export const of = (entry, path) => path.startsWith(entry.to.replace(/(entries|done)$/, ""));

// What waits on this device is listed on every page; at the stove also in the log and on the
// number.
import { keep, live, node, on, tell } from "./page.js";
import { all, household, mine, of, prefix, said } from "./queue.js";
import { send } from "./send.js";
import { t } from "./words.js";

const words = (entry) => said(entry, JSON.parse(document.body.dataset.kinds ?? "{}"));

// again is the form with which a refused entry is changed and sent again.
const again = (key, entry) => {
  const form = node("form");
  if (!entry.fields.some(([n]) => n === "when")) entry.fields.push(["when", ""]); // its time may be what was wrong
  const names = entry.fields.filter(([n]) => /^[vpm]\d+$/.test(n)).map(([n]) => n).concat("value", "pieces", "mass", "note", "when");
  for (const name of names) {
    const field = entry.fields.find(([n]) => n === name);
    if (field && (field[1] || name === "when")) form.append(node("input", "", { name, value: field[1], ariaLabel: name, placeholder: name }));
  }
  form.append(node("button", t('Send it again'), { className: "linkish" }));
  form.addEventListener("submit", (e) => {
    e.preventDefault();
    e.stopPropagation();
    for (const input of form.querySelectorAll("input")) entry.fields.find(([n]) => n === input.name)[1] = input.value;
    delete entry.refused;
    keep(key, entry);
    show();
    send();
  });
  return form;
};

const line = ({ key, entry }) => {
  const item = node("li");
  item.append(node("span", words(entry)));
  if (!entry.refused) {
    item.append(node("span", t('waits')));
    return item;
  }
  const drop = node("button", t('Drop it'), { className: "linkish", type: "button" });
  drop.addEventListener("click", () => { localStorage.removeItem(key); show(); });
  const note = node("button", t('Keep it as a note'), { className: "linkish", type: "button" }); // it happened all the same
  note.addEventListener("click", () => {
    entry.fields.push(["as", "note"]);
    delete entry.refused;
    keep(key, entry);
    show();
    send();
  });
  item.append(node("span", entry.refused, { className: "wrong" }), again(key, entry), note, drop);
  return item;
};

export const show = () => {
  const box = document.querySelector("[data-waiting]");
  if (!box) return;
  const waiting = mine(), others = all().length - waiting.length, refused = waiting.filter((e) => e.entry.refused);
  box.hidden = waiting.length === 0 && others === 0;
  // A field that is being changed is left alone.
  if (!box.contains(document.activeElement) || document.activeElement.tagName !== "INPUT") {
    const list = node("ul");
    list.append(...waiting.map(line));
    const many = waiting.length === 1 ? t('One entry is on this device and not in the log yet.')
      : t('{0} entries are on this device and not in the log yet.', waiting.length);
    box.replaceChildren(node("p", many, { className: "text-sm", hidden: waiting.length === 0 }), list);
    if (others) box.append(node("p", t('{0} of another household wait for its sign-in.', others), { className: "text-sm" }));
  }
  const here = live() ? waiting.filter((e) => of(e.entry, location.pathname)) : [];
  document.querySelector("[data-waiting-log]")?.replaceChildren(
    ...here.toReversed().map(({ entry }) => node("li", words(entry) + ", " + (entry.refused ? t('refused') : t('waits')))));
  number(here);
  if (refused.length === 0 && waiting.length && live()) tell(t('{0} kept on this device; sent when there is a connection.', waiting.length));
};

// number puts the newest reading that waits where the big number stands.
const number = (here) => {
  const guide = document.querySelector("[data-guide]"), box = guide?.querySelector("[data-number]");
  const newest = here.filter(({ entry }) => {
    const f = Object.fromEntries(entry.fields);
    return !entry.refused && f.kind === "temperature" && f.place === guide?.dataset.guide;
  }).at(-1);
  if (box && newest) box.textContent = Object.fromEntries(newest.entry.fields).value.replace(/\s*°?[cf]?$/i, "") + "°";
};

export const start = () => {
  if (!household()) return;
  for (const bell of ["kept", "answered", "exchanged"]) on(bell, show);
  addEventListener("storage", (e) => { if (e.key?.startsWith(prefix)) show(); });
  show();
};

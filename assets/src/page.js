// Small things that the modules have in common: the page at the stove, its sheets, what it says,
// and what one module tells the others.

// live is the page at the stove; null elsewhere.
export const live = () => document.querySelector("[data-live]");

// Bells are what is told between modules: "kept" an entry is on the device, "answered" the server
// has said something of one, "exchanged" parts of the page are newer.
const bells = new EventTarget();
export const ring = (name) => bells.dispatchEvent(new Event(name));
export const on = (name, f) => bells.addEventListener(name, f);

// node makes an element.
export const node = (tag, text, also) => Object.assign(document.createElement(tag), { textContent: text ?? "" }, also);

// tell says what has just happened, beside the taps.
export const tell = (text, wrong) => {
  const box = document.querySelector("[data-told]");
  if (!box) return;
  box.textContent = text;
  box.classList.toggle("wrong", Boolean(wrong));
};

// shut closes a sheet and leaves the focus on it, not on what is hidden.
export const shut = (sheet) => {
  const inside = sheet.contains(document.activeElement);
  sheet.open = false;
  if (inside) sheet.querySelector("summary").focus();
};

// read and keep are values on this device, as JSON; keep is false where it takes no more.
export const read = (key) => { try { return JSON.parse(localStorage.getItem(key)); } catch { return null; } };
export const keep = (key, value) => {
  try {
    localStorage.setItem(key, JSON.stringify(value));
    return true;
  } catch { return false; }
};

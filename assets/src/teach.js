// Why a thing is done stands open on the first three fires on which this device shows it; after
// that it waits behind its word. Who opens or shuts it by hand is heeded from then on.
import { keep, on, read } from "./page.js";

const ofDevice = "taught", fires = 3;

// shows tells whether the reason of a thing stands open on a fire, and what is remembered then.
export const shows = (taught, thing, fire) => {
  const seen = taught?.[thing] ?? [];
  if (seen.includes(fire)) return [true, taught ?? {}];
  if (seen.length >= fires) return [false, taught];
  return [true, { ...taught, [thing]: [...seen, fire] }];
};

let byHand = null; // what somebody has last done with it on this page

const apply = () => {
  for (const why of document.querySelectorAll("details[data-teaches]")) {
    let [open, taught] = shows(read(ofDevice), why.dataset.teaches, location.pathname);
    keep(ofDevice, taught);
    if (taught.byHand !== undefined) open = taught.byHand;
    if (byHand !== null) open = byHand;
    why.open = open;
  }
};

export const start = () => {
  document.addEventListener("click", (e) => {
    const why = e.target.closest("details[data-teaches] > summary")?.parentElement;
    if (!why) return;
    byHand = !why.open;
    keep(ofDevice, { ...read(ofDevice), byHand });
  });
  on("exchanged", apply);
  apply();
};

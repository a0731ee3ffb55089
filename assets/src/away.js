// A server that cannot be reached is said, and since when.
import { t } from "./words.js";
let since = null;

export const reached = (yes) => {
  const box = document.querySelector("[data-away]");
  if (!box) return;
  if (yes) {
    since = null;
    box.hidden = true;
    return;
  }
  since ??= new Date();
  box.textContent = t('The server cannot be reached since {0}. What this page shows is of before; entries are kept on this device.',
    since.toTimeString().slice(0, 5));
  box.hidden = false;
};

// look asks whether it is there.
export const look = async () => {
  if (document.hidden) return;
  try { reached((await fetch("/healthz", { cache: "no-store" })).ok); } catch { reached(false); }
};

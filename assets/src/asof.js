// As of: what was known and said at a minute that is pointed at on a strip.
import { reached } from "./away.js";

export const start = () => {
  const asOf = document.querySelector("[data-as-of-of]");
  if (!asOf) return;
  let wanted = null, asking = false, later = null;
  const ask = async () => {
    if (asking || wanted === null) return;
    asking = true;
    const minute = wanted;
    wanted = null;
    try {
      const answer = await fetch(asOf.dataset.asOfOf + "?part=1&minute=" + minute, { headers: { Accept: "text/html" } });
      const fresh = new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("[data-as-of]");
      if (fresh) {
        asOf.innerHTML = fresh.innerHTML;
        asOf.dataset.minute = minute;
      }
    } catch { reached(false); }
    asking = false;
    if (wanted !== null) ask();
  };
  document.addEventListener("smolder:minute", (e) => {
    const fold = asOf.closest("details");
    if (fold) fold.open = true;
    wanted = Math.max(0, Math.round(e.detail));
    clearTimeout(later);
    later = setTimeout(ask, 250);
  });
};

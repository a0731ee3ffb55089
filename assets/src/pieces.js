// Pieces of wood are picked by tapping them.
import { node } from "./page.js";
import { t } from "./words.js";

const most = 8;
const drawing = '<svg viewBox="0 0 30 24" width="30" height="24" aria-hidden="true"><path d="M4 20C2 12 8 4 15 3c7 1 13 9 11 17z"/>' +
  '<path d="M9 18c1-5 3-8 6-9M15 18v-6"/></svg>';

export const start = () => {
  for (const row of document.querySelectorAll("[data-pick-pieces]")) {
    const field = row.closest("form").querySelector("[data-pieces]");
    row.hidden = false;
    const mark = () => row.querySelectorAll("button").forEach((b, i) => b.classList.toggle("taken", i < Number(field.value)));
    for (let n = 1; n <= most; n++) {
      const button = node("button", "", { type: "button" });
      button.setAttribute("aria-label", n === 1 ? t('one piece') : t('{0} pieces', n));
      button.innerHTML = drawing;
      button.addEventListener("click", () => { field.value = n; mark(); });
      row.append(button);
    }
    field.addEventListener("input", mark);
    mark();
  }
};

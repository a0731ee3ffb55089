// Long work says how far it is; short work says nothing. What was said stays until the answer is
// there.
import { t } from "./words.js";
const usual = () => t('Burning fires to find the best');

// progress is how far a search is, in words; empty: nothing new is known.
export const progress = (body, works, what) => {
  if (body?.waiting) return body.waiting === 1 ? t('One search comes before yours…') : t('{0} searches come before yours…', body.waiting);
  if (!body?.of) return "";
  return works ? t('{0}: {1} of {2} {3} so far…', works, body.burnt, body.of, what) : t('{0}: {1} of {2} so far…', usual(), body.burnt, body.of);
};

export const component = () => ({
  busy: false,
  said: "",
  over: false,
  start() {
    this.over = false;
    this.said = (this.$root.dataset.works ?? usual()) + "…";
    this.ask();
    setTimeout(() => { this.busy = !this.over; }, 300);
  },
  async ask() {
    const name = this.$root.querySelector("[name=search]")?.value ?? "", { works, what } = this.$root.dataset;
    const answer = await fetch("/plan/progress?search=" + encodeURIComponent(name), { headers: { Accept: "application/json" } }).catch(() => null);
    const body = answer?.ok ? await answer.json().catch(() => null) : null;
    this.said = progress(body, works, what) || this.said;
    if (!this.over) setTimeout(() => this.ask(), 150);
  },
  init() {
    addEventListener("pageshow", () => { this.busy = false; this.over = true; });
  },
});

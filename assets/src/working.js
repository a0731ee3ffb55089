// Long work says how far it is; short work says nothing. What was said stays until the answer is
// there.
const usual = "Burning fires to find the best";

// progress is how far a search is, in words; empty: nothing new is known.
export const progress = (body, works, what) => {
  if (body?.waiting) return body.waiting === 1 ? "One search comes before yours…" : `${body.waiting} searches come before yours…`;
  if (!body?.of) return "";
  return works ? `${works}: ${body.burnt} of ${body.of} ${what} so far…` : `${usual}: ${body.burnt} of ${body.of} so far…`;
};

export const component = () => ({
  busy: false,
  said: "",
  over: false,
  start() {
    this.over = false;
    this.said = (this.$root.dataset.works ?? usual) + "…";
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

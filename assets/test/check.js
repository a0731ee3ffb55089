// A runner of tests as small as can be: Go's own tests open it in a browser and read the results.
const results = [];

export const test = async (name, f) => {
  try {
    await f();
    results.push({ name });
  } catch (wrong) {
    results.push({ name, wrong: String(wrong?.stack ?? wrong) });
  }
};

export const equal = (got, want, what = "") => {
  const [a, b] = [JSON.stringify(got), JSON.stringify(want)];
  if (a !== b) throw new Error(`${what} got ${a}, want ${b}`);
};

export const near = (got, want, within, what = "") => {
  if (!(Math.abs(got - want) <= within)) throw new Error(`${what} got ${got}, want ${want}`);
};

// page puts HTML into the page and empties what this device keeps.
export const page = (html, household = "7") => {
  localStorage.clear();
  document.body.dataset.household = household;
  document.body.dataset.kinds = JSON.stringify({ load: "load", temperature: "temperature", door: "door" });
  document.querySelector("main").innerHTML = html;
};

// waits until a condition holds.
export const until = async (condition) => {
  for (let i = 0; i < 400; i++) {
    if (condition()) return;
    await new Promise((go) => setTimeout(go, 10));
  }
  throw new Error("waited in vain for " + condition);
};

// answering answers requests in the server's place, and keeps what was asked.
export const answering = (answer) => {
  const asked = [];
  window.fetch = async (to, how = {}) => {
    asked.push({ to: String(to), fields: how.body ? Object.fromEntries(new URLSearchParams(how.body)) : null });
    return answer(String(to), how);
  };
  return asked;
};

export const json = (status, body) => new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });

export const done = () => { window.results = results; };

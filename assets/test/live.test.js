import { equal, near, page, test } from "./check.js";
import { dotAt, exchange, shownIn } from "../src/live.js";

await test("a reading lies on its strip, in the strip's units", () => {
  const d = { unit: "°C", from: 0, to: 60, left: 0, right: 600, zero: 1000000, scale: [200, 0, 0, 400] };
  const at = dotAt(d, { p: "top", t: 1000000 + 30 * 60000, v: 100 });
  near(at.x, 300, 1e-9);
  near(at.y, 150, 1e-9);
  equal(dotAt(d, { p: "room", t: 1000000, v: 20 }), null, "the room has a strip of its own");
  equal(dotAt(d, { p: "top", t: 1000000 + 61 * 60000, v: 100 }), null, "after its end");
  equal(dotAt({ ...d, scale: null }, { p: "top", t: 1000000, v: 100 }), null);
  equal(shownIn("°F", 100), 212);
  near(dotAt({ ...d, unit: "°F" }, { p: "top", t: 1000000, v: 100 }).y, 200 - 212 / 2, 1e-9);
});

await test("parts are exchanged, but for what is in use", () => {
  page(`<p data-swap="head">old</p><div data-swap="form"><input name="v"></div><div data-swap="log"><details open><summary>log</summary></details></div>
    <div data-swap="taps"><form data-tap="y"><button>Done: old</button></form></div><p data-swap="same">same</p>`);
  const same = document.querySelector('[data-swap="same"]').firstChild;
  document.querySelector("input").focus();
  exchange({ head: "new", form: "gone", log: "gone", same: "same" });
  equal(document.querySelector('[data-swap="head"]').innerHTML, "new");
  equal(Boolean(document.querySelector("input")), true, "what is typed stays");
  equal(Boolean(document.querySelector("details[open]")), true, "what is open stays");
  equal(document.querySelector('[data-swap="same"]').firstChild === same, true);
  document.querySelector("form[data-tap] button").focus();
  exchange({ taps: '<form data-tap="y"><button>Done: new</button></form>' });
  equal(document.activeElement.textContent, "Done: new", "the tap under the focus becomes the one of now");
});

import { equal, test } from "./check.js";
import { fresh } from "../src/calls.js";
import { matches } from "../src/fields.js";
import { fahrenheitAtHome } from "../src/first.js";
import { stepTo } from "../src/keys.js";
import { changesIn } from "../src/otherwise.js";
import { asked, made, signed } from "../src/passkeys.js";
import { shows } from "../src/teach.js";
import { clockOf, ended } from "../src/timers.js";
import { t, use } from "../src/words.js";
import { progress } from "../src/working.js";

await test("a list is searched by words in any order", () => {
  equal(matches("Beech, lean-to", "LEAN beech"), true);
  equal(matches("Beech, lean-to", "oak"), false);
  equal(matches("Beech, lean-to", ""), true);
});

await test("Fahrenheit is at home by language and zone together", () => {
  equal(fahrenheitAtHome("en-US", "America/Chicago"), true);
  equal(fahrenheitAtHome("en-US", "Europe/Oslo"), false, "a browser elsewhere speaks that English");
  equal(fahrenheitAtHome("fr-CA", "America/Montreal"), false);
  equal(fahrenheitAtHome("en-US", "Pacific/Honolulu"), true);
});

await test("arrows step a control, from where it is or from an end", () => {
  const steps = ["0", "1/2", "1"];
  equal(stepTo(steps, "1/2", 1), "1");
  equal(stepTo(steps, "1", 1), "1");
  equal(stepTo(steps, "0", -1), "0");
  equal(stepTo(steps, "", 1), "0", "nothing typed, upwards");
  equal(stepTo(steps, "what", -1), "1", "something else typed, downwards");
});

await test("of what would have been the newest change of a kind counts", () => {
  equal([...changesIn("?e=later:7:3&e=later:7:5&e=without:9&e=load:2:3").values()], ["later:7:5", "without:9", "load:2:3"]);
  equal(changesIn("").size, 0);
});

await test("a reason stands open on three fires, and then no more", () => {
  let taught = null, open;
  for (const fire of ["/burns/1/live", "/burns/2/live", "/burns/2/live", "/burns/3/live"]) {
    [open, taught] = shows(taught, "turn-down", fire);
    equal(open, true, fire);
  }
  [open, taught] = shows(taught, "turn-down", "/burns/4/live");
  equal(open, false, "the fourth");
  equal(shows(taught, "turn-down", "/burns/2/live")[0], true, "on a fire that it stood open on it stays so");
  equal(shows(taught, "feed", "/burns/4/live")[0], true, "another thing begins anew");
});

await test("timers count down, and ring once", () => {
  equal(clockOf(61000), "1:01");
  equal(clockOf(-5), "0:00");
  const list = [{ until: 1000 }, { until: 3000 }];
  equal(ended(list, 2000), true);
  equal(list.map((timer) => Boolean(timer.rung)), [true, false]);
  equal(ended(list, 2500), false, "not again");
});

await test("long work says how far it is", () => {
  equal(progress({ waiting: 1 }), "One search comes before yours…");
  equal(progress({ waiting: 3 }), "3 searches come before yours…");
  equal(progress({ burnt: 5, of: 40 }), "Burning fires to find the best: 5 of 40 so far…");
  equal(progress({ burnt: 5, of: 40 }, "Reading in", "burns"), "Reading in: 5 of 40 burns so far…");
  equal(progress(null), "");
});

await test("the script speaks the page's language", () => {
  use({ "{0} pieces": "{0} Scheite" });
  equal(t("{0} pieces", 3), "3 Scheite");
  equal(t("Kept on {0}.", "it"), "Kept on it.", "what a language lacks is English");
  use({});
  equal(t("{0} pieces", 3), "3 pieces");
});

await test("a call is shown once, and old ones are forgotten", () => {
  const [first, shown] = fresh([{ key: "a" }, { key: "b" }], ["a"]);
  equal(first.map((c) => c.key), ["b"]);
  equal(shown, ["a", "b"]);
  equal(fresh([{ key: "b" }], shown)[0], []);
  const many = Array.from({ length: 300 }, (_, i) => ({ key: "k" + i }));
  equal(fresh(many, [])[1].length, 200);
});

await test("what a device is asked and answers goes there and back as text", () => {
  const key = asked({ challenge: "-_8", user: { id: "AAE", name: "tarn" }, excludeCredentials: [{ id: "AQ", type: "public-key" }], rpId: "localhost" });
  equal([...key.challenge], [251, 255]);
  equal([...key.user.id], [0, 1]);
  equal(key.user.name, "tarn");
  equal([...key.excludeCredentials[0].id], [1]);
  equal(key.rpId, "localhost");
  const buffer = (...bytes) => new Uint8Array(bytes).buffer;
  const answer = { id: "AQ", rawId: buffer(1), type: "public-key", response: { clientDataJSON: buffer(251, 255), attestationObject: buffer(), authenticatorData: buffer(2), signature: buffer(3), userHandle: null } };
  equal(made(answer).response.clientDataJSON, "-_8");
  equal(made(answer).response.transports, []);
  equal(signed(answer).response.signature, "Aw");
  equal(signed(answer).response.userHandle, null, "a stick need not know who it is");
});

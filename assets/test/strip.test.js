import { equal, near, test } from "./check.js";
import { clock, minuteAt, minutesOver, valueAt } from "../src/strip.js";

await test("a minute of the day is read as on a clock, over midnight too", () => {
  equal(clock(0), "0:00");
  equal(clock(1085.6), "18:06");
  equal(clock(1440 + 61), "1:01");
  equal(clock(-1), "23:59");
});

await test("a pen's value lies between its points, and in no gap", () => {
  const points = [[0, 20], [10, 120], [90, 300], [91, 300]];
  equal(valueAt(points, 5), 70);
  equal(valueAt(points, 0), 20);
  equal(valueAt(points, 50), null, "80 minutes without a reading");
  equal(valueAt(points, 91), 300);
  equal(valueAt(points, 92), null);
  equal(valueAt([[5, 40], [5, 60]], 5), 40, "two at once");
});

await test("a pointer stands on a minute of the strip, and never beside it", () => {
  const d = { from: 0, to: 100, left: 50, right: 250 }, box = { left: 10, width: 150 };
  near(minuteAt(d, box, 300, 10 + 75), 50, 1e-9);
  equal(minuteAt(d, box, 300, 0), 0);
  equal(minuteAt(d, box, 300, 900), 100);
  near(minutesOver(d, box, 300, 10), 10, 1e-9);
});

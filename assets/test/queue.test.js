import { answering, equal, json, page, test, until } from "./check.js";
import { all, fromBefore, mine, of, place, said } from "../src/queue.js";
import { idle, start as startSending } from "../src/send.js";
import { start as startWaiting } from "../src/waiting.js";

const names = { load: "load", temperature: "temperature" };
const entry = (...fields) => ({ to: "/burns/3/entries", fields, made: 1000 });
const stove = `<div data-live="/burns/3/live?part=1"></div><p data-told></p><div data-waiting hidden></div><ul data-waiting-log></ul>
  <form data-entry action="/burns/3/entries"><input type="hidden" name="kind" value="temperature"><input name="value" value="210"><button>Log it</button></form>`;
const log = () => document.querySelector("form[data-entry] button").click();

startSending();
history.replaceState(null, "", "/burns/3/live"); // the page that the entries are of

await test("an entry in words", () => {
  equal(said(entry(["kind", "load"], ["pieces", "3"], ["at", "2026-01-14T12:00:00"]), names), "load 3 pieces, tapped 12:00");
  equal(said(entry(["kind", "temperature"], ["place", "top"], ["value", "210"], ["at", "2026-01-14T12:00:00"]), names), "temperature top reads 210, tapped 12:00");
  equal(said(entry(["n", "2"], ["y0", "yes"], ["k0", "load"], ["p0", "2"], ["y1", "yes"], ["k1", "door"], ["v1", "shut"], ["at", "2026-01-14T12:00:00"]), names),
    "load 2 pieces, door shut, tapped 12:00");
});

await test("each entry has a place of its own, by household", () => {
  page("");
  localStorage.setItem(place("a"), JSON.stringify({ ...entry(), made: 2 }));
  localStorage.setItem(place("b"), JSON.stringify({ ...entry(), made: 1 }));
  localStorage.setItem("smolder-entry:8:c", JSON.stringify(entry()));
  localStorage.setItem(place("broken"), "{");
  equal(mine().map((e) => e.entry.made), [1, 2], "the oldest first");
  equal(all().length, 3);
  equal(of(entry(), "/burns/3/live"), true);
  equal(of(entry(), "/burns/4/live"), false);
});

await test("what an earlier version kept is taken over once", () => {
  page("");
  localStorage.setItem("smolder-entries", JSON.stringify([{ to: "/burns/3/entries", fields: [["id", "x"]] }]));
  fromBefore();
  fromBefore();
  equal(mine().length, 1);
  equal(localStorage.getItem("smolder-entries"), null);
});

await test("an entry is kept, sent once, and let go when the server has it", async () => {
  page(stove);
  startWaiting();
  const asked = answering((to) => (to.includes("entries") ? json(200, { said: "210 °C" }) : new Response("")));
  log();
  equal(mine().length, 1, "kept before it is sent");
  await idle();
  equal(mine().length, 0);
  const posts = asked.filter((a) => a.fields);
  equal(posts.length, 1);
  equal(posts[0].fields.value, "210");
  equal(Boolean(posts[0].fields.id && posts[0].fields.at && posts[0].fields.sent), true);
  equal(document.querySelector("[data-told]").textContent, "Logged: 210 °C");
});

await test("without a connection it waits, and is listed", async () => {
  page(stove);
  answering(() => { throw new TypeError("away"); });
  log();
  await idle();
  equal(mine().length, 1);
  equal(document.querySelector("[data-waiting]").hidden, false);
  equal(document.querySelectorAll("[data-waiting] li").length, 1);
  equal(document.querySelectorAll("[data-waiting-log] li").length, 1, "and stands in the log");
});

await test("what is refused stays with its reason, is changed and sent again", async () => {
  page(stove);
  let refuses = true;
  const asked = answering((to) => (to.includes("entries") ? (refuses ? json(422, { error: "That is no temperature." }) : json(200, { said: "ok" })) : new Response("")));
  log();
  await idle();
  equal(mine()[0].entry.refused, "That is no temperature.");
  refuses = false;
  const form = document.querySelector("[data-waiting] form");
  form.querySelector("input[name=value]").value = "190";
  form.querySelector("button").click();
  await until(() => mine().length === 0);
  equal(asked.filter((a) => a.fields).at(-1).fields.value, "190");
});

await test("one that the server stumbles over does not hold up the others", async () => {
  page(stove);
  answering((to, how) => (how.body && new URLSearchParams(how.body).get("value") === "1" ? json(500, {}) : json(200, { said: "ok" })));
  localStorage.setItem(place("a"), JSON.stringify({ ...entry(["kind", "temperature"], ["value", "1"]), made: 1 }));
  document.querySelector("input[name=value]").value = "2";
  log();
  await idle();
  equal(mine().map((e) => Object.fromEntries(e.entry.fields).value), ["1"]);
});

await test("who hears of changes does not ask for the page after a tap", async () => {
  page(stove);
  document.querySelector("[data-live]").dataset.hears = "yes";
  const asked = answering((to, how) => {
    const id = new URLSearchParams(how.body).get("id"); // the parts that it changes come by the stream
    setTimeout(() => { document.querySelector("main").insertAdjacentHTML("beforeend", `<form data-undo action="/burns/3/entries/${id}/strike"></form>`); }, 60);
    return json(200, { said: "ok" });
  });
  log();
  await idle();
  equal(asked.map((a) => a.to), ["/burns/3/entries"]);
  equal(Boolean(document.querySelector("[data-undo]")), true, "and it is over when the page shows it");
});

await test("where nothing comes by the stream the page is asked for after all", async () => {
  page(stove);
  document.querySelector("[data-live]").dataset.hears = "yes";
  const asked = answering((to) => (to.includes("entries") ? json(200, { said: "ok" }) : new Response("")));
  log();
  await idle();
  equal(asked.map((a) => a.to), ["/burns/3/entries", "/burns/3/live?part=1"]);
});

await test("an entry of another burn is sent, and nothing waits to see it", async () => {
  page(stove.replace('action="/burns/3/entries"', 'action="/burns/4/entries"'));
  document.querySelector("[data-live]").dataset.hears = "yes";
  const asked = answering(() => json(200, { said: "ok" }));
  log();
  await idle();
  equal(asked.map((a) => a.to), ["/burns/4/entries"]);
});

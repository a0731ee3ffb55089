// What Smolder's pages do beyond plain HTML. Every page works without it.
import * as asof from "./asof.js";
import * as calls from "./calls.js";
import * as comforts from "./comforts.js";
import * as fields from "./fields.js";
import * as first from "./first.js";
import * as fold from "./fold.js";
import * as keys from "./keys.js";
import * as live from "./live.js";
import * as offline from "./offline.js";
import * as otherwise from "./otherwise.js";
import * as passkeys from "./passkeys.js";
import * as pieces from "./pieces.js";
import * as practice from "./practice.js";
import * as send from "./send.js";
import * as strip from "./strip.js";
import * as teach from "./teach.js";
import * as timers from "./timers.js";
import * as waiting from "./waiting.js";
import * as working from "./working.js";

document.addEventListener("alpine:init", () => {
  Alpine.data("strip", strip.component);
  Alpine.data("working", working.component);
});
strip.dragging();
for (const module of [fields, otherwise, first, offline, waiting, send, live, keys, timers, comforts, pieces, asof, teach, fold, calls, practice, passkeys]) module.start();

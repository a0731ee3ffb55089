// The comforts of this device: sound, shaking, the next step read aloud, a screen that stays awake.
import { keep, live, on, read } from "./page.js";

const key = "smolder-comforts";
const comforts = () => read(key) ?? {};
let sounds = null, awake = null, spoken = "";

// alarm rings and shakes, as far as that is wanted.
export const alarm = () => {
  const c = comforts();
  if (c.shake) navigator.vibrate?.([300, 150, 300]);
  if (!c.sound) return;
  try {
    sounds ??= new AudioContext();
    for (const [at, hz] of [[0, 392], [0.35, 330], [0.7, 392]]) {
      const tone = sounds.createOscillator(), loud = sounds.createGain();
      tone.frequency.value = hz;
      loud.gain.setValueAtTime(0.2, sounds.currentTime + at);
      loud.gain.exponentialRampToValueAtTime(0.001, sounds.currentTime + at + 0.3);
      tone.connect(loud).connect(sounds.destination);
      tone.start(sounds.currentTime + at);
      tone.stop(sounds.currentTime + at + 0.32);
    }
  } catch { /* a device without sound */ }
};

// aloud says the next step, once each, and rings where it has changed.
const aloud = () => {
  const text = document.querySelector("[data-read-aloud]")?.textContent.trim() ?? "";
  if (!text || text === spoken) return;
  const first = spoken === "";
  spoken = text;
  if (!first) alarm();
  if (!comforts().aloud || !window.speechSynthesis) return;
  speechSynthesis.cancel();
  speechSynthesis.speak(Object.assign(new SpeechSynthesisUtterance(text), { lang: "en" }));
};

const keepAwake = async () => {
  try {
    if (comforts().awake && !awake && !document.hidden) {
      awake = await navigator.wakeLock?.request("screen");
      awake?.addEventListener("release", () => { awake = null; });
    }
    if (!comforts().awake) {
      await awake?.release();
      awake = null;
    }
  } catch { awake = null; }
};

export const start = () => {
  if (!live()) return;
  for (const box of document.querySelectorAll("[data-comforts]")) box.hidden = false;
  for (const box of document.querySelectorAll("[data-comforts] input")) {
    box.checked = Boolean(comforts()[box.name]);
    box.addEventListener("change", () => {
      keep(key, { ...comforts(), [box.name]: box.checked });
      keepAwake();
      if (box.name === "sound" && box.checked) alarm();
      if (box.name === "aloud") {
        spoken = " ";
        aloud();
      }
    });
  }
  document.addEventListener("visibilitychange", keepAwake);
  on("exchanged", aloud);
  keepAwake();
  aloud();
};

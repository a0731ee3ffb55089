// Keys at the stove: each opens a sheet or taps what stands on the page.
import { live, shut } from "./page.js";
import { idle } from "./send.js";

const open = (name) => {
  const sheet = document.querySelector('details[data-key="' + name + '"], details[data-also="' + name + '"]');
  if (!sheet) return false;
  document.querySelectorAll("details.sheet[open]").forEach((d) => { if (d !== sheet) d.open = false; });
  for (let around = sheet.parentElement?.closest("details"); around; around = around.parentElement?.closest("details")) around.open = true;
  sheet.open = true;
  (sheet.querySelector("input:not([type=hidden]), textarea, select, button") ?? sheet).focus();
  return true;
};

// stepTo is the step before or after the one that a control stands at.
export const stepTo = (steps, value, by) => {
  const at = steps.indexOf(value);
  return steps[Math.min(steps.length - 1, Math.max(0, (at < 0 ? (by > 0 ? -1 : steps.length) : at) + by))];
};

const pressed = (e) => {
  if (!live() || document.body.classList.contains("role-looks") || e.ctrlKey || e.metaKey || e.altKey) return;
  const field = e.target.matches?.("input:not([type=submit]), textarea, select");
  if (e.key === "Escape") {
    document.querySelectorAll("details.sheet[open]").forEach(shut);
    return;
  }
  if (field && e.target.dataset.steps && (e.key === "ArrowUp" || e.key === "ArrowDown")) {
    e.preventDefault();
    e.target.value = stepTo(JSON.parse(e.target.dataset.steps), e.target.value, e.key === "ArrowUp" ? 1 : -1);
    return;
  }
  if (field) return;
  if (e.key === "u") {
    idle().then(() => document.querySelector("[data-undo] button")?.click());
    return;
  }
  if (!/^[0-9a-z?]$/.test(e.key)) return;
  const tap = document.querySelector('form[data-tap="' + e.key + '"] button');
  if (tap) tap.click();
  else if (open(e.key)) e.preventDefault();
};

export const start = () => document.addEventListener("keydown", pressed);

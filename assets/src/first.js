// The first run: the zone is this browser's, and where Fahrenheit is at home the units begin with
// it. That is told by language and zone together, since many a browser elsewhere speaks that
// English.
export const fahrenheitAtHome = (language, zone) => language === "en-US" && /^(America|US)\/|^Pacific\/Honolulu$/.test(zone);

export const start = () => {
  const zone = document.querySelector("input[data-zone]");
  if (zone) zone.value = Intl.DateTimeFormat().resolvedOptions().timeZone || zone.value;
  const kinds = document.querySelector("[data-units] select");
  if (kinds && fahrenheitAtHome(navigator.language, zone?.value ?? "")) kinds.value = "imperial";
};

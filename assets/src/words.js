// The words of the script in the language of the page: t says a text of English, with what
// fills it in at {0}, {1}, … Every text that it is called with stands in the catalogue.
let words;

export const t = (text, ...fill) => {
  words ??= JSON.parse(document.body?.dataset.words || "{}");
  return (words[text] ?? text).replace(/\{(\d)\}/g, (_, n) => fill[n]);
};

// use takes other words than the page's; for tests.
export const use = (other) => { words = other; };

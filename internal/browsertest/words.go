package browsertest

// WordsInView counts, in a page, the words that somebody sees: on the first screen, on the whole
// page, and before its log, as "first 60, all 120, before the log 90, height 1800". What is folded,
// hidden or only for readers of the screen does not count; nor do numbers alone, form fields'
// values, what stands in a drawing, and why a thing is done, which is folded after three fires.
const WordsInView = `(() => {
	document.querySelectorAll("details[data-teaches]").forEach((d) => { d.open = false; }); // as it is after three fires
	let first = 0, all = 0, before = 0, logged = false;
	const walk = document.createTreeWalker(document.querySelector("main") ?? document.body, NodeFilter.SHOW_TEXT);
	for (let n = walk.nextNode(); n; n = walk.nextNode()) {
		const e = n.parentElement;
		if (!e || e.closest("script, style, noscript, option, svg, .skip, .sr-only, [hidden], textarea")) continue;
		const words = n.textContent.match(/\p{L}[\p{L}\p{N}'’-]*/gu);
		if (!words || !e.checkVisibility({checkOpacity: true, checkVisibilityCSS: true})) continue;
		const r = document.createRange();
		r.selectNodeContents(n);
		const box = r.getBoundingClientRect();
		if (box.width === 0 || box.height === 0) continue;
		all += words.length;
		logged ||= e.closest("[aria-label='The log']") !== null;
		if (!logged) before += words.length;
		if (box.top + scrollY < innerHeight) first += words.length;
	}
	return "first " + first + ", all " + all + ", before the log " + before + ", height " + document.documentElement.scrollHeight;
})()`

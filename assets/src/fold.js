// What a link leads to stands open, though it is folded away.
const unfold = () => {
  const at = location.hash.length > 1 && document.getElementById(decodeURIComponent(location.hash.slice(1)));
  for (let fold = at && at.closest("details"); fold; fold = fold.parentElement?.closest("details")) fold.open = true;
};

// "/" leads to the search from every page, unless somebody is typing.
const seeks = (e) => {
  if (e.key !== "/" || e.ctrlKey || e.metaKey || e.altKey || e.target.closest?.("input, textarea, select")) return;
  const find = document.querySelector("a[data-find]");
  if (!find) return;
  e.preventDefault();
  location.assign(find.href);
};

export const start = () => {
  document.addEventListener("keydown", seeks);
  window.addEventListener("hashchange", unfold);
  unfold();
};

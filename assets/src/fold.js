// What a link leads to stands open, though it is folded away.
const unfold = () => {
  const at = location.hash.length > 1 && document.getElementById(decodeURIComponent(location.hash.slice(1)));
  for (let fold = at && at.closest("details"); fold; fold = fold.parentElement?.closest("details")) fold.open = true;
};

export const start = () => {
  window.addEventListener("hashchange", unfold);
  unfold();
};

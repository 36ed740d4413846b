// Boxes that were ticked stay so on this device: no account, nothing is sent.
const boxes = document.querySelectorAll(".tick input");
const key = `ticks ${location.pathname}`;
let ticked = [];
try {
  ticked = JSON.parse(localStorage.getItem(key) ?? "[]");
} catch {
  // The page works without being kept.
}
boxes.forEach((box, i) => {
  box.checked = ticked.includes(i);
  box.addEventListener("change", () => {
    const now = [...boxes].flatMap((b, n) => (b.checked ? [n] : []));
    try {
      localStorage.setItem(key, JSON.stringify(now));
    } catch {
      // As above.
    }
  });
});

// The measure: drawn from one point to another, edges pull its ends; it says how far that is, and how far the pieces there are apart.
(() => {
  const REACH = 8; // pixels
  let on = false, from = null;
  const shown = () => document.getElementById("measured");
  const button = () => document.querySelector("[data-measuring]");
  const set = (to) => {
    on = to;
    from = null;
    Hands.drawing.classList.toggle("crossing", to);
    button()?.setAttribute("aria-pressed", to);
    Hands.draw(to ? measure : null);
    if (!to) shown().replaceChildren();
  };
  async function ask(from, to, event) {
    const reach = event.altKey ? 0 : REACH * View.perPixel();
    const asked = new URLSearchParams({x0: from.x, y0: from.y, x1: to.x, y1: to.y, reach, pixel: View.perPixel()});
    const answer = await fetch(`${Hands.url}/span?${asked}`);
    if (answer.ok && on) shown().innerHTML = await answer.text();
  }
  const measure = {
    begin(event) { from = View.point(event); shown().replaceChildren(); },
    move(event) {
      if (!from) return;
      const to = View.point(event);
      shown().innerHTML = `<path class="span" d="M${from.x} ${-from.y}L${to.x} ${-to.y}"/>`;
    },
    end(event) {
      if (from) ask(from, View.point(event), event);
      from = null;
    },
  };
  document.addEventListener("click", (event) => event.target.closest?.("[data-measuring]") && set(!on));
  Hands.add({letGo: () => on && (set(false), true)});
  Hands.measure = () => set(!on);
})();

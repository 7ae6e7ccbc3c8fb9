// Corners that size what is chosen, and a grip that turns it: the outline is shown as it would be, and how much that is.
(() => {
  const sizing = () => document.querySelector(".sizing");
  const ghost = () => document.querySelector(".sized-ghost");
  const opposite = {nw: "se", ne: "sw", se: "nw", sw: "ne"};
  const place = ({dataset: {x, y}}) => ({x: Number(x), y: Number(y)});
  const at = (corner) => place(document.querySelector(`.size-grip.${corner}`));

  async function taken() {
    const answer = await fetch(`${Hands.url}/ghost?part=${encodeURIComponent(sizing().dataset.parts)}&pixel=${View.perPixel()}`);
    if (answer.ok) ghost()?.setAttribute("d", await answer.text());
  }
  const shown = (turn, about, scale) => ghost().setAttribute("transform", `translate(${about.x} ${about.y}) ${turn}scale(${scale * 0.01}) translate(${-100 * about.x} ${-100 * about.y})`);
  const dropped = () => ghost()?.removeAttribute("d");
  const done = (values) => Hands.edit({many: sizing().dataset.parts, ...values}).finally(dropped);

  function times(corner, to) {
    const fixed = at(opposite[corner]), from = at(corner), wide = from.x - fixed.x, high = from.y - fixed.y;
    return Math.max(0.02, ((to.x - fixed.x) * wide + (-to.y - fixed.y) * high) / (wide * wide + high * high || 1));
  }
  Hands.add({
    at: ".size-grip", stays: true, taken, dropped,
    moving(what, {to, event}) {
      const by = times(what.dataset.corner, to);
      shown("", at(opposite[what.dataset.corner]), by);
      Hands.say(`${Math.round(by * 1000) / 10} %`, event);
    },
    drop: (what, {to}, times = "") => done({do: "size by hand", corner: what.dataset.corner, x: to.x, y: to.y, times}),
    typed(what, text, where) { return this.drop(what, where, text); },
  });

  // On what is hardly larger than themselves they would be in the way.
  const ROOM = 34; // pixels
  const thin = () => sizing()?.classList.toggle("tiny", sizing().dataset.least < ROOM * View.perPixel());
  new MutationObserver(thin).observe(document.getElementById("canvas"), {attributes: true, attributeFilter: ["viewBox"]});
  document.addEventListener("htmx:after:swap", thin);
  thin();

  const STEP = 15; // degrees, with Shift
  function turned(from, to, steps) {
    const {x, y} = place(sizing()), by = ((Math.atan2(to.y + y, to.x - x) - Math.atan2(from.y + y, from.x - x)) * 180) / Math.PI;
    const angle = ((by + 540) % 360) - 180;
    return steps ? Math.round(angle / STEP) * STEP : angle;
  }
  Hands.add({
    at: ".turn-grip", stays: true, taken, dropped,
    moving(what, {from, to, event}) {
      const by = turned(from, to, event.shiftKey);
      shown(`rotate(${-by}) `, place(sizing()), 1);
      Hands.say(`${Math.round(by * 10) / 10}°`, event);
    },
    drop: (what, {from, to, event}, angle = "") => done({do: "turn by hand", from_x: from.x, from_y: from.y, x: to.x, y: to.y, by: event.shiftKey ? STEP : 0, angle}),
    typed(what, text, where) { return this.drop(what, where, text); },
  });
})();

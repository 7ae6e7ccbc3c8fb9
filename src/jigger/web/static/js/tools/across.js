// A line drawn over the drawing that an edit is made of: a bridge from a counter to the material around it, or over the picture
// underneath, how long it is in truth, or that it is level or upright.
(() => {
  let line = null, meant = null; // what comes of it
  const set = (to) => {
    meant = to;
    Hands.drawing.classList.toggle("crossing", !!to);
    Hands.draw(to ? across : null);
  };
  const asked = ({cross, measure}) => cross ? {do: "draw bridge", layer: cross}
    : {do: measure, ...(measure === "scale underlay" && {value: document.getElementById("underlay-length").value})};
  const across = {
    begin(event) {
      const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
      line = {from: View.point(event), path};
      document.getElementById("snaps").replaceChildren(path);
    },
    move(event) {
      const to = line && View.point(event);
      if (to) line.path.setAttribute("d", `M${line.from.x} ${-line.from.y}L${to.x} ${-to.y}`);
    },
    end(event) {
      if (!line) return;
      const {from} = line, to = View.point(event), values = meant;
      line = null;
      Snaps.clear();
      set(null);
      Hands.edit({...values, x0: from.x, y0: from.y, x: to.x, y: to.y});
    },
  };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-cross], [data-measure]");
    if (button) set(meant ? null : asked(button.dataset));
  });
  Hands.add({letGo: () => Boolean(meant) && (set(null), true)});
})();

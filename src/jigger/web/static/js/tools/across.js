// A bridge drawn across: a line from a counter to the material around it.
(() => {
  let layer = "", line = null;
  const set = (to) => {
    layer = to;
    Hands.drawing.classList.toggle("crossing", !!to);
    Hands.draw(to ? across : null);
  };
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
      const {from} = line, to = View.point(event), of = layer;
      line = null;
      Snaps.clear();
      set("");
      Hands.edit({do: "draw bridge", layer: of, x0: from.x, y0: from.y, x: to.x, y: to.y});
    },
  };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-cross]");
    if (button) set(layer ? "" : button.dataset.cross);
  });
  Hands.add({letGo: () => Boolean(layer) && (set(""), true)});
})();

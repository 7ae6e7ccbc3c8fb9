// A line drawn over the picture underneath: how long it is in truth, or that it is level or upright.
(() => {
  let act = "", line = null;
  const field = () => document.getElementById("underlay-length");
  const set = (to) => {
    act = to;
    Hands.drawing.classList.toggle("crossing", !!to);
    Hands.draw(to ? ruler : null);
  };
  const ruler = {
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
      const {from} = line, to = View.point(event), what = act;
      line = null;
      Snaps.clear();
      set("");
      Hands.edit({do: what, x0: from.x, y0: from.y, x: to.x, y: to.y, ...(what === "scale underlay" && {value: field().value})});
    },
  };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-measure]");
    if (button) set(act ? "" : button.dataset.measure);
  });
  Hands.add({letGo: () => Boolean(act) && (set(""), true)});
})();

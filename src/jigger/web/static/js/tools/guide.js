// Guides: drawn out of a ruler onto the drawing, dragged along, and dragged out of it to be taken away.
(() => {
  const canvas = document.getElementById("canvas");
  const outside = (event) => { const {left, top, right, bottom} = canvas.getBoundingClientRect(); return event.clientX < left || event.clientY < top || event.clientX > right || event.clientY > bottom; };
  const place = (axis, to) => Math.round(10 * to[axis]) / 10;

  for (const [id, axis] of [["ruler-x", "y"], ["ruler-y", "x"]]) {
    const ruler = document.getElementById(id);
    ruler.addEventListener("pointerdown", (event) => {
      event.preventDefault();
      ruler.setPointerCapture(event.pointerId);
      const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
      path.setAttribute("class", "new-guide");
      document.getElementById("snaps").replaceChildren(path);
      const move = (moved) => {
        const at = place(axis, View.point(moved));
        path.setAttribute("d", axis === "x" ? `M${at}-30000V30000` : `M-30000 ${-at}H30000`);
        Hands.say(View.shown(at), moved);
      };
      ruler.addEventListener("pointermove", move);
      ruler.addEventListener("pointerup", (ended) => {
        ruler.removeEventListener("pointermove", move);
        Snaps.clear();
        if (!outside(ended)) Hands.edit({do: "add guide", axis, at: place(axis, View.point(ended))});
      }, {once: true});
    });
  }
  Hands.add({
    at: ".guide",
    stays: true,
    moving(what, {shift, to, event}) {
      const {axis} = what.dataset;
      what.setAttribute("transform", axis === "x" ? `translate(${shift.x} 0)` : `translate(0 ${shift.y})`);
      Hands.say(outside(event) ? "taken away" : View.shown(place(axis, to)), event);
    },
    drop: ({dataset: {guide, axis}}, {to, event}) => Hands.edit(outside(event) ? {do: "remove guide", guide} : {do: "move guide", guide, at: place(axis, to)}),
  });
})();

// The pen: taps are corners, a drag bends the line through its node, with Shift the first of two taps is a point of an arc.
// Back at the start it closes; Enter or a second tap at the last node ends it; from an end of the chosen path it draws on.
(() => {
  const NEAR = 8, LEVEL = 6; // pixels within which a start is met, and a line is pulled level or upright
  const strip = document.getElementById("pen-strip");
  let layer = "", purpose = "", nodes = [], from = null, through = null, down = null;
  const flip = ({x, y}) => `${x} ${-y}`;
  const near = (a, b) => Math.hypot(a.x - b.x, a.y - b.y) < NEAR * View.perPixel();
  const out = (node) => ({x: node.x + (node.out_x ?? 0), y: node.y + (node.out_y ?? 0)});
  const into = (node) => ({x: node.x + (node.in_x ?? 0), y: node.y + (node.in_y ?? 0)});

  function set(to, why = "") {
    layer = to;
    purpose = to ? why : "";
    nodes = []; from = through = down = null;
    Hands.drawing.classList.toggle("crossing", !!to);
    strip.hidden = !to;
    strip.dataset.for = purpose;
    Snaps.clear();
    Hands.draw(to ? pen : null);
    for (const button of document.querySelectorAll("[data-pen]")) button.setAttribute("aria-pressed", !!to);
  }

  // A point of the pointer, pulled onto the line level with, or upright over, the node before.
  function point(event) {
    const at = View.point(event), before = nodes.at(-1);
    if (!before || event.altKey) return at;
    const reach = LEVEL * View.perPixel();
    if (Math.abs(at.x - before.x) < reach) at.x = before.x;
    if (Math.abs(at.y - before.y) < reach) at.y = before.y;
    return at;
  }

  function show(at) {
    const to = at && !down ? [...nodes, at] : nodes;
    const bow = (a, b, by) => ({x: 2 * by.x - (a.x + b.x) / 2, y: 2 * by.y - (a.y + b.y) / 2});
    const line = to.map((node, i) => {
      if (!i) return `M${flip(node)}`;
      const by = node.through ?? (node === at ? through : null);
      return by ? `Q${flip(bow(to[i - 1], node, by))} ${flip(node)}` : `C${flip(out(to[i - 1]))} ${flip(into(node))} ${flip(node)}`;
    }).join("");
    const arms = nodes.filter((node) => node.out_x || node.out_y).map((node) => `M${flip(into(node))}L${flip(out(node))}`).join("");
    const dots = nodes.map((node) => `<g transform="translate(${flip(node)})"><g class="sized"><circle r="4"/></g></g>`).join("");
    document.getElementById("snaps").innerHTML = `<path class="pen-line" d="${line}"/><path class="pen-arms" d="${arms}"/><g class="pen-dots">${dots}</g>`;
  }

  function finish(closed = false) {
    const drawn = nodes, start = from, home = layer;
    if (drawn.length < 2) return set(home, purpose);
    if (purpose === "cut") { set(""); return Hands.edit({do: "cut in two", part: home, drawn: JSON.stringify(drawn), closed}); }
    set(home); // it stays in hand for the next line
    if (start) return Hands.edit({do: "extend path", part: start.part, end: start.node, drawn: JSON.stringify(drawn), closed});
    return Hands.edit({do: "draw path", layer: home, paths: JSON.stringify([{nodes: drawn, closed}]), step: "", verb: "nodes", nodes: ""});
  }

  const pen = {
    begin(event) {
      const at = point(event);
      if (nodes.length > 1 && near(at, nodes[0]) && !from) return finish(true);
      if (nodes.length > 1 && near(at, nodes.at(-1))) return finish();
      const end = !nodes.length && !purpose && document.elementsFromPoint(event.clientX, event.clientY).map((one) => one.closest(".node.end")).find(Boolean);
      if (end) {
        from = {part: end.parentElement.dataset.part, node: end.dataset.node};
        nodes = [{x: Number(end.dataset.x), y: -Number(end.dataset.y)}];
      } else if (event.shiftKey && nodes.length && !through) through = View.point(event);
      else {
        nodes.push({...at, ...(through && {through})});
        through = null;
      }
      down = event.shiftKey ? null : nodes.at(-1);
      show();
    },
    move(event) {
      const at = point(event);
      if (down && !near(at, down)) {
        const dx = at.x - down.x, dy = at.y - down.y;
        Object.assign(down, {out_x: dx, out_y: dy, in_x: -dx, in_y: -dy, kind: "symmetric"});
      }
      show(at);
    },
    end() { down = null; show(); },
  };

  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-pen], [data-pen-end]");
    if (!button) return;
    if ("penEnd" in button.dataset) return nodes.length > 1 ? finish() : set("");
    set(layer ? "" : button.dataset.pen, button.dataset.penFor);
  });
  Hands.add({
    remove: () => Boolean(layer) && (through ? through = null : nodes.pop(), show(), true),
    letGo: () => Boolean(layer) && (nodes.length > 1 ? finish() : set(nodes.length ? layer : "", purpose), true),
    finish: () => Boolean(layer) && (finish(), true),
    pen: () => { const home = document.querySelector("[data-pen]:not([data-pen-for])")?.dataset.pen; set(layer || !home ? "" : home); return true; },
  });
})();

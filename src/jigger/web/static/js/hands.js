// Hands on the drawing and the build sheet: take a part, drag a bridge, put steps in another order.
const Hands = (() => {
  const canvas = document.getElementById("canvas");
  const drawing = document.getElementById("drawing");
  const url = `/designs/${drawing.dataset.design}`;
  const LEAST = 3; // pixels a pointer moves before it drags
  let held = null, spaceDown = false, bridge = null;
  let removed = false; // after a bridge, another Delete must not take the part it was on

  const edit = (values) => htmx.ajax("POST", `${url}/edit`, {source: drawing, values, swap: "none"});
  const chosen = () => document.getElementById("recipe").dataset.step;
  const letter = () => document.getElementById("recipe").dataset.letter;
  const choose = (step, verb = "", letter = "", bridge = "") => htmx.ajax("GET", `${url}/recipe`, {source: drawing, values: {step, verb, letter, bridge}, swap: "none"});
  const keyOf = ({layer, letter, counter, number}) => [layer, letter, counter, number].join(" ");
  const partOf = (id) => document.querySelector(`.part[data-part="${CSS.escape(id)}"]`);

  // The outline of a part is fetched when it is dragged; until it is there its corners move.
  async function showGhost(part) {
    const answer = await fetch(`${url}/ghost?part=${encodeURIComponent(part.dataset.part)}&pixel=${View.perPixel()}`);
    if (answer.ok && part.matches(".held")) part.querySelector(":scope > .ghost").setAttribute("d", await answer.text());
  }

  const moveLetter = (id, dx, dy) => edit({do: "nudge letter", letter: id, dx, dy});

  // What can be taken at the pointer; the mark of a finding does not hide what it is on.
  const under = (event) => document.elementsFromPoint(event.clientX, event.clientY)
    .map((one) => one.closest(".bridge-grip, .bridge, .grip-end, .letter, .part")).find((one) => one) ?? null;

  function chooseBridge(element) {
    bridge = element && {...element.dataset};
    for (const other of document.querySelectorAll(".bridge")) other.classList.toggle("chosen", other === element);
  }

  function restoreBridge() {
    if (bridge) chooseBridge([...document.querySelectorAll(".bridge")].find((one) =>
      ["layer", "letter", "counter", "number"].every((key) => one.dataset[key] === bridge[key])));
  }

  canvas.addEventListener("pointerdown", (event) => {
    if (event.button > 1) return;
    if (crossing) return beginLine(event);
    let what = spaceDown || event.button === 1 ? null : under(event);
    const over = what?.matches(".letter") ? what.dataset.letter : "";
    if (over && !what.matches(".chosen")) what = what.closest(".part"); // a letter is dragged once it is chosen
    held = {what, over, start: event, moved: false, last: event};
    removed = false;
    if (!what?.matches(".bridge-grip")) chooseBridge(what?.matches(".bridge") ? what : null);
    canvas.setPointerCapture(event.pointerId);
    canvas.focus({preventScroll: true});
    event.preventDefault();
  });

  canvas.addEventListener("pointermove", (event) => {
    if (!held) return;
    const dx = event.clientX - held.start.clientX, dy = event.clientY - held.start.clientY;
    if (!held.moved && Math.hypot(dx, dy) < LEAST) return;
    if (!held.moved && held.what?.matches(".part")) showGhost(held.what);
    held.moved = true;
    held.what?.setAttribute("hx-morph-skip", "");
    if (!held.what) View.pan(event.clientX - held.last.clientX, event.clientY - held.last.clientY);
    else {
      held.what.classList.add("held");
      let shift = {x: dx * View.perPixel(), y: dy * View.perPixel()};
      if (held.what.matches(".part") && !event.altKey) shift = Snaps.pull(held.what, shift);
      else Snaps.clear();
      held.shift = shift;
      held.what.setAttribute("transform", `translate(${shift.x} ${shift.y})`);
    }
    held.last = event;
  });

  canvas.addEventListener("pointerup", (event) => {
    if (!held) return;
    const {what, over, moved, shift} = held;
    held = null;
    Snaps.clear();
    if (!what) return moved || choose("");
    what.classList.remove("held");
    what.removeAttribute("hx-morph-skip");
    const back = () => what.removeAttribute("transform");
    const to = View.point(event), part = what.closest("[data-part]")?.dataset.part;
    if (!moved) {
      if (what.matches(".bridge")) return choose(what.dataset.layer, "hold", "", keyOf(what.dataset));
      if (over) return over === letter() || choose(part, "letter", over);
      return !what.matches(".part") || part === chosen() || choose(part);
    }
    if (what.matches(".bridge-grip")) edit({do: `${what.dataset.grip} bridge`, ...bridge, x: +what.dataset.x + shift.x, y: +what.dataset.y - shift.y}).finally(back);
    else if (what.matches(".bridge")) edit({do: "move bridge", ...what.dataset, x: to.x, y: to.y}).finally(back);
    else if (what.matches(".grip-end")) edit({do: "move grip", ...what.dataset, x: to.x, y: to.y}).finally(back);
    else if (what.matches(".letter")) moveLetter(over, shift.x, -shift.y).finally(back);
    else edit({do: "nudge", part, dx: shift.x, dy: -shift.y, step: part, letter: ""}).finally(back);
  });

  // A bridge drawn across: a line from a counter to the material around it.
  let crossing = "", line = null;
  const setCrossing = (layer) => { crossing = layer; drawing.classList.toggle("crossing", !!layer); };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-cross]");
    if (button) setCrossing(crossing ? "" : button.dataset.cross);
  });
  function beginLine(event) {
    const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
    line = {from: View.point(event), path};
    document.getElementById("snaps").replaceChildren(path);
    canvas.setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  canvas.addEventListener("pointermove", (event) => {
    const to = line && View.point(event);
    if (to) line.path.setAttribute("d", `M${line.from.x} ${-line.from.y}L${to.x} ${-to.y}`);
  });
  canvas.addEventListener("pointerup", (event) => {
    if (!line) return;
    const {from} = line, to = View.point(event), layer = crossing;
    line = null;
    Snaps.clear();
    setCrossing("");
    edit({do: "draw bridge", layer, x0: from.x, y0: from.y, x: to.x, y: to.y});
  });

  canvas.addEventListener("pointercancel", () => {
    held?.what?.removeAttribute("transform");
    held?.what?.removeAttribute("hx-morph-skip");
    Snaps.clear();
    held = null;
  });

  // Steps of the build, dragged by their grips.
  let step = null;
  const targetOf = (event) => event.target.closest?.(".step, .card-layer");
  document.addEventListener("dragstart", (event) => {
    step = event.target.closest?.(".grip")?.parentElement ?? null;
    if (step) event.dataTransfer.setData("text/plain", step.dataset.part);
  });
  document.addEventListener("dragover", (event) => {
    if (!step || !targetOf(event)) return;
    event.preventDefault();
    document.querySelectorAll(".drop").forEach((one) => one.classList.remove("drop"));
    targetOf(event).classList.add("drop");
  });
  document.addEventListener("drop", (event) => {
    const target = step && targetOf(event);
    if (!target) return;
    event.preventDefault();
    const {home, index} = target.dataset; // before a step, or at the end of a layer
    edit({do: "move part", part: step.dataset.part, layer: home ?? target.dataset.layer, index: index ?? 1000});
  });
  document.addEventListener("dragend", () => {
    step = null;
    document.querySelectorAll(".drop").forEach((one) => one.classList.remove("drop"));
  });

  document.addEventListener("htmx:after:settle", restoreBridge);
  document.addEventListener("click", (event) => event.target.closest(".choose") && chooseBridge(null)); // a step is chosen instead
  return {
    nudge: (dx, dy) => letter() ? moveLetter(letter(), dx, dy) : chosen() && partOf(chosen()) && edit({do: "nudge", part: chosen(), dx, dy}),
    remove() {
      if (bridge) {
        edit({do: "edit bridge", ...bridge});
        removed = true;
      } else if (letter()) edit({do: "remove letter", letter: letter(), step: chosen(), verb: "letter"});
      else if (!removed && partOf(chosen())) edit({do: "remove part", part: chosen(), step: ""});
    },
    letGo() {
      if (crossing) setCrossing("");
      else if (bridge) { chooseBridge(null); choose(chosen(), "hold"); }
      else if (letter()) choose(chosen());
      else choose("");
    },
    takeBridge: chooseBridge,
    space: (down) => { spaceDown = down; drawing.classList.toggle("panning", down); },
  };
})();
document.addEventListener("focusin", (event) => event.target.matches?.(".bridge") && Hands.takeBridge(event.target));

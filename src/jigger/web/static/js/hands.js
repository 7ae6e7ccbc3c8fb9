// Hands on the drawing: what is under the pointer is taken by its tool, dragged, and let go or only tapped.
//
// A tool says `at` (what it takes, as a selector, if anything) and what comes of it: `drop(what, {shift, from, to})`, a promise, and
// `tap(what, event)`. It may have `lifts(what)` (what is dragged instead), `pulled` (snapping lines pull it), `stays` (it is not shown
// moved), `taken(what)`, `moving(what, {shift, from, to})`, `before(what)` (whatever is taken), `settled()`, and answers to keys that
// say whether they were meant: `remove()`, `letGo()`, `nudge(dx, dy)`, `finish()`, `pen()`.
// Keys ask tools in the order they were added. A tool that draws is given the pointer by `mode`: `begin`, `move`, `end`.
const Hands = (() => {
  const canvas = document.getElementById("canvas");
  const drawing = document.getElementById("drawing");
  const url = drawing.dataset.url ?? `/designs/${drawing.dataset.design}`;
  const LEAST = 3; // pixels a pointer moves before it drags
  const tools = [];
  let held = null, spaceDown = false, mode = null;

  const edit = (values) => htmx.ajax("POST", `${url}/edit`, {source: drawing, values, swap: "none"});
  const recipe = () => document.getElementById("recipe").dataset;
  const choose = (step, verb = "", more = {}) => htmx.ajax("GET", `${url}/recipe`, {source: drawing, values: {...recipe(), letter: "", bridge: "", nodes: "", step, verb, ...more}, swap: "none"});
  const toolOf = (what) => tools.find((tool) => tool.at && what?.matches(tool.at)) ?? {};
  const first = (key, ...given) => tools.some((tool) => tool[key]?.(...given));

  // What can be taken at the pointer; the mark of a finding does not hide what it is on.
  function under(event) {
    const any = tools.flatMap((tool) => tool.at ?? []).join(", ");
    return document.elementsFromPoint(event.clientX, event.clientY).map((one) => one.closest(any)).find((one) => one) ?? null;
  }

  canvas.addEventListener("pointerdown", (event) => {
    if (event.button > 1) return;
    canvas.setPointerCapture(event.pointerId);
    event.preventDefault();
    if (mode) return mode.begin(event);
    const tapped = spaceDown || event.button === 1 ? null : under(event);
    const lifts = toolOf(tapped).lifts;
    const what = lifts ? lifts(tapped) : tapped;
    held = {what, tool: toolOf(what), tapped, start: event, moved: false, last: event, shift: {x: 0, y: 0}};
    for (const tool of tools) tool.before?.(what);
    canvas.focus({preventScroll: true});
  });

  canvas.addEventListener("pointermove", (event) => {
    if (mode) return mode.move(event);
    if (!held) return;
    const dx = event.clientX - held.start.clientX, dy = event.clientY - held.start.clientY;
    if (!held.moved && Math.hypot(dx, dy) < LEAST) return;
    if (!held.moved) held.tool.taken?.(held.what);
    held.moved = true;
    held.what?.setAttribute("hx-morph-skip", "");
    if (!held.what) View.pan(event.clientX - held.last.clientX, event.clientY - held.last.clientY);
    else {
      held.what.classList.add("held");
      let shift = {x: dx * View.perPixel(), y: dy * View.perPixel()};
      if (held.tool.pulled && !event.altKey) shift = Snaps.pull(held.what, shift);
      else Snaps.clear();
      held.shift = shift;
      if (!held.tool.stays) held.what.setAttribute("transform", `translate(${shift.x} ${shift.y})`);
      held.tool.moving?.(held.what, {shift, from: View.point(held.start), to: View.point(event)});
    }
    held.last = event;
  });

  canvas.addEventListener("pointerup", (event) => {
    if (mode) return mode.end(event);
    if (!held) return;
    const {what, tool, tapped, moved, shift, start} = held;
    held = null;
    Snaps.clear();
    if (!what) return moved || choose("");
    what.classList.remove("held");
    what.removeAttribute("hx-morph-skip");
    if (!moved) return toolOf(tapped).tap?.(tapped, event);
    tool.drop(what, {shift, from: View.point(start), to: View.point(event)}).finally(() => what.removeAttribute("transform"));
  });

  canvas.addEventListener("pointercancel", () => {
    held?.what?.removeAttribute("transform");
    held?.what?.removeAttribute("hx-morph-skip");
    Snaps.clear();
    held = null;
  });
  document.addEventListener("htmx:after:settle", () => tools.forEach((tool) => tool.settled?.()));

  return {
    add: (tool) => tools.push(tool),
    busy: () => drawing.classList.contains("htmx-request"),
    edit, choose, url, drawing, recipe,
    draw: (tool) => { mode = tool; },
    nudge: (dx, dy) => first("nudge", dx, dy),
    remove: () => first("remove"),
    finish: () => first("finish"),
    pen: () => first("pen"),
    letGo: () => first("letGo") || choose(""),
    space: (down) => { spaceDown = down; drawing.classList.toggle("panning", down); },
  };
})();

// Hands on the drawing: what is under the pointer is taken by its tool, dragged, and let go or only tapped.
//
// A tool says `at` (what it takes, as a selector, if anything) and what comes of it: `drop(what, {shift, from, to, event})`, a promise, and
// `tap(what, event)`. It may have `lifts(what)` (what is dragged instead), `pulled` (snapping lines pull it), `stays` (it is not shown
// moved), `typed(what, text, {shift, from, to})` (a figure typed meanwhile, a promise), `along(what)` (the parts that move with it), `dropped(what)` (nothing comes of it), `taken(what)`, `moving(what, {shift, from, to, event})`, `before(what)` (whatever is taken), `settled()`, and answers to keys that
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
  const choose = (step, verb = "", more = {}) => htmx.ajax("GET", `${url}/recipe`, {source: drawing, values: {...recipe(), letter: "", bridge: "", nodes: "", many: "", copied: "", step, verb, ...more}, swap: "none"});
  const again = () => htmx.ajax("GET", `${url}/recipe`, {source: drawing, values: {...recipe()}, swap: "none"});
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
    if (touch(event)) return;
    const lifts = toolOf(tapped).lifts;
    const what = lifts ? lifts(tapped) : tapped;
    const boxes = api.box && event.pointerType !== "touch" && event.button === 0 && !spaceDown && (!what || event.ctrlKey || event.metaKey);
    held = {what, tool: toolOf(what), tapped, start: event, moved: false, last: event, shift: {x: 0, y: 0}, boxes};
    for (const tool of tools) tool.before?.(what);
    canvas.focus({preventScroll: true});
  });

  canvas.addEventListener("pointermove", (event) => {
    if (mode) return mode.move(event);
    if (pinched(event) || !held) return;
    const dx = event.clientX - held.start.clientX, dy = event.clientY - held.start.clientY;
    if (!held.moved && Math.hypot(dx, dy) < LEAST) return;
    if (held.boxes) { held.moved = true; return showBox(held.start, event); }
    if (!held.moved) held.tool.taken?.(held.what);
    held.moved = true;
    held.what?.setAttribute("hx-morph-skip", "");
    if (!held.what) View.pan(event.clientX - held.last.clientX, event.clientY - held.last.clientY);
    else {
      held.what.classList.add("held");
      let shift = {x: dx * View.perPixel(), y: dy * View.perPixel()};
      const straight = event.shiftKey && held.tool.pulled && (Math.abs(dx) > Math.abs(dy) ? "y" : "x");
      if (straight) shift[straight] = 0;
      if (held.tool.pulled && !event.altKey) shift = Snaps.pull(held.tool.along?.(held.what) ?? [held.what.dataset.part], shift, straight);
      else Snaps.clear();
      held.shift = shift;
      if (!held.tool.stays) held.what.setAttribute("transform", `translate(${shift.x} ${shift.y})`);
      held.last = event;
      held.tool.moving?.(held.what, where(held));
      if (held.typed) say(`${held.typed} ▏`, event);
    }
    held.last = event;
  });
  const where = ({start, last, shift}) => ({shift, from: View.point(start), to: View.point(last), event: last});

  // Figures typed while something is dragged take the place of the one beside the pointer: Enter, or letting go, does it; Escape
  // lets it be.
  document.addEventListener("keydown", (event) => {
    if (!held?.moved || event.ctrlKey || event.metaKey) return;
    const {typed = "", tool, last} = held;
    if (event.key === "Escape") drop();
    else if (!tool.typed) return;
    else if (event.key === "Enter") typed && letGo();
    else if (event.key === "Backspace") held.typed = typed.slice(0, -1);
    else if (/^[-\d.,;/ '"cfimnt]$/.test(event.key)) held.typed = (typed + event.key).trimStart();
    else return;
    if (held) say(`${held.typed ?? ""} ▏`, last);
    event.preventDefault();
    event.stopImmediatePropagation();
  }, true);
  function letGo() {
    const one = held, {what, tool, typed} = one;
    held = null;
    Snaps.clear();
    what.classList.remove("held");
    what.removeAttribute("hx-morph-skip");
    (typed ? tool.typed(what, typed, where(one)) : tool.drop(what, where(one))).finally(() => what.removeAttribute("transform"));
  }

  canvas.addEventListener("pointerup", (event) => {
    fingers.delete(event.pointerId);
    if (mode) return mode.end(event);
    if (!held) return;
    const {what, tapped, moved, start, boxes} = held;
    held.last = event;
    if (what && moved && !boxes) return letGo();
    held = null;
    if (moved && boxes) return (Snaps.clear(), api.box(box(start, event), event));
    if (!what) return moved || event.shiftKey || choose("");
    return toolOf(tapped).tap?.(tapped, event);
  });

  function drop() {
    if (held?.what) held.tool.dropped?.(held.what);
    held?.what?.removeAttribute("transform");
    held?.what?.removeAttribute("hx-morph-skip");
    held?.what?.classList.remove("held");
    Snaps.clear();
    held = null;
  }
  canvas.addEventListener("pointercancel", (event) => { fingers.delete(event.pointerId); drop(); });

  // Two fingers move the view and make it larger; whatever the first one held is let go.
  const fingers = new Map();
  const spread = ([a, b]) => ({far: Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY) || 1, x: (a.clientX + b.clientX) / 2, y: (a.clientY + b.clientY) / 2});
  function touch(event) {
    if (event.pointerType !== "touch") return false;
    fingers.set(event.pointerId, event);
    if (fingers.size > 1) drop();
    return fingers.size > 1;
  }
  function pinched(event) {
    if (!fingers.has(event.pointerId) || fingers.size < 2) return false;
    const before = spread([...fingers.values()]);
    fingers.set(event.pointerId, event);
    const after = spread([...fingers.values()]), corner = canvas.getBoundingClientRect();
    View.pan(after.x - before.x, after.y - before.y);
    View.zoomAt(after.far / before.far, after.x - corner.left, after.y - corner.top);
    return true;
  }

  function box(from, to) {
    const a = View.point(from), b = View.point(to);
    return {left: Math.min(a.x, b.x), right: Math.max(a.x, b.x), bottom: Math.min(a.y, b.y), top: Math.max(a.y, b.y)};
  }
  function showBox(from, to) {
    const {left, bottom, right, top} = box(from, to);
    document.getElementById("snaps").innerHTML = `<rect class="round-up" x="${left}" y="${-top}" width="${right - left}" height="${top - bottom}"/>`;
  }

  // Answers can cross on a slow machine: what is older than the newest state that was shown is asked for anew. A list answers with all
  // of its areas; of a design the figures come by themselves.
  const asked = drawing.dataset.url ? ["art", "readout", "tools"] : ["art"];
  let crossed = null, newest = 0;
  document.addEventListener("htmx:after:swap", () => {
    clearTimeout(crossed);
    // By their ids: a search looks at all that is drawn.
    const states = (ids) => ids.map((id) => document.getElementById(id)).filter(Boolean).map(({dataset}) => Number(dataset.rev ?? dataset.seq));
    newest = Math.max(newest, ...states(["art", "tools"]));
    if (Math.min(...states(asked)) < newest) crossed = setTimeout(again, 300);
  });

  // Words beside the pointer, or in the middle of the drawing, for a moment.
  let hush = null;
  function say(words, event) {
    const line = document.getElementById("said"), corner = drawing.getBoundingClientRect();
    line.textContent = words;
    line.hidden = false;
    line.style.left = `${event ? event.clientX - corner.left + 14 : corner.width / 2}px`;
    line.style.top = `${event ? event.clientY - corner.top + 14 : 40}px`;
    clearTimeout(hush);
    hush = setTimeout(() => { line.hidden = true; }, 2600);
  }
  document.addEventListener("htmx:after:swap", () => tools.forEach((tool) => tool.settled?.()));

  const api = {
    add: (tool) => tools.push(tool),
    busy: () => drawing.classList.contains("htmx-request"),
    edit, choose, again, url, drawing, recipe, say,
    draw: (tool) => { mode = tool; },
    nudge: (dx, dy) => first("nudge", dx, dy),
    remove: () => first("remove"),
    finish: () => first("finish"),
    pen: () => first("pen"),
    letGo: () => first("letGo") || choose(""),
    space: (down) => { spaceDown = down; drawing.classList.toggle("panning", down); },
  };
  return api;
})();

// The view of the drawing: zoom, pan, rulers, and which of the three views is shown.
const View = (() => {
  const canvas = document.getElementById("canvas");
  const drawing = document.getElementById("drawing");
  const hatches = document.querySelectorAll("#hatch-lines, #away-lines");
  const figure = document.getElementById("zoom-figure");
  const RULER = 22;
  const PX_PER_MM = 96 / 25.4;
  let x = 0, y = 0, perPixel = 1; // screen mm at the canvas's corner, mm a pixel
  let own = false; // a person chose what is shown

  const box = () => document.getElementById("art").dataset.box.split(" ").map(Number);
  const corner = () => canvas.getBoundingClientRect();
  let size = corner(); // asked for only when it changes: to ask lays the whole page out
  const marks = () => [...document.querySelectorAll("#marks .mark")];

  function show() {
    const {width, height} = size;
    canvas.setAttribute("viewBox", `${x} ${y} ${width * perPixel} ${height * perPixel}`);
    canvas.style.setProperty("--k", perPixel);
    drawing.style.setProperty("--dot", `${10 / perPixel}px`);
    drawing.style.setProperty("--dot-x", `${-x / perPixel + RULER}px`);
    drawing.style.setProperty("--dot-y", `${-y / perPixel + RULER}px`);
    for (const one of hatches) one.setAttribute("patternTransform", `scale(${100 * perPixel}) rotate(45)`); // paths are in 0.01 mm
    figure.textContent = `${Math.round(100 / (perPixel * PX_PER_MM))} %`;
    ruler("ruler-x", width, x, 1);
    ruler("ruler-y", height, y, -1);
    gather();
    sharpen();
  }

  // Curves shown coarser than a third of a pixel are fetched anew for this zoom.
  let sharper = null;
  function sharpen() {
    clearTimeout(sharper);
    const {tolerance} = document.getElementById("art").dataset;
    if (tolerance <= (perPixel < 0.02 ? 0.002 : 0.02) || tolerance <= perPixel / 3) return;
    sharper = setTimeout(() => Hands.again(), 150);
  }

  const length = (mm) => (inches() ? `${Math.round((mm / 25.4) * 1000) / 1000} in` : `${Math.round(mm * 100) / 100} mm`);
  const inches = () => document.querySelector(".unit-switch button").value === "mm";
  const shown = (mm) => (inches() ? `${(mm / 25.4).toFixed(3)} in` : `${mm.toFixed(1)} mm`);

  function ruler(id, length, start, sign) {
    const unit = inches() ? 25.4 : 1;
    const room = (70 * perPixel) / unit;
    const power = 10 ** Math.floor(Math.log10(room));
    const step = [1, 2, 5, 10].map((n) => n * power).find((n) => n >= room);
    const marks = [];
    for (let n = Math.ceil(start / unit / step); n * step * unit < start + length * perPixel; n++) {
      const at = (n * step * unit - start) / perPixel;
      const words = Number((sign * n * step).toFixed(4));
      marks.push(id === "ruler-x"
        ? `<path d="M${at} 12v10"/><text x="${at + 4}" y="13">${words}</text>`
        : `<path d="M12 ${at}h10"/><text x="3" y="${at - 4}">${words}</text>`);
    }
    document.getElementById(id).innerHTML = marks.join("");
  }

  function zoomAt(factor, px, py) {
    own = true;
    const next = Math.min(20, Math.max(0.002, perPixel / factor));
    x += px * (perPixel - next);
    y += py * (perPixel - next);
    perPixel = next;
    show();
  }

  function zoom(factor) {
    const {width, height} = size;
    zoomAt(factor, width / 2, height / 2);
  }

  function fit([left, top, wide, high], room = 0.12) {
    const {width, height} = size;
    perPixel = Math.max(wide / width, high / height, 1e-3) * (1 + 2 * room);
    x = left + wide / 2 - (width * perPixel) / 2;
    y = top + high / 2 - (height * perPixel) / 2;
    show();
  }

  // What is chosen fills the view; where nothing is, all of it does.
  function closely() {
    const chosen = document.querySelector(".sizing")?.dataset.box;
    if (!chosen) return all();
    own = true;
    fit(chosen.split(" ").map(Number), 0.3);
  }

  function all() {
    own = false;
    fit(box());
  }

  // What outgrew the view is shown whole again, unless a person chose what to look at; another thing always is.
  let seen = document.getElementById("art").dataset.of;
  function refit() {
    const {of} = document.getElementById("art").dataset;
    if (of !== seen) { seen = of; return all(); }
    const [left, top, wide, high] = box(), {width, height} = size;
    const outside = left < x || top < y || left + wide > x + width * perPixel || top + high > y + height * perPixel;
    if (outside && !own) fit(box());
  }

  // Findings at one place are one lozenge, that of the first, which says how many there are.
  function gather() {
    const every = marks(), shown = [];
    if (!every.length) return;
    const at = corner(), kept = beneath(); // asked for before anything is changed, so the page is laid out once
    for (const mark of every) {
      const near = !mark.classList.contains("here") && shown.find((other) => Math.hypot(other.dataset.x - mark.dataset.x, other.dataset.y - mark.dataset.y) < 22 * perPixel);
      mark.classList.toggle("gathered", Boolean(near));
      if (near) near.dataset.more = Number(near.dataset.more) + 1;
      else { mark.dataset.more = 0; shown.push(mark); }
    }
    for (const mark of shown) mark.querySelector(".more").textContent = mark.dataset.more > 0 ? `+${mark.dataset.more}` : "";
    lift(shown, kept, at);
  }

  // A lozenge that would lie on a grip, or on something hardly larger than itself, stands above it on a stem.
  const HALF = 13, SMALL = 52, MANY = 400; // px, px, how many are looked at
  function beneath() {
    const of = (what) => [...canvas.querySelectorAll(what)].slice(0, MANY).map((one) => one.getBoundingClientRect());
    return [...of(".grip-end, .bridge-grip"), ...of(".piece, .letter, .part .take").filter(({height}) => height < SMALL)];
  }
  function lift(shown, kept, at) {
    for (const mark of shown) {
      const left = (mark.dataset.x - x) / perPixel + at.left, top = (mark.dataset.y - y) / perPixel + at.top;
      const met = kept.filter((one) => Math.abs(left - (one.left + one.right) / 2) < HALF + one.width / 2 && Math.abs(top - (one.top + one.bottom) / 2) < HALF + one.height / 2);
      const up = met.length ? Math.max(0, top + 2 * HALF - Math.min(...met.map((one) => one.top))) : 0;
      mark.style.setProperty("--lift", `${-up}px`);
      mark.querySelector(".stem").setAttribute("d", up ? `M0 ${up}V0` : "");
    }
  }

  function pan(dx, dy) {
    own = true;
    x -= dx * perPixel;
    y -= dy * perPixel;
    show();
  }

  function choose(view) {
    drawing.dataset.view = view;
    for (const button of document.querySelectorAll(".views [data-view]"))
      button.setAttribute("aria-pressed", button.dataset.view === view);
    const blade = document.getElementById("blade");
    if (view !== "proof" && blade && !("seen" in blade.dataset)) ask();
  }

  // Where the tool starts, what falls out and the outlines node by node come with the exact figures, when they are to be shown.
  function ask() {
    const call = document.getElementById("readout-call");
    if (call) htmx.ajax("GET", call.getAttribute("hx-get"), {source: drawing, swap: "none"});
  }
  const nodes = () => drawing.dataset.nodes === "on";
  function switchNodes() {
    drawing.dataset.nodes = nodes() ? "off" : "on";
    for (const button of document.querySelectorAll("[data-nodes]:not(#drawing)")) button.setAttribute("aria-pressed", nodes());
    if (nodes()) ask();
  }

  // From a pointer event to document mm, y up.
  function point(event) {
    const {left, top} = size;
    return {x: x + (event.clientX - left) * perPixel, y: -(y + (event.clientY - top) * perPixel)};
  }

  let walked = -1;
  function walk(code) {
    const found = marks(), wanted = (mark) => !code || mark.dataset.code === code;
    if (!found.some(wanted)) return;
    do walked = (walked + 1) % found.length; while (!wanted(found[walked]));
    const mark = found[walked], reach = Math.max(...box().slice(2)) / 5;
    own = true;
    fit([mark.dataset.x - reach / 2, mark.dataset.y - reach / 2, reach, reach]);
    tell(walked);
  }

  // One finding is said at a time; its repairs are drawn over the drawing while they are pointed at.
  const unpreview = () => ["preview", "spoils"].forEach((id) => document.getElementById(id)?.replaceChildren());
  function light() {
    for (const one of document.querySelectorAll("#marks .mark, li.finding")) one.classList.toggle("here", one.dataset.key === Chosen.get("told"));
    gather();
  }
  function tell(number) {
    document.getElementById("plan")?.replaceChildren();
    Chosen.set("told", marks()[number]?.dataset.key ?? "");
    light();
    unpreview();
  }
  document.addEventListener("htmx:after:swap", () => {
    if (!Chosen.get("told") || document.querySelector("li.finding.here")) return;
    light();
    const measured = document.getElementById("readout")?.dataset.rev === document.getElementById("tools")?.dataset.seq;
    if (measured && !document.querySelector("li.finding.here")) Chosen.set("told", ""); // it is mended
  });
  const repairAt = (event) => event.target.closest?.("[data-repair]");
  for (const name of ["pointerover", "focusin"]) document.addEventListener(name, (event) => {
    const button = repairAt(event);
    if (button) htmx.ajax("GET", `/designs/${drawing.dataset.design}/preview?${button.dataset.repair}&pixel=${perPixel}`, {source: drawing, swap: "none"});
  });
  for (const name of ["pointerout", "focusout"]) document.addEventListener(name, (event) => repairAt(event) && unpreview());
  document.addEventListener("htmx:after:swap", () => repairAt({target: document.activeElement}) || document.querySelector("[data-repair]:hover") || unpreview());

  // A row of the list lights the piece it is about.
  for (const [name, on] of [["pointerover", true], ["focusin", true], ["pointerout", false], ["focusout", false]]) document.addEventListener(name, (event) => {
    const row = event.target.closest?.("[data-lights]");
    if (row) document.getElementById(row.dataset.lights)?.classList.toggle("lit", on);
  });

  // Ticked pieces show on the drawing, and stay ticked where the list is shown again.
  function ticked() {
    for (const row of document.getElementById("piece-form")?.querySelectorAll("[data-lights]") ?? []) {
      document.getElementById(row.dataset.lights)?.classList.toggle("picked", Boolean(row.parentElement.querySelector(":checked")));
    }
  }
  document.addEventListener("change", (event) => {
    if (!event.target.matches("#piece-form [type=checkbox]")) return;
    Chosen.set("picked", [...document.querySelectorAll("#piece-form input:checked")].map((box) => box.id.slice("pick-".length)).join(","));
    ticked();
  });
  document.addEventListener("htmx:after:swap", ticked);

  canvas.addEventListener("wheel", (event) => {
    event.preventDefault();
    const {left, top} = corner();
    zoomAt(Math.exp(-event.deltaY * 0.0015), event.clientX - left, event.clientY - top);
  }, {passive: false});
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-zoom], .views button, #walk, [data-walk], [data-show], [data-dismiss]");
    if (!button) return;
    if (button.dataset.dismiss === "plan") return document.getElementById("plan").replaceChildren();
    if (button.dataset.dismiss) return tell(-1);
    if (button.dataset.walk) return walk(button.dataset.walk);
    if (button.dataset.show) { own = true; return fit(button.dataset.show.split(" ").map(Number), 0.5); }
    if (button.id === "walk") return walk();
    if ("nodes" in button.dataset) return switchNodes();
    if (button.dataset.view) return choose(button.dataset.view);
    if (button.dataset.zoom) ({in: () => zoom(1.25), out: () => zoom(0.8), all})[button.dataset.zoom]();
  });
  // New lozenges are lifted in the frame that shows them; those of before wait until what came is painted.
  let gathering = 0, later = 0;
  document.addEventListener("htmx:after:swap", () => {
    refit();
    cancelAnimationFrame(gathering);
    clearTimeout(later);
    gathering = requestAnimationFrame(() => { if (marks()[0]?.dataset.more) later = setTimeout(gather); else gather(); });
  });
  document.addEventListener("pointerdown", () => { size = corner(); }, true);
  new ResizeObserver(() => { size = corner(); show(); }).observe(canvas);
  fit(box());
  ticked();
  return {tell, shown, zoom, zoomAt, all, closely, pan, choose, point, walk, nodes, switchNodes, shows: () => drawing.dataset.view, length, perPixel: () => perPixel, room: (at) => size.width - (at - x) / perPixel};
})();

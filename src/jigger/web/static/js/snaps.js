// Snapping lines: while a part is dragged, its edges and middle are pulled onto lines that the server names.
const Snaps = (() => {
  const REACH = 6, LETTER = 7; // pixels: how near, and how wide a letter of its words is at most
  const layer = () => document.getElementById("snaps");
  const art = () => document.getElementById("art");

  function clear() {
    layer().replaceChildren();
  }

  function nearest(lines, places, reach) {
    let best = null;
    for (const [, , at, words, edge = -1] of lines)
      for (const place of edge < 0 ? places : [places[edge]])
        if (Math.abs(at - place) < Math.abs(best?.by ?? reach)) best = {by: at - place, at, words};
    return best;
  }

  // The shift of parts in screen mm, pulled onto a line across and one up where one is near; the lines are drawn. What moves
  // `straight` is not pulled off its line.
  function pull(ids, shift, straight) {
    const parts = ids.map((id) => document.querySelector(`.part[data-part="${CSS.escape(id)}"]`)).filter(Boolean);
    const boxes = parts.map((part) => ["x", "y", "width", "height"].map((name) => Number(part.querySelector(".take").getAttribute(name))));
    const least = (i) => Math.min(...boxes.map((box) => box[i])), most = (i) => Math.max(...boxes.map((box) => box[i] + box[i + 2]));
    const left = least(0) + shift.x, top = least(1) + shift.y, wide = most(0) - least(0), high = most(1) - least(1);
    const along = parts.flatMap((part) => part.dataset.along.split(" "));
    const lines = JSON.parse(art().dataset.snaps).filter(([owners]) => !owners.split(" ").some((one) => along.includes(one)));
    const beside = (low, high) => ([, , , , , from, to]) => from === undefined || (low < to && high > from);
    const reach = REACH * View.perPixel();
    const across = straight !== "x" && nearest(lines.filter((line) => line[1] === "x").filter(beside(top, top + high)), [left, left + wide / 2, left + wide], reach);
    const up = straight !== "y" && nearest(lines.filter((line) => line[1] === "y").filter(beside(left, left + wide)), [top, top + high / 2, top + high], reach);
    clear();
    if (across) show(`M${across.at} ${top - 1e4}v2e4`, across.at, top, across.words);
    if (up) show(`M${left - 1e4} ${up.at}h2e4`, left + wide, up.at, up.words);
    return {x: shift.x + (across ? across.by : 0), y: shift.y + (up ? up.by : 0)};
  }

  // Inside the dragged part's own group the line would move with it, so it is drawn beside.
  function show(path, x, y, words) {
    const svg = "http://www.w3.org/2000/svg";
    const line = document.createElementNS(svg, "path"), place = document.createElementNS(svg, "g");
    const sized = document.createElementNS(svg, "g"), text = document.createElementNS(svg, "text");
    line.setAttribute("d", path);
    place.setAttribute("transform", `translate(${x} ${y})`);
    sized.setAttribute("class", "sized");
    text.setAttribute("x", 8);
    text.setAttribute("y", -8);
    text.textContent = words;
    sized.append(text);
    place.append(sized);
    layer().append(line, place);
    if (View.room(x) > 8 + LETTER * words.length) return;
    text.setAttribute("x", -8); // no room to the right: the words stand before the line
    text.setAttribute("class", "before");
  }

  return {pull, clear};
})();

// Parts: tapped they are chosen; dragged they are pulled onto lines of others and show their outline.
(() => {
  const chosen = () => Hands.recipe().step;
  const there = () => chosen() && document.querySelector(`.part[data-part="${CSS.escape(chosen())}"]`);

  // The outline of a part is fetched when it is dragged; until it is there its corners move.
  async function showGhost(part) {
    const answer = await fetch(`${Hands.url}/ghost?part=${encodeURIComponent(part.dataset.part)}&pixel=${View.perPixel()}`);
    if (answer.ok && part.matches(".held")) part.querySelector(":scope > .ghost").setAttribute("d", await answer.text());
  }

  Hands.add({
    at: ".part",
    pulled: true,
    taken: showGhost,
    tap: ({dataset: {part}}) => part === chosen() || Hands.choose(part),
    drop: ({dataset: {part}}, {shift}) => Hands.edit({do: "nudge", part, dx: shift.x, dy: -shift.y, step: part, letter: ""}),
    nudge: (dx, dy) => Boolean(there()) && (Hands.edit({do: "nudge", part: chosen(), dx, dy}), true),
    remove: () => Boolean(there()) && (Hands.edit({do: "remove part", part: chosen(), step: ""}), true),
  });
})();

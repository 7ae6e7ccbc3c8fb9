// Letters of the chosen part: tapped they are chosen, and once they are they can be dragged.
(() => {
  const chosen = () => Hands.recipe().letter;
  const move = (letter, dx, dy) => Hands.edit({do: "nudge letter", letter, dx, dy});
  Hands.add({
    at: ".letter",
    lifts: (what) => (what.matches(".chosen") ? what : what.closest(".part")),
    tap: (what) => what.dataset.letter === chosen() || Hands.choose(what.closest("[data-part]").dataset.part, "letter", {letter: what.dataset.letter}),
    drop: (what, {shift}) => move(what.dataset.letter, shift.x, -shift.y),
    nudge: (dx, dy) => Boolean(chosen()) && (move(chosen(), dx, dy), true),
    remove: () => Boolean(chosen()) && (Hands.edit({do: "remove letter", letter: chosen(), step: Hands.recipe().step, verb: "letter"}), true),
    letGo: () => Boolean(chosen()) && (Hands.choose(Hands.recipe().step), true),
  });
})();

// Bridges: dragged round their counter, and by their grips turned and widened. The one that is chosen stays so through edits.
(() => {
  let chosen = null;
  let removed = false; // after a bridge, another Delete must not take the part it was on
  const keyOf = ({layer, letter, counter, number}) => [layer, letter, counter, number].join(" ");

  function take(element) {
    chosen = element && {...element.dataset};
    for (const other of document.querySelectorAll(".bridge")) other.classList.toggle("chosen", other === element);
  }

  Hands.add({
    at: ".bridge-grip",
    drop: (what, {shift}) => Hands.edit({do: `${what.dataset.grip} bridge`, ...chosen, x: +what.dataset.x + shift.x, y: +what.dataset.y - shift.y}),
  });
  Hands.add({
    at: ".bridge",
    before(what) {
      removed = false;
      if (!what?.matches(".bridge-grip")) take(what?.matches(".bridge") ? what : null);
    },
    tap: (what) => Hands.choose(what.dataset.layer, "hold", {bridge: keyOf(what.dataset)}),
    drop: (what, {to}) => Hands.edit({do: "move bridge", ...what.dataset, x: to.x, y: to.y}),
    settled() {
      if (chosen) take([...document.querySelectorAll(".bridge")].find((one) => keyOf(one.dataset) === keyOf(chosen)));
    },
    remove() {
      if (!chosen) return removed && !Hands.recipe().letter;
      Hands.edit({do: "edit bridge", ...chosen});
      return removed = true;
    },
    letGo() {
      if (!chosen) return false;
      take(null);
      Hands.choose(Hands.recipe().step, "hold");
      return true;
    },
  });
  document.addEventListener("click", (event) => event.target.closest(".choose") && take(null), true); // a step is chosen instead
  document.addEventListener("focusin", (event) => event.target.matches?.(".bridge") && take(event.target));
})();

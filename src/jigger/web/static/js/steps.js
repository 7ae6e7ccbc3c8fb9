// Steps of the build sheet, dragged by their grips into another order.
(() => {
  let step = null;
  const targetOf = (event) => event.target.closest?.(".step, .card-layer");
  const clear = () => document.querySelectorAll(".drop, .drop-in").forEach((one) => one.classList.remove("drop", "drop-in"));
  // On the lower half of a step: into the group that it is, or into one with it; on the upper half: before it.
  const goesIn = (event, target) => {
    const box = target.getBoundingClientRect();
    return target.dataset.part && target !== step && event.clientY > box.top + box.height / 2;
  };
  document.addEventListener("dragstart", (event) => {
    step = event.target.closest?.(".grip")?.parentElement ?? null;
    if (step) event.dataTransfer.setData("text/plain", step.dataset.part);
  });
  document.addEventListener("dragover", (event) => {
    if (!step || !targetOf(event)) return;
    event.preventDefault();
    clear();
    targetOf(event).classList.add(goesIn(event, targetOf(event)) ? "drop-in" : "drop");
  });
  document.addEventListener("drop", (event) => {
    const target = step && targetOf(event);
    if (!target) return;
    event.preventDefault();
    const {home, index} = target.dataset; // before a step, or at the end of a layer
    if (goesIn(event, target)) return Hands.edit({do: "make group", part: step.dataset.part, into: target.dataset.part});
    Hands.edit({do: "move part", part: step.dataset.part, layer: home ?? target.dataset.layer, index: index ?? 1000});
  });
  document.addEventListener("dragend", () => {
    step = null;
    clear();
  });
})();

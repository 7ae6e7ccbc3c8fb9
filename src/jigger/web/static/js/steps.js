// Steps of the build sheet, dragged by their grips into another order.
(() => {
  let step = null;
  const targetOf = (event) => event.target.closest?.(".step, .card-layer");
  const clear = () => document.querySelectorAll(".drop").forEach((one) => one.classList.remove("drop"));
  document.addEventListener("dragstart", (event) => {
    step = event.target.closest?.(".grip")?.parentElement ?? null;
    if (step) event.dataTransfer.setData("text/plain", step.dataset.part);
  });
  document.addEventListener("dragover", (event) => {
    if (!step || !targetOf(event)) return;
    event.preventDefault();
    clear();
    targetOf(event).classList.add("drop");
  });
  document.addEventListener("drop", (event) => {
    const target = step && targetOf(event);
    if (!target) return;
    event.preventDefault();
    const {home, index} = target.dataset; // before a step, or at the end of a layer
    Hands.edit({do: "move part", part: step.dataset.part, layer: home ?? target.dataset.layer, index: index ?? 1000});
  });
  document.addEventListener("dragend", () => {
    step = null;
    clear();
  });
})();

// Copies on the sheet: tapped they are chosen; dragged they stay where they are put. And the waste, pulled piece by piece.
(() => {
  const parts = () => Hands.recipe().step.split(":");
  const chosen = () => Hands.recipe().step && document.getElementById(`copy-${parts().join("-")}`);
  const put = ({dataset}, dx, dy) => Hands.edit({do: "put by hand", item: dataset.item, copy: dataset.copy, sheet: Hands.recipe().sheet,
    x: `${Number(dataset.x) + dx} mm`, y: `${Number(dataset.y) + dy} mm`, turn: dataset.turn, step: `${dataset.item}:${dataset.copy}`});

  Hands.add({
    at: ".copy",
    tap: ({dataset: {item, copy}}) => Hands.choose(`${item}:${copy}`),
    drop: (what, {shift}) => put(what, shift.x, -shift.y),
    nudge: (dx, dy) => Boolean(chosen()) && (put(chosen(), dx, dy), true),
    remove: () => Boolean(document.getElementById("let-go")) && (document.getElementById("let-go").click(), true),
  });

  // A field of another material on the same mat: tapped its run is shown.
  Hands.add({at: ".mat-field:not(.on)", stays: true, drop: async () => {}, tap: ({dataset: {run}}) => location.assign(`?${new URLSearchParams({run})}`)});

  // Weeding: what was pulled fades; on the tape it goes the other way round.
  let pulled = 0;
  const wastes = () => [...document.querySelectorAll(".waste")];
  function showWeeding() {
    const all = wastes(), bar = document.getElementById("weeding");
    if (!bar) { pulled = 0; return; }
    const order = bar.querySelector("[data-taped]").checked ? all.toReversed() : all;
    pulled = Math.max(0, Math.min(pulled, order.length));
    order.forEach((one, i) => { one.classList.toggle("pulled", i < pulled); one.classList.toggle("next-one", i === pulled); });
    const next = order[pulled];
    bar.querySelector("[data-weed-words]").textContent = next
      ? `${pulled + 1} of ${order.length}: number ${next.dataset.number}${next.classList.contains("small") ? ", small, easily lost" : ""}` : "All pulled";
  }
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-weed], [data-taped]");
    if (!button) return;
    pulled = "taped" in button.dataset ? 0 : pulled + Number(button.dataset.weed);
    showWeeding();
  });
  document.addEventListener("htmx:after:swap", showWeeding);

  // Numbers that would lie on each other are shown when there is room for them.
  const ROOM = 15; // pixels
  const thin = () => wastes().forEach((one) => one.classList.toggle("tiny", one.dataset.size < ROOM * View.perPixel()));
  new MutationObserver(thin).observe(document.getElementById("canvas"), {attributes: true, attributeFilter: ["viewBox"]});
  document.addEventListener("htmx:after:swap", thin);
  thin();
})();

// What is seen of the build, for this window alone: layers seen or not, folded up, steps found by their words. And names typed in place.
(() => {
  const unseen = new Set(), folded = new Set();
  const layers = () => [...document.querySelectorAll(".card-layer")].map((card) => card.dataset.layer);
  const find = () => document.getElementById("find-step")?.value.trim().toLowerCase() ?? "";

  function show() {
    for (const layer of layers()) {
      document.getElementById(`layer-${layer}`)?.classList.toggle("unseen", unseen.has(layer));
      document.getElementById(`card-${layer}`)?.classList.toggle("folded", folded.has(layer));
      const eye = document.querySelector(`[data-see="${CSS.escape(layer)}"]`);
      eye?.setAttribute("aria-pressed", !unseen.has(layer));
      document.querySelector(`[data-fold="${CSS.escape(layer)}"]`)?.setAttribute("aria-expanded", !folded.has(layer));
    }
    const verdict = document.querySelector("#readout .verdict");
    document.querySelector(".first-path .look")?.classList.toggle("done", Boolean(verdict && !verdict.matches(".waiting, .stop, .warn")));
    const words = find();
    for (const step of document.getElementById("recipe")?.querySelectorAll(".cards .step") ?? []) step.classList.toggle("not-found", Boolean(words) && !step.textContent.toLowerCase().includes(words));
  }
  const toggle = (set, one) => (set.has(one) ? set.delete(one) : set.add(one));

  // With Alt only this one is seen; again, all are.
  function see(layer, only) {
    if (!only) return toggle(unseen, layer);
    const others = layers().filter((one) => one !== layer), alone = !unseen.has(layer) && others.every((one) => unseen.has(one));
    unseen.clear();
    if (!alone) others.forEach((one) => unseen.add(one));
  }

  // The field lies over the name, outside of what answers replace.
  function rename(title) {
    const target = title.closest("[data-part]")?.dataset.part ?? title.closest("[data-layer]").dataset.layer, before = title.textContent.trim();
    const {left, top, width} = title.closest(".choose").getBoundingClientRect();
    const field = document.createElement("input");
    Object.assign(field, {className: "form-control rename", value: before, autocomplete: "off"});
    Object.assign(field.style, {left: `${left - 6}px`, top: `${top}px`, width: `${width}px`});
    field.setAttribute("aria-label", "Name");
    document.body.append(field);
    field.select();
    let done = false;
    const end = (keep) => {
      if (done) return;
      done = true;
      const value = field.value.trim();
      field.remove();
      if (keep && value !== before) Hands.edit({do: "adjust", target, field: "name", as: "text", value});
    };
    field.addEventListener("keydown", (event) => {
      if (event.key === "Enter" || event.key === "Escape") { event.stopPropagation(); end(event.key === "Enter"); }
    });
    field.addEventListener("blur", () => end(true));
  }
  document.addEventListener("dblclick", (event) => {
    const title = event.target.closest?.(".step .choose, .layer-head .choose")?.querySelector(".title, b");
    if (title) rename(title);
  });
  document.addEventListener("keydown", (event) => {
    if (event.key !== "F2") return;
    const title = document.querySelector(".step.on .title, .layer-head.on b");
    if (title) { event.preventDefault(); rename(title); }
  });
  document.addEventListener("click", (event) => {
    const eye = event.target.closest?.("[data-see]"), fold = event.target.closest?.("[data-fold]");
    if (eye) see(eye.dataset.see, event.altKey);
    if (fold) toggle(folded, fold.dataset.fold);
    if (eye || fold) show();
  });
  // The first steps are put away for good.
  document.addEventListener("click", (event) => {
    if (!event.target.closest?.("[data-path-off]")) return;
    document.cookie = "path=off; max-age=31536000; path=/; samesite=strict";
    document.querySelector(".first-path").remove();
  });
  document.addEventListener("input", (event) => event.target.id === "find-step" && show());
  document.addEventListener("htmx:after:swap", show);
  show();
})();

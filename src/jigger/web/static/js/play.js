// Plays a tool's way: a pencil line that inks itself up to the time the slider stands at; travel is a dotted thread.
(() => {
  const ways = () => document.getElementById("ways");
  const panel = () => document.getElementById("player");
  const slider = () => panel().querySelector("[data-time]");
  const all = () => Number(ways().dataset.seconds);
  const SHOWN = 20; // seconds in which a whole path plays
  let playing = null;

  const clock = (seconds) => (seconds < 60 ? `${Math.round(seconds)} s` : `${Math.floor(seconds / 60)} min ${Math.floor(seconds % 60)} s`);
  const share = (now, from, to) => (now >= to ? 1 : now <= from ? 0 : (now - from) / (to - from));
  const along = (path, part) => (part > 0 && part < 1 ? path.getPointAtLength(path.getTotalLength() * part) : null);

  function show(now) {
    let at = null, doing = now >= all() ? "all of it" : "travelling";
    for (const one of ways().querySelectorAll("[data-off]")) {
      const [off, down, up] = ["off", "down", "up"].map((name) => Number(one.dataset[name]));
      const [travel, pencil, ink] = one.children;
      const cut = share(now, down, up);
      travel.classList.toggle("gone", now >= off);
      ink.style.strokeDasharray = cut < 1 ? `${cut} 2` : "";
      ink.style.visibility = cut > 0 ? "visible" : "hidden";
      at ??= along(pencil, cut) ?? along(travel, share(now, off, down));
      if (cut > 0 && cut < 1) doing = "cutting";
    }
    const tip = document.getElementById("tip");
    tip.toggleAttribute("hidden", !at);
    if (at) tip.setAttribute("transform", `translate(${at.x} ${at.y})`);
    ways().classList.toggle("running", now < all());
    panel().querySelector("[data-clock]").textContent = clock(now);
    panel().querySelector("[data-doing]").textContent = doing;
    slider().value = all() ? (1000 * now) / all() : 1000;
  }

  function hold() {
    cancelAnimationFrame(playing);
    playing = null;
    const button = panel()?.querySelector("[data-play]");
    if (button) button.textContent = "Play";
  }

  function play() {
    const rate = Math.max(1, all() / SHOWN), from = slider().value >= 1000 ? 0 : (slider().value / 1000) * all();
    const began = performance.now();
    const step = (time) => {
      if (!ways() || !panel()) return hold();
      const now = Math.min(all(), from + (rate * (time - began)) / 1000);
      show(now);
      if (now >= all()) hold();
      else playing = requestAnimationFrame(step);
    };
    panel().querySelector("[data-play]").textContent = "Hold";
    playing = requestAnimationFrame(step);
  }

  document.addEventListener("click", (event) => event.target.closest("[data-play]") && (playing ? hold() : play()));
  document.addEventListener("input", (event) => {
    if (!event.target.matches("[data-time]")) return;
    hold();
    show((event.target.value / 1000) * all());
  });
})();

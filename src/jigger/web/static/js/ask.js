// What do you want to do? Type some of its words and run it: everything the page offers now, by what it is called.
(() => {
  const panel = document.getElementById("ask"), field = panel.querySelector("input"), list = panel.querySelector("ol");
  const MOST = 9;
  let found = [], at = 0, before = null;

  const words = (one) => (one.textContent.trim() || one.getAttribute("aria-label") || one.title).replace(/\s+/g, " ").trim();
  // What stands around a button says what it is about: its part, or the list it unfolds from.
  const about = (one) => {
    const settings = one.closest(".settings, .chosen-many"), step = settings && document.querySelector(".step.on .title, .layer-head.on b");
    const group = one.closest("details")?.querySelector("summary")?.textContent.trim();
    return [step?.textContent.trim(), group, one.closest(".layer-head")?.querySelector("b")?.textContent.trim()].filter(Boolean)[0] ?? "";
  };

  function all() {
    const offered = [...document.querySelectorAll("button, a[href], label.act, summary.add")]
      .filter((one) => !one.disabled && !panel.contains(one) && !one.closest("dialog, .finding:not(.here)") && words(one))
      .map((one) => ({words: words(one), about: about(one), more: one.title, run: () => one.click()}));
    const keys = [...document.querySelectorAll("#keys dt")].map((one) => ({words: one.nextElementSibling.textContent.trim(), about: one.textContent.trim(), more: "", run: null}));
    return [...offered, ...keys].filter((one, i, every) => every.findIndex((other) => other.words === one.words && other.about === one.about) === i);
  }

  function show() {
    const asked = field.value.toLowerCase().split(/\s+/).filter(Boolean);
    const fits = (one) => asked.every((word) => `${one.words} ${one.about} ${one.more}`.toLowerCase().includes(word));
    const first = (one) => (one.words.toLowerCase().startsWith(asked[0] ?? "") ? 0 : 1) + (one.run ? 0 : 2);
    found = all().filter(fits).sort((a, b) => first(a) - first(b)).slice(0, MOST);
    at = Math.min(at, Math.max(0, found.length - 1));
    list.replaceChildren(...found.map((one, i) => {
      const row = document.createElement("li"), name = document.createElement("span"), of = document.createElement("small");
      row.id = `ask-${i}`;
      row.setAttribute("role", "option");
      row.setAttribute("aria-selected", i === at);
      row.className = one.run ? "" : "by-key";
      name.textContent = one.words;
      of.textContent = one.about;
      row.append(name, of);
      row.addEventListener("pointerdown", (event) => { event.preventDefault(); at = i; run(); });
      return row;
    }));
    field.setAttribute("aria-activedescendant", found.length ? `ask-${at}` : "");
    panel.querySelector("p").hidden = found.length > 0;
  }

  function open() {
    before = document.activeElement;
    panel.hidden = false;
    field.value = "";
    at = 0;
    show();
    field.focus();
  }
  function close() {
    panel.hidden = true;
    before?.focus?.();
  }
  function run() {
    const one = found[at];
    if (!one?.run) return;
    close();
    one.run();
  }
  field.addEventListener("input", () => { at = 0; show(); });
  field.addEventListener("blur", () => { panel.hidden = true; });
  field.addEventListener("keydown", (event) => {
    const does = {ArrowDown: () => at + 1, ArrowUp: () => at - 1}[event.key];
    if (does) { event.preventDefault(); at = (does() + found.length) % Math.max(1, found.length); show(); }
    if (event.key === "Enter") { event.preventDefault(); run(); }
    if (event.key === "Escape") { event.stopPropagation(); close(); }
  });
  document.addEventListener("click", (event) => event.target.closest?.("[data-ask]") && open());
  document.addEventListener("keydown", (event) => {
    const typing = event.target.matches?.("input, textarea, select");
    if ((event.key === "/" && !typing) || (event.key.toLowerCase() === "k" && (event.ctrlKey || event.metaKey))) { event.preventDefault(); open(); }
  });
})();

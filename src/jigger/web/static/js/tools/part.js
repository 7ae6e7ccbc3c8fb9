// Parts: tapped they are chosen, with Shift or Ctrl beside those that are; tapped again, what lies under them is. Dragged, all that
// are chosen move, pulled onto lines of others, with Shift straight; and they show their outline.
(() => {
  const many = () => (Hands.recipe().many ?? "").split(",").filter(Boolean);
  let wanted = null; // what was chosen last, until the page shows it: the next click may come first
  const chosen = () => wanted ?? (many().length ? many() : [Hands.recipe().step].filter(there));
  const there = (part) => Boolean(part && document.querySelector(`.part[data-part="${CSS.escape(part)}"]`));
  const shown = (part) => document.querySelector(`.part[data-part="${CSS.escape(part)}"]`);
  const choose = (parts, more = {}) => {
    wanted = parts;
    const asked = Hands.choose(parts.length === 1 ? parts[0] : "", "", {many: parts.length > 1 ? parts.join(",") : "", ...more});
    return asked.finally(() => { if (wanted === parts) wanted = null; });
  };
  const toggle = (part) => choose(chosen().includes(part) ? chosen().filter((one) => one !== part) : [...chosen(), part]);
  const held = (what) => (chosen().includes(what.dataset.part) ? chosen() : [what.dataset.part]);

  // The outlines of parts are fetched when they are dragged; until they are there their corners move.
  async function showGhost(what) {
    const answer = await fetch(`${Hands.url}/ghost?part=${encodeURIComponent(held(what).join(","))}&pixel=${View.perPixel()}`);
    if (answer.ok && what.matches(".held")) what.querySelector(":scope > .ghost").setAttribute("d", await answer.text());
  }

  // What lies at a point, the uppermost first, and what comes after what is chosen; it is said which of how many that is.
  function under(event) {
    const found = document.elementsFromPoint(event.clientX, event.clientY).map((one) => one.closest(".part")?.dataset.part).filter(Boolean);
    const all = [...new Set(found)], at = all.indexOf(Hands.recipe().step), next = all[(at + 1) % all.length];
    if (all.length > 1) Hands.say(`${shown(next).querySelector("title").textContent}, ${((at + 1) % all.length) + 1} of ${all.length} here`, event);
    return next;
  }

  // What is dragged without being chosen is chosen then.
  const taken = (parts) => (parts.every((one) => chosen().includes(one)) ? {} : {step: parts[0], letter: "", many: ""});
  const move = (parts, dx, dy, far = "") => Hands.edit({...taken(parts), do: "nudge parts", many: parts.join(","), dx, dy, far});
  const others = (what) => held(what).map(shown).filter((one) => one && one !== what);

  const still = (what) => others(what).forEach((one) => { one.removeAttribute("transform"); one.classList.remove("along"); });

  Hands.add({
    at: ".part",
    pulled: true,
    along: held,
    taken: showGhost,
    moving(what, {shift, event}) {
      others(what).forEach((one) => { one.setAttribute("transform", `translate(${shift.x} ${shift.y})`); one.classList.add("along"); });
      Hands.say(View.length(Math.hypot(shift.x, shift.y)), event);
    },
    tap(what, event) {
      const part = what.dataset.part;
      if (event.shiftKey || event.ctrlKey || event.metaKey) return toggle(part);
      if (many().length) return choose([part]);
      const next = under(event) ?? part;
      return next === Hands.recipe().step || Hands.choose(next);
    },
    drop: (what, {shift}) => move(held(what), shift.x, -shift.y).finally(() => still(what)),
    typed: (what, far, {shift}) => move(held(what), shift.x, -shift.y, far).finally(() => still(what)),
    dropped: still,
    nudge: (dx, dy) => Boolean(chosen().length) && (move(chosen(), dx, dy), true),
    remove: () => Boolean(chosen().length) && (Hands.edit({do: "remove parts", many: chosen().join(","), step: ""}), true),
  });

  // A box drawn round parts chooses them, with Shift beside those that are chosen.
  Hands.box = ({left, bottom, right, top}, event) => Hands.choose(event.shiftKey ? Hands.recipe().step : "", "", {
    box: [left, bottom, right, top].join(" "), ...(event.shiftKey ? {many: chosen().join(","), more: "1"} : {})});
  Hands.all = () => Hands.choose("", "", {all: "1"});
  Hands.chosen = chosen;

  // In the build sheet a click chooses a step, or lets it go; Ctrl takes one more, Shift all from the first chosen one to it.
  document.addEventListener("click", (event) => {
    if (event.target.closest?.("[data-let-go]")) return choose([]);
    const row = event.target.closest?.(".step[data-part]");
    if (!row || !event.target.closest(".choose")) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (event.ctrlKey || event.metaKey) return toggle(row.dataset.part);
    if (!event.shiftKey) return choose(many().length || chosen()[0] !== row.dataset.part ? [row.dataset.part] : []);
    const rows = [...document.querySelectorAll(".step[data-part]")].map((one) => one.dataset.part);
    const [from, to] = [rows.indexOf(chosen()[0] ?? row.dataset.part), rows.indexOf(row.dataset.part)];
    const run = rows.slice(Math.min(from, to), Math.max(from, to) + 1);
    choose([chosen()[0] ?? row.dataset.part, ...run.filter((one) => one !== chosen()[0])]);
  }, true);
})();

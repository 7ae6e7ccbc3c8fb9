// The keys of the bench. Which does what is said by the page, which lists them under `?`.
(() => {
  // What is to be typed next has the focus: the reason for cutting all the same.
  document.addEventListener("toggle", (event) => {
    if (event.target.matches("details.accept[open]")) event.target.querySelector("input").focus();
  }, true);

  const keys = document.getElementById("keys");
  const arrows = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1]};
  const on = JSON.parse(keys.dataset.on);
  const does = {
    "proof": () => View.choose("proof"), "blade": () => View.choose("blade"), "fall-out": () => View.choose("fallout"),
    "larger": () => View.zoom(1.25), "smaller": () => View.zoom(0.8), "all": () => View.all(),
    "next": () => View.walk(), "nodes": () => View.switchNodes(), "pen": () => Hands.pen(), "measure": () => Hands.measure?.(), "closely": () => View.closely(), "finish": () => Hands.finish(), "help": () => keys.showModal(), "remove": () => Hands.remove(),
    "let go": () => { View.tell(-1); Hands.letGo(); },
  };
  const withCtrl = {a: "all", c: "copy", x: "cut", v: "paste", d: "duplicate", g: "group"};
  const typing = (target) => target.matches?.("input, textarea, select");
  const click = (id) => document.getElementById(id).click();

  document.addEventListener("keydown", (event) => {
    if (keys.open) return;
    if (event.ctrlKey || event.metaKey) {
      const key = event.key.toLowerCase(), step = {z: event.shiftKey ? "redo" : "undo", y: "redo"}[key];
      if (step) { event.preventDefault(); return click(step); }
      const hand = !typing(event.target) && !String(getSelection()) && withCtrl[key];
      if (hand && Hands[hand]) { event.preventDefault(); Hands[hand](event.shiftKey); }
      return;
    }
    if (typing(event.target)) return event.key === "Escape" && event.target.blur();
    if (event.key === " ") { event.preventDefault(); return Hands.space(true); }
    const arrow = arrows[event.key];
    if (arrow) {
      event.preventDefault();
      if (event.repeat && Hands.busy()) return; // a held key waits for what it did; one that is pressed anew is never lost
      const far = event.shiftKey ? 1 : 0.1;
      return Hands.nudge(arrow[0] * far, arrow[1] * far) || View.pan(-60 * arrow[0], 60 * arrow[1]);
    }
    const action = does[on[event.key.length === 1 ? event.key.toLowerCase() : event.key]];
    if (action) { event.preventDefault(); action(); }
  });
  // What was chosen from a list is chosen; the keys are the drawing's again.
  document.addEventListener("change", (event) => event.target.matches("select") && event.target.blur());
  document.addEventListener("keyup", (event) => event.key === " " && Hands.space(false));
  document.addEventListener("click", (event) => event.target.closest("#help") && keys.showModal());
})();

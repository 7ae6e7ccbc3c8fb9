// Nodes of the chosen path: tapped they are chosen, with Shift more of them; they, their handles and the line between are dragged,
// and the shape that it would become is shown meanwhile.
(() => {
  const of = () => document.getElementById("path-nodes").dataset.part; // the part, or the letter drawn by hand
  const chosen = () => (Hands.recipe().nodes ?? "").split(",").filter(Boolean);
  const choose = (nodes) => {
    const {step, verb, letter} = Hands.recipe();
    return Hands.choose(step, letter ? verb : "nodes", {letter: letter ?? "", nodes: nodes.join(",")});
  };
  const held = (what) => (chosen().includes(what.dataset.node) ? chosen() : [what.dataset.node]);
  const at = ({x, y}) => ({x, y});

  const LEVEL = 5; // pixels within which nodes and handles are pulled level or upright; with Alt they are not
  const reach = (event) => (event?.altKey ? 0 : LEVEL * View.perPixel());
  const move = (nodes, shift, event) => ({do: "move nodes", part: of(), nodes: nodes.join(","), dx: shift.x, dy: -shift.y, reach: event ? reach(event) : 0});
  const turn = ({dataset: {node, side}}, {to, event}) => ({do: "move handle", part: of(), node, side, ...at(to), reach: reach(event)});
  const pull = (what, {from, to}) => ({do: "pull stretch", part: of(), stretch: what.dataset.stretch, from_x: from.x, from_y: from.y, ...at(to)});

  const ghost = () => (document.querySelector("#path-nodes .held") ? document.querySelector("#path-nodes .trial") : null);
  const trial = (values) => Trial.show(values, ghost);
  const still = () => document.querySelector("#path-nodes .trial")?.removeAttribute("d");
  const done = (values) => { Trial.stop(); return Hands.edit(values).finally(still); };
  const dropped = () => { Trial.stop(); still(); };

  Hands.add({
    at: ".node",
    tap: (what, event) => choose(event.shiftKey
      ? (chosen().includes(what.dataset.node) ? chosen().filter((one) => one !== what.dataset.node) : [...chosen(), what.dataset.node]) : [what.dataset.node]),
    dropped,
    moving: (what, {shift, event}) => trial(move(held(what), shift, event)),
    drop: (what, {shift, event}) => done({...move(held(what), shift, event), nodes: held(what).join(","), ...(Hands.recipe().letter ? {} : {verb: "nodes"})}),
    nudge: (dx, dy) => Boolean(chosen().length) && (Hands.edit(move(chosen(), {x: dx, y: -dy})), true),
    remove: () => Boolean(chosen().length) && (Hands.edit({do: "remove nodes", part: of(), nodes: chosen().join(",")}), true),
    letGo: () => Boolean(chosen().length) && (choose([]), true),
  });
  Hands.add({at: ".handle", dropped, moving: (what, where) => trial(turn(what, where)), drop: (what, where) => done(turn(what, where))});
  Hands.add({
    at: ".extreme",
    tap: ({dataset: {stretch, share}}) => Hands.edit({do: "add node", part: of(), stretch, share, nodes: ""}),
    drop: () => Promise.resolve(),
  });
  let tapped = 0;
  Hands.add({
    at: ".stretch",
    tap(what, event) {
      const twice = event.timeStamp - tapped < 350;
      tapped = event.timeStamp;
      if (twice) return Hands.edit({do: "add node here", part: of(), ...at(View.point(event)), nodes: ""});
      const first = Number(what.dataset.stretch), next = document.getElementById(`node-${first + 1}`);
      return choose(next ? [first, first + 1] : [first]);
    },
    stays: true,
    dropped,
    moving: (what, where) => trial(pull(what, where)),
    drop: (what, where) => done(pull(what, where)),
  });
})();

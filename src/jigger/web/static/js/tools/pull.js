// Pulls: one figure of what is chosen, or of the surface, drawn out by hand; the figure stands beside the pointer and can be typed.
(() => {
  const ghost = () => (document.querySelector(".pull.held") ? document.querySelector(".pull-ghost") : null);
  const still = () => document.querySelector(".pull-ghost")?.removeAttribute("d");
  const list = (text) => text.split(" ").map(Number);
  const asked = ({dataset: {pull, part}}, {from, to}) => ({do: "pull", pull, part, right: to.x - from.x, up: to.y - from.y});

  function figures({dataset}, {from, to}) {
    const ways = list(dataset.ways), now = list(dataset.figures);
    const said = now.map((one, i) => one + (to.x - from.x) * ways[2 * i] + (to.y - from.y) * ways[2 * i + 1]);
    return `${dataset.words} ${said.map((one) => Math.round(one * dataset.times * 100) / 100).join(" · ")} ${dataset.unit}`;
  }
  const done = (values) => { Trial.stop(); return Hands.edit(values).finally(still); };
  Hands.add({
    at: ".pull",
    moving(what, where) {
      if (what.dataset.part) Trial.show(asked(what, where), ghost);
      Hands.say(figures(what, where), where.event);
    },
    dropped: () => { Trial.stop(); still(); },
    drop: (what, where) => done(asked(what, where)),
    typed: (what, typed, where) => done({...asked(what, where), typed, as: what.dataset.as}),
  });
})();

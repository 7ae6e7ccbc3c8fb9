// Grips of a course: the nodes of a curve, the radius of a circle.
Hands.add({
  at: ".grip-end",
  drop: (what, {to}) => Hands.edit({do: "move grip", ...what.dataset, x: to.x, y: to.y}),
});

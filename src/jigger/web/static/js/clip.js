// Parts taken along and put in: here, or in another design of this browser. They are kept where every tab finds them.
(() => {
  const KEPT = "jigger parts";
  const home = () => document.querySelector(".add-row")?.dataset.home;
  let pointer = null; // where the pointer is on the drawing
  const canvas = document.getElementById("canvas");
  canvas.addEventListener("pointermove", (event) => { pointer = event; });
  canvas.addEventListener("pointerleave", () => { pointer = null; });

  async function copy() {
    if (!Hands.chosen().length) return false;
    const answer = await fetch(`${Hands.url}/taken-along?many=${encodeURIComponent(Hands.chosen().join(","))}`, {headers: {"HX-Request": "true"}});
    const text = await answer.text();
    if (answer.ok) localStorage.setItem(KEPT, text);
    Hands.say(answer.ok ? `${Hands.chosen().length > 1 ? `${Hands.chosen().length} parts` : "Copied"}${Hands.chosen().length > 1 ? " copied" : ""}; paste with Ctrl V` : new DOMParser().parseFromString(text, "text/html").body.textContent.trim());
    return answer.ok;
  }

  function paste(where) {
    const clip = localStorage.getItem(KEPT);
    if (!clip) return Hands.say("Nothing was copied yet: choose parts and press Ctrl C");
    const at = !where && pointer ? View.point(pointer) : {};
    return Hands.edit({do: "paste parts", layer: home(), clip, ...at});
  }

  Object.assign(Hands, {copy, paste, group: (apart) => Hands.chosen().length && Hands.edit({do: apart ? "let groups go" : "group parts", many: Hands.chosen().join(",")}), cut: async () => (await copy()) && Hands.remove(), duplicate: () => Hands.chosen().length && Hands.edit({do: "duplicate", many: Hands.chosen().join(",")})});
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-clip]");
    if (button) Hands[button.dataset.clip]();
  });
})();

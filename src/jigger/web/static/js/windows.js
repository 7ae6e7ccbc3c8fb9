// What another window did to the design is shown here too, and said, as soon as this window is looked at.
(() => {
  const EVERY = 4000; // ms
  async function look() {
    if (document.hidden || Hands.busy()) return;
    const shown = document.getElementById("tools").dataset.seq;
    const answer = await fetch(`${Hands.url}/last`).catch(() => null);
    if (!answer?.ok) return;
    const {seq, label, who, window: whose} = await answer.json();
    const now = document.getElementById("tools").dataset.seq;
    if (now !== shown || Number(shown) >= seq || Hands.busy() || whose === sessionStorage.window || document.activeElement.matches("#recipe input")) return;
    await htmx.ajax("GET", `${Hands.url}/fresh`, {source: Hands.drawing, values: {...Hands.recipe(), pixel: View.perPixel()}, swap: "none"});
    Hands.say(`Done ${who ? `by ${who}` : "in another window"}: ${label}`);
  }
  setInterval(look, EVERY);
  document.addEventListener("visibilitychange", look);
  window.addEventListener("focus", look);
})();

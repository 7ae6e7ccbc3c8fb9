// What an edit that is still in the hand would make of a part: one question at a time, the last place always asked for.
const Trial = (() => {
  const ASK = 16; // ms between questions
  let asked = null, waiting = null;

  // `ghost()` is the path that shows it; none once it is let go.
  function show(values, ghost) {
    waiting = values;
    asked ??= setTimeout(async () => {
      while (waiting) {
        const body = new URLSearchParams({...waiting, pixel: View.perPixel()});
        waiting = null;
        const answer = await fetch(`${Hands.url}/trial`, {method: "POST", body});
        if (answer.ok) ghost()?.setAttribute("d", await answer.text());
      }
      asked = null;
    }, ASK);
  }
  return {show, stop: () => { waiting = null; }};
})();

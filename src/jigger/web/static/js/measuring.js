// Figures of a state before the one that is shown say so, unless the newer ones come at once.
(() => {
  const CALM = 350; // ms
  let waiting = null;
  const readout = () => document.getElementById("readout");
  const behind = () => readout().dataset.rev !== document.getElementById("tools").dataset.seq;

  function tell() {
    clearTimeout(waiting);
    waiting = null;
    const busy = String(behind());
    if (readout().ariaBusy !== busy) readout().ariaBusy = busy;
  }
  document.addEventListener("htmx:after:swap", () => {
    if (!behind()) tell();
    else waiting ??= setTimeout(tell, CALM);
  });
})();

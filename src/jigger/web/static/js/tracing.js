// While a picture is traced: how far it is, and a way to stop it.
(() => {
  const form = document.querySelector(".picture-sheet"), at = document.getElementById("tracing"), bar = at.querySelector("progress");
  const token = form.elements.token.value, AGAIN = 250; // ms
  let asking = 0;

  async function ask() {
    const answer = await fetch(`/pictures/working/${token}`);
    const share = answer.ok ? await answer.text() : "";
    if (asking && share) bar.value = Number(share);
  }
  function stop() {
    clearInterval(asking);
    asking = 0;
    at.hidden = true;
  }
  document.addEventListener("htmx:before:request", (event) => {
    if (event.detail.ctx.sourceElement !== form || event.detail.ctx.request.method !== "GET") return;
    stop();
    bar.value = 0;
    at.hidden = false;
    asking = setInterval(ask, AGAIN);
  });
  document.addEventListener("htmx:finally:request", (event) => { if (event.detail.ctx.sourceElement === form) stop(); });
  at.querySelector("button").addEventListener("click", () => fetch(`/pictures/working/${token}/stop`, {method: "POST"}));
})();

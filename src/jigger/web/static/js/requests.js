// What every request carries, and what a field shows when its edit was refused.
(() => {
  // For this one rule of the library the browser styles the whole page anew whenever anything is put into it.
  const general = (rule) => rule.selectorText === "legend + *";
  for (const sheet of document.styleSheets) {
    const at = [...sheet.cssRules].findIndex(general);
    if (at >= 0) sheet.deleteRule(at);
  }

  // Each window says that an edit is its own.
  function mine() {
    if (!sessionStorage.window) sessionStorage.window = Math.random().toString(36).slice(2, 12);
    return sessionStorage.window;
  }
  const seq = () => document.getElementById("tools")?.dataset.seq;

  // Set when a request is really sent, not when it was queued: the state and the step it belongs to.
  document.addEventListener("htmx:before:request", (event) => {
    const { ctx } = event.detail, { request } = ctx;
    if (request.method === "POST") document.querySelectorAll("#recipe [hx-morph-skip]").forEach((field) => field.removeAttribute("hx-morph-skip"));
    request.headers["X-Window"] = mine();
    // An answer is thrown away where its target is gone, and what asks is its own where none is named: a button that another answer
    // took away while its edit was kept.
    if (ctx.swap === "none" && !ctx.sourceElement.hasAttribute("hx-target")) ctx.target = document.body;
    const recipe = document.getElementById("recipe");
    if (!recipe || !seq() || typeof View === "undefined") return; // the page may ask before its view is there
    const own = {...recipe.dataset, pixel: View.perPixel()};
    if (request.body instanceof URLSearchParams) {
      request.body.set("seen", seq());
      for (const [name, value] of Object.entries(own)) if (!request.body.has(name)) request.body.set(name, value);
    } else if (request.action.includes("/recipe")) request.action += `&pixel=${own.pixel}&seen=${seq()}`;
    else if (request.action.includes("/readout")) request.action += `&view=${View.shows()}${View.nodes() ? "&nodes=1" : ""}`;
  });

  document.addEventListener("htmx:after:request", (event) => {
    const { ctx } = event.detail;
    const field = ctx.sourceElement;
    if (field?.matches?.("input, select, textarea")) {
      field.classList.toggle("is-invalid", ctx.response.status >= 400);
      // Someone else was quicker: what they did is shown, and what was typed stays.
      if (ctx.response.status < 400 && field.matches(".words")) field.setAttribute("value", ctx.request.body.get("text")); // no answer puts it in anew
      field.toggleAttribute("hx-morph-skip", ctx.response.status === 409 && field.matches("input[value]:not([type=checkbox], [type=radio])"));
    }
    // What is not swapped in is said all the same, and "Kept" does not speak of what is not.
    if (ctx.response.status >= 500 || ctx.response.status === 413) {
      say(ctx.text && ctx.text.length < 400 && !ctx.text.includes("<") ? ctx.text : "This could not be done. What was kept before is still there.");
      if (ctx.request.method === "POST") document.querySelector("#tools .kept")?.replaceChildren("The last edit is not kept");
    }
  });

  const say = (words) => Object.assign(document.getElementById("notice"), {className: "notice shown", textContent: words});

  // The page's address holds what is chosen. A field that was left shows the state, whatever was typed into it before; a refused one
  // keeps what was typed.
  document.addEventListener("htmx:after:swap", () => {
    // Set anew the address lays the page out, which takes longer than all else that is done for a key.
    const chosen = document.getElementById("chosen");
    const address = chosen && new URL(chosen.value || location.pathname, location.href).href;
    if (chosen && address !== location.href) history.replaceState(null, "", address);
    for (const field of document.getElementById("recipe")?.querySelectorAll("input[value], select") ?? []) {
      if (field === document.activeElement || field.matches(".is-invalid, .words.htmx-request, [data-asks], [type=checkbox], [type=radio], [type=hidden], [type=search]")) continue;
      const state = field.matches("select") ? field.querySelector("option[selected]")?.value : field.getAttribute("value");
      if (state !== undefined && field.value !== state) field.value = state;
    }
  });

  // A settled field shows what was understood ("12+0.5" becomes 12.5); undo reaches a field that has the focus.
  document.addEventListener("htmx:finally:request", (event) => {
    const { ctx } = event.detail;
    if (!ctx.response || ctx.response.status >= 400) return;
    const source = ctx.sourceElement;
    const field = source?.matches?.("input[name=value], .sheet #recipe input[value]") ? source
      : source?.matches?.("#undo, #redo") ? document.activeElement : null;
    if (field?.matches?.("input") && field.hasAttribute("value")) field.value = field.getAttribute("value");
  });

  document.addEventListener("htmx:error", () => {
    say("Jigger does not answer. What you see is kept; the last edit may not be. Try it again.");
  });

  document.addEventListener("click", (event) => {
    if (event.target.closest("#notice")) document.getElementById("notice").className = "notice";
  });
})();

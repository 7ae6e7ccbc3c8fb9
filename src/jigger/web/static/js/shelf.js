// The shelf: starters show the words that are typed, and what is done to several designs stands there when some are ticked.
(() => {
  const WAIT = 350; // ms without a key
  const field = document.getElementById("plain-name");
  let waiting = null;
  field.addEventListener("input", () => {
    clearTimeout(waiting);
    waiting = setTimeout(() => {
      const words = field.value.trim(), asked = words ? `?words=${encodeURIComponent(words)}` : "";
      for (const one of document.querySelectorAll("[data-starter]")) {
        one.href = `/starters/${one.dataset.starter}${asked}`;
        one.querySelector("img").src = `/starters/${one.dataset.starter}.svg${asked}`;
      }
    }, WAIT);
  });

  function count() {
    const ticked = document.querySelectorAll(".tick-design input:checked").length;
    document.getElementById("designs").classList.toggle("some-ticked", ticked > 0);
    const words = document.querySelector("[data-ticked-count]");
    if (words) words.textContent = `${ticked} chosen`;
  }
  document.addEventListener("change", (event) => event.target.closest?.(".tick-design") && count());
  document.addEventListener("click", (event) => event.target.matches?.("[data-clear-find]") && document.getElementById("shelf-find").reset());
  document.addEventListener("htmx:after:swap", count);
  count();
})();

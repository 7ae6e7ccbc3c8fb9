// A file dropped on the page goes where a file chosen there would go.
(() => {
  const field = () => document.querySelector("form[data-drop] input[type=file]");
  const bears = (event) => field() && event.dataTransfer?.types.includes("Files");
  document.addEventListener("dragover", (event) => {
    if (!bears(event)) return;
    event.preventDefault();
    document.body.classList.add("dropping");
  });
  for (const name of ["dragleave", "drop"]) document.addEventListener(name, () => document.body.classList.remove("dropping"));
  document.addEventListener("drop", (event) => {
    if (!bears(event)) return;
    event.preventDefault();
    field().files = event.dataTransfer.files;
    field().dispatchEvent(new Event("change", {bubbles: true}));
  });
})();

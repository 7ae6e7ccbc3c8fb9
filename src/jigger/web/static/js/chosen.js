// What is chosen without asking the server: every request carries it from then on, and the page's address holds it.
const Chosen = (() => {
  const recipe = () => document.getElementById("recipe");
  const get = (name) => recipe()?.dataset[name] ?? "";
  function set(name, value) {
    const held = document.getElementById("chosen");
    if (!held || get(name) === value) return;
    recipe().dataset[name] = value;
    const asked = new URLSearchParams(held.value);
    if (value) asked.set(name, value); else asked.delete(name);
    held.value = asked.size ? `?${asked}` : "";
    history.replaceState(null, "", held.value || location.pathname);
  }
  return {get, set};
})();

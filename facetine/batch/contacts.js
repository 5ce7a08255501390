const name = document.getElementById("name"), state = document.getElementById("state"), told = document.getElementById("told");
function shown() {
  let count = 0;
  for (const one of document.querySelectorAll("article")) {
    const fits = one.dataset.name.includes(name.value.toLowerCase())
      && (!state.value || one.classList.contains(state.value) || (state.value === "notes" && one.querySelector(".notes")));
    one.hidden = !fits;
    count += fits ? 1 : 0;
  }
  told.textContent = count + (count === 1 ? " figure" : " figures");
}
name.addEventListener("input", shown);
state.addEventListener("change", shown);
document.querySelector("form").addEventListener("submit", event => event.preventDefault());
shown();

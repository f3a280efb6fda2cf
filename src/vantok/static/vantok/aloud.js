// What a button is to say, said by the browser's own voice where there is one.
if ("speechSynthesis" in window) {
  for (const button of document.querySelectorAll("[data-say]")) button.hidden = false;
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-say]");
    if (!button) return;
    speechSynthesis.cancel();
    speechSynthesis.speak(new SpeechSynthesisUtterance(button.dataset.say));
  });
}

// The card with gloves on: space or Enter is on the big button; the step is read aloud by the browser's own voice where there is one.
const begin = () => {
  const button = document.querySelector("[data-aloud]");
  const step = document.querySelector(".gloves .step");
  if (!button || !step || !("speechSynthesis" in window)) return;
  button.hidden = false;
  button.addEventListener("click", () => {
    const words = [...step.querySelectorAll(".step-words, .finding, .asks li, td, th")].map((one) => one.textContent.trim());
    speechSynthesis.cancel();
    speechSynthesis.speak(new SpeechSynthesisUtterance(words.join(". ")));
  });
};

begin();

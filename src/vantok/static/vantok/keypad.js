// Figures on a touch screen: the keyboard is the numeric one; what a tape's figure takes besides (a fraction, pressed to lifted, one of another,
// readings repeated) stands in a row under the field, and letters come back by a touch.
const MORE = [["/", "/"], ["space", " "], ["to", " to "], ["of", " of "], [";", "; "]];
if (matchMedia("(pointer: coarse)").matches) {
  const bar = document.createElement("div");
  bar.className = "keypad";
  bar.hidden = true;
  const button = (words, act) => {
    const one = document.createElement("button");
    one.type = "button";
    one.className = "btn btn-plain";
    one.textContent = words;
    one.addEventListener("pointerdown", (event) => { event.preventDefault(); act(document.activeElement); });
    bar.append(one);
  };
  for (const [words, text] of MORE) {
    button(words, (field) => {
      field.setRangeText(text, field.selectionStart, field.selectionEnd, "end");
      field.dispatchEvent(new Event("input", { bubbles: true }));
    });
  }
  button("abc", (field) => { field.inputMode = "text"; field.blur(); field.focus(); });
  document.body.append(bar);
  document.addEventListener("focusin", (event) => {
    bar.hidden = !event.target.matches("[data-kind][inputmode], [data-walk], .walk-in");
  });
  document.addEventListener("focusout", () => { bar.hidden = true; });
}

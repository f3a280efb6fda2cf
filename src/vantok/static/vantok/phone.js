// A phone's own level and its swing, where the browser gives them: that takes a secure connection and the owner's leave.
const why = document.querySelector("[data-phone-why]");
const allowed = async (kind) => typeof kind?.requestPermission !== "function" || (await kind.requestPermission()) === "granted";

if (why) {
  if (!window.isSecureContext || !("DeviceOrientationEvent" in window)) {
    why.textContent += " This browser gives no sensors here: that takes a phone, and a secure (https) connection. Type the figures, or send a file.";
  } else {
    for (const button of document.querySelectorAll("[data-phone]")) button.hidden = false;
  }
  const level = document.querySelector("[data-phone-level]"), push = document.querySelector("[data-phone-push]");
  const read = async (end) => {
    if (!(await allowed(window.DeviceOrientationEvent))) return;
    const taken = [];
    const listen = (event) => { if (event.beta !== null) taken.push([-event.beta, -event.gamma]); };
    addEventListener("deviceorientation", listen);
    setTimeout(() => {
      removeEventListener("deviceorientation", listen);
      if (!taken.length) { why.textContent = "This device has no level sensor: type the figures."; return; }
      const mean = (n) => (taken.reduce((sum, one) => sum + one[n], 0) / taken.length).toFixed(2);
      level.elements[`level-pitch${end}`].value = mean(0);
      level.elements[`level-lean${end}`].value = mean(1);
    }, 1500);
  };
  const record = async () => {
    if (!(await allowed(window.DeviceMotionEvent))) return;
    const rows = [], start = performance.now();
    const listen = (event) => {
      const z = event.accelerationIncludingGravity?.z;
      if (z !== null && z !== undefined) rows.push(`${((performance.now() - start) / 1000).toFixed(4)},${z.toFixed(4)}`);
    };
    addEventListener("devicemotion", listen);
    setTimeout(() => {
      removeEventListener("devicemotion", listen);
      push.elements["push-trace"].value = rows.join("\n");
    }, 8000);
  };
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-phone]");
    if (button) ({ first: () => read(""), turned: () => read("_turned"), record })[button.dataset.phone]();
  });
}

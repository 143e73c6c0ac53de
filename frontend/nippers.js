// The little that hypertext cannot do. Every page works without it.
(() => {
  const quick = () => document.getElementById("quick-line");

  document.addEventListener("keydown", (event) => {
    const typing = event.target instanceof HTMLElement && event.target.closest("input, textarea, select, [contenteditable]");
    if (event.key === "/" && !typing && quick()) {
      event.preventDefault();
      quick().focus();
      quick().select();
    }
    // The first Escape clears the line, the second leaves it.
    if (event.key === "Escape" && event.target === quick()) {
      if (quick().value === "") quick().blur();
      quick().value = "";
      document.getElementById("quick-preview").replaceChildren();
    }
  });

  // A tapped "did you mean" fills its field and sends its form.
  document.addEventListener("click", (event) => {
    const offer = event.target instanceof Element && event.target.closest("[data-fill]");
    if (!offer) return;
    const field = document.getElementById(offer.getAttribute("data-fill"));
    if (!field) return;
    event.preventDefault();
    field.value = offer.getAttribute("data-value");
    field.form.requestSubmit(field.form.querySelector("button[type=submit], button:not([type])"));
  });

  // Ticks every box of a group, or none.
  document.addEventListener("change", (event) => {
    const all = event.target instanceof HTMLInputElement && event.target.dataset.ticks;
    if (!all) return;
    for (const box of document.querySelectorAll(`input[type=checkbox][data-group="${all}"]`)) box.checked = event.target.checked;
  });

  // Print buttons, and selects that send their form when changed.
  document.addEventListener("change", (event) => {
    if (event.target instanceof HTMLSelectElement && event.target.dataset.sends !== undefined) event.target.form.requestSubmit();
  });

  // A plan that is edited: a station or a compartment is taken by hand, or moved by the arrow keys, and its line says where it is.
  for (const plan of document.querySelectorAll("[data-plan]")) {
    let held = null;
    const put = (what, x, y) => {
      const { width, height } = plan.viewBox.baseVal;
      x = Math.round(Math.min(width, Math.max(0, x)));
      y = Math.round(Math.min(height, Math.max(0, y)));
      Object.assign(what.dataset, { x, y });
      what.setAttribute("transform", `translate(${x} ${y})`);
      const field = document.getElementById(what.dataset.moves);
      field.value = field.value
        .split("\n")
        .map((line) => {
          const cells = line.split(";");
          if (cells[0].trim() !== what.dataset.code) return line;
          const at = what.dataset.moves === "stations" ? 2 : 1;
          cells[at] = x;
          cells[at + 1] = y;
          return cells.join(";");
        })
        .join("\n");
      document.getElementById("plan-moved").textContent = `${what.getAttribute("aria-label")}: ${x}; ${y}`;
    };
    const under = (event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(plan.getScreenCTM().inverse());
    plan.addEventListener("pointerdown", (event) => {
      const what = event.target instanceof Element && event.target.closest("[data-moves]");
      if (!what) return;
      const from = under(event);
      held = { what, dx: Number(what.dataset.x) - from.x, dy: Number(what.dataset.y) - from.y };
      plan.setPointerCapture(event.pointerId);
      what.focus();
      event.preventDefault();
    });
    plan.addEventListener("pointermove", (event) => {
      if (!held) return;
      const to = under(event);
      put(held.what, to.x + held.dx, to.y + held.dy);
    });
    for (const over of ["pointerup", "pointercancel"]) plan.addEventListener(over, () => (held = null));
    plan.addEventListener("keydown", (event) => {
      const what = event.target instanceof Element && event.target.closest("[data-moves]");
      const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (!what || !step) return;
      const far = event.shiftKey ? 10 : 2;
      put(what, Number(what.dataset.x) + step[0] * far, Number(what.dataset.y) + step[1] * far);
      event.preventDefault();
    });
  }

  // Prints the page.
  document.addEventListener("click", (event) => {
    if (event.target instanceof Element && event.target.closest("[data-print]")) window.print();
  });

  // A wait before a reading is true: counts down where the hand is.
  document.addEventListener("click", (event) => {
    const button = event.target instanceof Element && event.target.closest("[data-timer]");
    if (!button || button.dataset.until) return;
    const until = Date.now() + Number(button.dataset.timer) * 1000;
    button.dataset.until = String(until);
    const show = () => {
      const left = Math.max(0, Math.ceil((until - Date.now()) / 1000));
      button.textContent = left > 0 ? `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")}` : button.dataset.timerDone;
      if (left > 0 && button.isConnected) setTimeout(show, 500);
    };
    show();
  });

  // Drains and settlings that run: their time is the server's, so that every screen shows the same.
  const clocks = () => {
    for (const clock of document.querySelectorAll("[data-runs-until]")) {
      const left = Math.ceil((Number(clock.dataset.runsUntil) - Date.now()) / 1000);
      clock.textContent = left > 0 ? `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")}` : clock.dataset.runsOver;
    }
  };
  if (document.querySelector("[data-runs-until], #walk-steps")) {
    clocks();
    setInterval(clocks, 1000);
    document.addEventListener("htmx:afterSettle", clocks);
  }

  // On the page of a whole walk a tap is an answer: a level between its marks, a bowl. Arrow keys only move between the
  // choices, and are followed by Save. A fault is never sent by choosing its words: a stop is not easily taken back.
  let byFinger = false;
  document.addEventListener("pointerdown", () => (byFinger = true));
  document.addEventListener("keydown", () => (byFinger = false));
  document.addEventListener("change", (event) => {
    const input = event.target;
    if (!(input instanceof HTMLInputElement) || input.type !== "radio" || !input.closest("#walk-steps")) return;
    const form = input.form;
    const right = input.name === "drained" || (input.name === "level" && input.value >= 0 && input.value <= 100);
    if (right && byFinger && form.dataset.oneTap !== undefined) form.requestSubmit();
    if (input.name === "usual") {
      const least = Number(input.dataset.least);
      for (const grade of form.querySelectorAll("[data-grade-rank]")) {
        grade.hidden = Number(grade.dataset.gradeRank) < least;
        if (grade.hidden) grade.querySelector("input").checked = false;
      }
    }
  });

  // A station that is done closes, and the next opens under the thumb.
  document.addEventListener("htmx:afterSettle", (event) => {
    const station = event.target instanceof Element && event.target.closest("details.station");
    if (!station) return;
    const open = '[data-outcome="open"], [data-outcome="unfinished"], form[data-fault], [data-standing], [data-untick="yes"], [data-told="no"]';
    const done = !station.querySelector(open);
    station.dataset.done = String(done);
    station.querySelector(".station-head .done-box")?.classList.toggle("done-box-on", done);
    if (!done) return;
    let next = station.nextElementSibling;
    while (next && next.dataset.done !== "false") next = next.nextElementSibling;
    station.open = false;
    if (!next) return;
    next.open = true;
    next.scrollIntoView({ block: "start" });
  });

  // No network: the answer is not lost silently, its form stays and says so.
  for (const failed of ["htmx:sendError", "htmx:timeout"]) {
    document.addEventListener(failed, (event) => {
      const form = event.target instanceof Element && event.target.closest("form");
      if (!form) return;
      const note = form.querySelector("[data-lost]") ?? document.createElement("p");
      note.dataset.lost = "";
      note.className = "wrong";
      note.setAttribute("role", "alert");
      note.textContent = document.body.dataset.lost;
      form.prepend(note);
    });
  }

  // Of a row of tabs that is wider than the screen, the open one has to be seen.
  const tab = document.querySelector(".tabs [aria-current=page]");
  if (tab) {
    const row = tab.parentElement;
    row.scrollLeft += tab.getBoundingClientRect().left - row.getBoundingClientRect().left - (row.clientWidth - tab.offsetWidth) / 2;
  }

  // Of a job card that is wider than the screen, now has to be seen.
  const lanes = document.querySelector("[data-lanes]");
  const jaws = lanes?.querySelector(".lane-jaws");
  if (jaws) lanes.scrollLeft += jaws.getBoundingClientRect().left - lanes.getBoundingClientRect().left - lanes.clientWidth / 2;

  // A refused form answers with the words beside the field, one of another session with a page that holds it: htmx must show them, whatever
  // the status.
  document.addEventListener("htmx:beforeSwap", (event) => {
    const over = [400, 401].includes(event.detail.xhr.status) && event.detail.xhr.getResponseHeader("HX-Retarget");
    if (event.detail.xhr.status === 422 || event.detail.xhr.status === 409 || over) {
      event.detail.shouldSwap = true;
      event.detail.isError = false;
    }
  });

  // What was just refused is where the eye and the keyboard should be.
  document.addEventListener("htmx:afterSwap", (event) => {
    const wrong = event.detail.target.querySelector("[aria-invalid=true], [autofocus]");
    if (wrong) wrong.focus();
  });
})();

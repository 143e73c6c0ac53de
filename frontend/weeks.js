// The plan by weeks by hand: a job is taken with a pointer, or moved by the arrow keys, and put down on somebody's day. What that
// comes to is worked out by the server; without this each job's own page does the same.
(() => {
  const table = document.querySelector("[data-weeks]");
  const form = document.querySelector("[data-weeks-form]");
  for (const asked of document.querySelectorAll("form[data-busy-words]")) {
    asked.addEventListener("submit", () => {
      const says = asked.querySelector("[data-busy]");
      if (says) says.textContent = asked.dataset.busyWords;
    });
  }
  if (!table || !form) return;
  const says = document.querySelector("[data-weeks-says]");
  const cells = [...table.querySelectorAll("tbody tr")].map((row) => [...row.querySelectorAll("[data-cell]")]);
  let held = null;
  let over = null;

  const aim = (cell) => {
    over?.classList.remove("weeks-aim");
    over = cell;
    if (!cell) return;
    cell.classList.add("weeks-aim");
    says.textContent = table.dataset.says
      .replace("{0}", held.dataset.units)
      .replace("{1}", cell.dataset.name)
      .replace("{2}", cell.dataset.words);
    cell.scrollIntoView({ block: "nearest", inline: "nearest" });
  };

  const letGo = () => {
    held?.classList.remove("weeks-held");
    aim(null);
    held = null;
    says.textContent = "";
  };

  const put = () => {
    if (!held || !over) return;
    form.elements.job.value = held.dataset.job;
    form.elements.person.value = over.dataset.person;
    form.elements.day.value = over.dataset.day;
    form.requestSubmit();
  };

  const where = (cell) => {
    for (let row = 0; row < cells.length; row++) {
      const column = cells[row].indexOf(cell);
      if (column >= 0) return [row, column];
    }
    return [0, -1];
  };

  document.addEventListener("keydown", (event) => {
    const job = event.target instanceof Element && event.target.closest("[data-job]");
    if (!job) return;
    const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    if (step) {
      event.preventDefault();
      if (held !== job) {
        letGo();
        held = job;
        held.classList.add("weeks-held");
      }
      let [row, column] = where(over ?? job.closest("[data-cell]"));
      // Days on which nobody is there are stepped over.
      do {
        row += step[0];
        column += step[1];
      } while (cells[row]?.[column]?.classList.contains("weeks-off"));
      if (cells[row]?.[column]) aim(cells[row][column]);
    } else if (event.key === "Enter" && held === job && over) {
      event.preventDefault();
      put();
    } else if (event.key === "Escape" && held) {
      event.preventDefault();
      letGo();
    }
  });

  document.addEventListener("focusout", (event) => {
    if (held && event.target === held) letGo();
  });

  // A pointer that moves a little takes the job along; one that does not is a click, and opens it.
  let from = null;
  document.addEventListener("pointerdown", (event) => {
    const job = event.target instanceof Element && event.target.closest("[data-job]");
    if (job && event.button === 0 && event.pointerType === "mouse") from = { job, x: event.clientX, y: event.clientY };
  });
  document.addEventListener("pointermove", (event) => {
    if (!from) return;
    if (!held && Math.hypot(event.clientX - from.x, event.clientY - from.y) > 6) {
      held = from.job;
      held.classList.add("weeks-held");
    }
    if (held) {
      const cell = document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-cell]");
      if (cell !== over) aim(cell ?? null);
    }
  });
  document.addEventListener("pointerup", () => {
    const dragged = from && held;
    from = null;
    if (!dragged) return;
    // The click that follows would open the job.
    document.addEventListener("click", (event) => event.preventDefault(), { capture: true, once: true });
    if (over) put();
    else letGo();
  });
  document.addEventListener("dragstart", (event) => {
    if (event.target instanceof Element && event.target.closest("[data-job]")) event.preventDefault();
  });
})();

"use strict";
// Everything stands on the page without this; here it is made to answer.
(() => {
  const all = (selector, within = document) => [...within.querySelectorAll(selector)];
  for (const each of all(".controls")) each.hidden = false;

  // A screen that is pointed at, or reached by keyboard, is shown in all releases.
  const told = document.getElementById("told");
  const choose = (row) => {
    for (const each of all("[data-row]")) each.classList.toggle("chosen", row !== null && each.dataset.row === row);
    const line = row === null ? null : document.querySelector(`tr[data-row="${Number(row)}"]`);
    told.textContent = line === null ? "" : line.dataset.told;
  };
  const lanes = document.getElementById("lanes");
  for (const each of all(".screen", lanes)) {
    each.setAttribute("tabindex", each.dataset.first === "yes" ? "0" : "-1");
    each.addEventListener("mouseenter", () => choose(each.dataset.row));
    each.addEventListener("focus", () => choose(each.dataset.row));
  }
  lanes.addEventListener("keydown", (event) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const here = document.activeElement;
    if (event.key === "Escape") choose(null);
    if (step === undefined || !here.classList.contains("screen")) return;
    const own = all(".screen", here.closest(".lane"));
    const next = own[own.indexOf(here) + step];
    if (next) { event.preventDefault(); next.focus(); }
  });

  // Lanes lined up at a phase: each is moved so that the phase begins at one place in all.
  const lineUp = document.getElementById("line-up");
  lineUp.addEventListener("change", () => {
    const own = all(".lane", lanes);
    const places = own.map((lane) => Number(JSON.parse(lane.dataset.phases)[lineUp.value] ?? 0));
    const most = Math.max(...places);
    const room = Number(lanes.dataset.room), left = Number(lanes.dataset.left);
    const ends = own.map((lane, index) => Number(lane.dataset.end) + most - places[index]);
    const scale = room / Math.max(room, ...ends);
    own.forEach((lane, index) => lane.querySelector(".moving").setAttribute(
      "transform", `translate(${left} 0) scale(${scale} 1) translate(${most - places[index]} 0)`));
    for (const each of all(".moment", lanes)) each.setAttribute("visibility", lineUp.value === "" ? "visible" : "hidden");
  });

  document.getElementById("fold").addEventListener("change", (event) => lanes.classList.toggle("folded", event.target.checked));

  // The baseline decides which lists of changes are shown; without a choice, all are.
  const baseline = document.getElementById("baseline");
  baseline.addEventListener("change", () => {
    for (const each of all("[data-pair]")) {
      each.hidden = baseline.value !== "" && !each.dataset.pair.split("\n").includes(baseline.value);
    }
  });

  // A picture that is pressed is shown larger; arrow keys go on to its neighbours.
  const larger = document.getElementById("larger");
  const shots = all(".shot img");
  let shown = 0;
  const enlarge = (number) => {
    if (shots[number] === undefined) return;
    shown = number;
    larger.querySelector("img").src = shots[number].src;
    larger.querySelector("img").alt = shots[number].alt;
    larger.querySelector("figcaption").textContent = shots[number].dataset.told;
    if (!larger.open) larger.showModal();
  };
  shots.forEach((each, number) => each.parentNode.addEventListener("click", () => enlarge(number)));
  larger?.addEventListener("keydown", (event) => {
    const across = shots[shown].closest("tr").querySelectorAll(".shot").length;
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: across, ArrowUp: -across }[event.key];
    if (step !== undefined) { event.preventDefault(); enlarge(shown + step); }
  });
  larger?.addEventListener("close", () => shots[shown].parentNode.focus());

  // Tables are sorted by the column whose heading is pressed, and the other way round when it is pressed again.
  for (const button of all("thead button")) {
    button.addEventListener("click", () => {
      const heading = button.closest("th"), body = button.closest("table").tBodies[0];
      const column = heading.cellIndex, down = heading.getAttribute("aria-sort") === "ascending";
      const value = (row) => row.cells[column].dataset.value ?? row.cells[column].textContent.trim();
      const rows = [...body.rows].sort((one, other) => value(one).localeCompare(value(other), undefined, { numeric: true }));
      for (const each of all("th", heading.parentNode)) each.removeAttribute("aria-sort");
      heading.setAttribute("aria-sort", down ? "descending" : "ascending");
      body.append(...(down ? rows.reverse() : rows));
    });
  }
})();

/* What the report's page does beyond being read: tables sort, loadings are hidden by size, the
   contents fold on small screens. Without this script the page says the same. */
(function () {
  "use strict";

  function number(cell) {
    var value = cell.getAttribute("data-value");
    return value === null ? NaN : parseFloat(value);
  }

  /* Numbers by size (empty cells last), words by the alphabet. */
  function compare(a, b) {
    var x = number(a), y = number(b);
    if (!isNaN(x) && !isNaN(y)) { return x - y; }
    if (isNaN(x) !== isNaN(y)) { return isNaN(x) ? 1 : -1; }
    return words(a).localeCompare(words(b), undefined, { numeric: true });
  }

  /* A cell's own words: not those that show on hover. */
  function words(cell) {
    var tip = cell.querySelector(".tip");
    var text = cell.textContent;
    return tip ? text.slice(0, text.length - tip.textContent.length) : text;
  }

  function reorder(table, order) {
    var body = table.tBodies[0];
    Array.prototype.slice.call(body.rows)
      .map(function (row, i) { return { row: row, i: i }; })
      .sort(function (a, b) { return order(a.row, b.row) || a.i - b.i; })
      .forEach(function (one) { body.appendChild(one.row); });
  }

  function unmark(table) {
    Array.prototype.forEach.call(table.tHead.rows[0].cells, function (head) {
      head.removeAttribute("aria-sort");
    });
  }

  function sortable(table) {
    if (!table.tHead || table.tBodies[0].rows.length < 2) { return; }
    Array.prototype.forEach.call(table.tHead.rows[0].cells, function (head, column) {
      var button = document.createElement("button");
      button.type = "button";
      button.className = "sort";
      while (head.firstChild) { button.appendChild(head.firstChild); }
      head.appendChild(button);
      button.addEventListener("click", function () {
        var down = head.getAttribute("aria-sort") !== "descending" &&
          (head.classList.contains("words") ? head.getAttribute("aria-sort") === "ascending" : true);
        unmark(table);
        head.setAttribute("aria-sort", down ? "descending" : "ascending");
        reorder(table, function (a, b) {
          var x = a.cells[column], y = b.cells[column], empty = isNaN(number(x)) - isNaN(number(y));
          if (empty && (!isNaN(number(x)) || !isNaN(number(y)))) { return empty; }
          return (down ? -1 : 1) * compare(x, y);
        });
      });
    });
  }

  /* Factor by factor, the largest loading first, items that load on none at the end: what the pattern
     shows at first. */
  function byFactor(table) {
    var weak = parseFloat(table.getAttribute("data-weak"));
    function place(row) {
      var best = { factor: 0, size: -1 };
      Array.prototype.forEach.call(row.querySelectorAll(".loading"), function (cell) {
        var size = Math.abs(number(cell));
        if (size > best.size) { best = { factor: +cell.getAttribute("data-factor"), size: size }; }
      });
      if (best.size < weak) { best.factor = Infinity; }
      return best;
    }
    unmark(table);
    reorder(table, function (a, b) {
      var x = place(a), y = place(b);
      return (x.factor === y.factor ? 0 : x.factor - y.factor) || y.size - x.size;
    });
  }

  function unit(x) { return x.toFixed(2).replace(/^0/, ""); }

  function slider(controls) {
    var input = controls.querySelector("input"), shown = controls.querySelector("output");
    var table = controls.parentNode.querySelector("#" + controls.id + " ~ .scroll table.pattern");
    var count = controls.parentNode.querySelector("#" + controls.id + " ~ .count");
    controls.hidden = false;
    function hide() {
      var least = parseFloat(input.value), hidden = 0;
      var cells = table.querySelectorAll(".loading");
      Array.prototype.forEach.call(cells, function (cell) {
        var small = Math.abs(number(cell)) < least;
        cell.classList.toggle("small", small);
        if (small) { hidden += 1; }
      });
      shown.textContent = unit(least);
      count.textContent = hidden + " of " + cells.length + " loadings smaller than " + unit(least) +
        " in size are not shown.";
    }
    input.addEventListener("input", hide);
    controls.querySelector(".by-factor").addEventListener("click", function () { byFactor(table); });
  }

  Array.prototype.forEach.call(document.querySelectorAll("main table"), sortable);
  Array.prototype.forEach.call(document.querySelectorAll(".controls"), slider);
  if (window.matchMedia("(max-width: 70rem)").matches) {
    document.querySelector(".contents details").open = false;
  }
  document.addEventListener("keydown", function (event) {
    if (event.key === "Escape" && document.activeElement.classList.contains("item")) {
      document.activeElement.blur();
    }
  });
}());

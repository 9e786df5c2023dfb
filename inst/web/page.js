// The page of a study. All it shows comes as messages from R; all that is clicked goes back as
// acts, and R writes them into the study file. Text is put in as text only, never as HTML.
"use strict";

const now = { sheet: null, study: null, count: null, picked: null, weighed: {}, recounted: {},
  trust: null, limits: null, paths: null, names: null, until: null, number: null, proposal: null,
  written: null, columns: null, order: [], sort: "factor", hide: null, keys: true, all: false,
  spared: [], waiting: new Set(), before: null, asking: null };
let words = {};

// ---- Small helpers.

function el(tag, settings, ...children) {
  const svg = ["svg", "g", "line", "circle", "polyline", "text", "title", "rect"].includes(tag);
  const made = svg ? document.createElementNS("http://www.w3.org/2000/svg", tag)
    : document.createElement(tag);
  for (const [name, value] of Object.entries(settings || {})) {
    if (value === null || value === undefined || value === false) continue;
    if (name.startsWith("on")) made.addEventListener(name.slice(2), value);
    else if (name === "value") made.value = value;
    else made.setAttribute(name, value === true ? "" : value);
  }
  made.append(...children.flat(9).filter((one) => one !== null && one !== undefined
    && one !== false)
    .map((one) => (one instanceof Node ? one : String(one))));
  return made;
}

// A sentence of the table, with what stands in braces put in.
function say(key, values) {
  return (words[key] || key).replace(/\{(\w+)\}/g, (all, name) =>
    (values && name in values ? values[name] : all));
}

// Numbers between -1 and 1 without the zero, as the language writes them.
function unit(x, digits = 2) {
  if (x === null || x === undefined) return "";
  let text = x.toFixed(digits);
  if (Number(text) === 0) text = text.replace("-", "");
  return words.language === "de" ? text.replace(".", ",") : text.replace(/^(-?)0\./, "$1.");
}
const percent = (x) => say("percent", { n: Math.round(100 * x) });
const send = (act) => Shiny.setInputValue("act", act, { priority: "event" });
const nameOf = (plain) => (now.sheet.factors.find((f) => f.plain === plain)
  || { name: plain }).name;
const under = (kind) => now.waiting.has(kind);
const wait = () => el("span", { class: "wait" }, say("under_way"));

// ---- What R says.

const heard = {
  words(m) { words = m; document.documentElement.lang = m.language; },
  columns(m) { now.columns = m; },
  study(m) {
    Object.assign(now, { study: m, until: null, number: null, weighed: {}, recounted: {},
      proposal: null, asking: null, columns: null, conflict: null, problem: null,
        waiting: new Set() });
    if (now.hide === null) now.hide = m.hide_below;
    document.title = m.title;
  },
  sheet(m) {
    if (m.problem) { now.stopped = m.problem; return; }
    now.stopped = null;
    // (what was known before is confirmed by a second message)
    if (m.state !== now.sheetOf) now.before = now.sheet ? now.sheet.head : null;
    now.sheetOf = m.state;
    now.waiting.delete("confirmed");
    now.sheet = m.value;
    now.trust = now.limits = now.paths = null;
    const there = now.sheet.rows.map((row) => row.item);
    if (!there.includes(now.picked)) now.picked = now.proposal ? now.picked : there[0];
    now.order = [];
    if (now.all) askRules();
    else if (now.picked && there.includes(now.picked)) weigh("drop", now.picked);
  },
  count(m) { now.count = m.value; now.held = m.held; now.changed = m.held !== m.now; },
  trust(m) { now.trust = m.value; now.sheet.findings = m.value.findings; },
  limits(m) { now.limits = m.value; },
  paths(m) { now.paths = m.value; },
  names(m) { now.names = m.value; },
  weighed(m) { now.weighed[m.of] = m.value.shown; },
  recounted(m) { now.recounted[m.of] = m.value.k; },
  until(m) { now.until = { upto: m.upto, shown: m.value.shown }; },
  number(m) { now.number = m.value; },
  proposal(m) {
    now.proposal = m.value;
    if (!m.value.item) now.all = false;
    else if (now.all) takeProposal();
  },
  written(m) { now.written = m.value; },
  conflict(m) { now.conflict = m; },
  said(m) { now.problem = m.problem; now.all = false; },
  under_way(m) { now.waiting.add(m.what); },
};

function hear(text) {
  const message = JSON.parse(text);
  // what belongs to a state that is no more is dropped
  if (now.study && message.state < now.study.state && message.kind !== "words") return;
  if (message.kind !== "under_way") now.waiting.delete(message.kind);
  if (message.kind === "said" && message.what) now.waiting.delete(message.what);
  if (heard[message.kind]) heard[message.kind](message);
  draw();
}

// ---- What people ask.

function weigh(word, item, beside) {
  const key = word + ":" + item;
  if (now.weighed[key] || now.study.read_only) return;
  send(Object.assign({ word: "weigh", key, [word]: item }, beside));
}

function pick(item, focus) {
  now.picked = item;
  now.asking = null;
  weigh("drop", item);
  draw();
  if (focus) document.querySelector(`tr[data-item="${CSS.escape(item)}"]`)?.focus();
}

// A decision is asked for its reason first; Enter takes the one proposed.
function ask(decision, reason) {
  if (now.study.read_only || now.until) return;
  now.asking = { decision, reason: reason || "" };
  draw();
  const field = document.getElementById("why");
  if (field) { field.focus(); field.select(); }
}

function decided() {
  const why = document.getElementById("why").value;
  const who = document.getElementById("who").value;
  const act = Object.assign({ word: "decide", why, who }, now.asking.decision);
  now.who = who;
  now.asking = null;
  now.problem = null;
  send(act);
}

function reasonFor(item) {
  const row = now.sheet.rows.find((one) => one.item === item);
  const detail = now.sheet.details[item];
  if (!row) return "";
  if (detail.adequacy !== null && detail.adequacy < 0.5) {
    return say("reason_adequacy", { x: unit(detail.adequacy) });
  }
  if (row.marks.length) return markWords(row).join(", ");
  return "";
}

const askRules = () => send({ word: "proposal", spared: now.spared });

function takeProposal() {
  const p = now.proposal;
  send({ word: "decide", drop: p.item, who: now.who || "", why: ruleWords(p) });
}

const ruleWords = (p) => say("reason_rule",
  { rule: p.label, x: unit(p.value), limit: unit(p.limit) });

// ---- The sheet.

// Nothing is drawn anew under a pressed pointer, a dragged row or an open list: it would be lost.
const held = { down: false, drag: false, waits: false, drawing: false };
const busyHands = () => held.down || held.drag || document.activeElement?.tagName === "SELECT";

function draw(anyway) {
  held.waits = !anyway && busyHands();
  if (held.waits) return;
  held.drawing = true;
  drawNow();
  held.drawing = false;
}

function letGo() {
  held.down = held.drag = false;
  // (a click comes after the pointer is up)
  setTimeout(() => { if (held.waits) draw(); }, 0);
}

function drawNow() {
  const sheet = document.getElementById("sheet");
  const focus = document.activeElement;
  const at = focus && focus.id ? "#" + CSS.escape(focus.id)
    : focus && focus.dataset && focus.dataset.item
      ? `tr[data-item="${CSS.escape(focus.dataset.item)}"]`
      : null;
  const typed = focus && focus.tagName === "INPUT" && focus.type === "text"
    ? [focus.value, focus.selectionStart, focus.selectionEnd] : null;
  const scrolled = document.querySelector(".pattern")?.scrollLeft;
  sheet.replaceChildren(...(now.columns && !now.study ? [beginView()] : sheetView()));
  if (scrolled) document.querySelector(".pattern").scrollLeft = scrolled;
  const back = at && document.querySelector(at);
  if (!back) return;
  back.focus({ preventScroll: true });
  if (typed) { back.value = typed[0]; back.setSelectionRange(typed[1], typed[2]); }
}

function sheetView() {
  if (!now.study) return [el("main", {}, el("h1", {}, "Soft Sieve"), el("p", {}, wait()))];
  return [topView(), now.sheet ? el("div", { class: "columns" }, pathView(), patternView(),
    itemView()) : el("main", {}, el("p", { role: "status" }, now.stopped || wait())),
  now.sheet ? numberView() : null, now.sheet ? rulesView() : null,
  now.sheet ? trustView() : null, trailView(), finishView(), helpView()].filter(Boolean);
}

const shown = () => (now.until ? now.until.shown : now.sheet);

function sentence(head) {
  const omega = head.lowest === undefined || head.lowest === null ? "" : say("sentence_omega",
    { lowest: unit(head.lowest), highest: unit(head.highest) });
  const adequacy = head.adequacy === undefined || head.adequacy === null ? ""
    : say("sentence_adequacy", { adequacy: unit(head.adequacy) });
  return say(head.components ? "sentence_components" : "sentence",
    { n_items: head.items, factors: head.factors }) + adequacy + omega + ".";
}

// Before -> now, of what has changed.
function changes(from, to) {
  const one = (key, show) => (from[key] !== to[key] && from[key] != null && to[key] != null
    && show(from[key]) !== show(to[key])
    ? [el("li", {}, say("change_" + key, { from: show(from[key]), to: show(to[key]) }))] : []);
  return [one("items", String), one("factors", String), one("adequacy", (x) => unit(x)),
    one("share", percent), one("lowest", (x) => unit(x)), one("highest", (x) => unit(x))].flat();
}

function topView() {
  const there = shown();
  const told = now.before && there && !now.until ? changes(now.before, there.head) : [];
  return el("header", {},
    el("h1", {}, now.study.title),
    el("p", { class: "sentence", "aria-live": "polite" }, there ? sentence(there.head) : wait(),
      under("sheet") && there ? wait() : null),
    told.length ? el("ul", { class: "changes", "aria-label": say("last_change") }, told) : null,
    notices());
}

function notices() {
  const box = [];
  const add = (text, ...more) => box.push(el("p", {}, text, ...more.map((one) => [" ", one])));
  if (now.study.read_only) add(say("read_only", { who: now.study.holder }));
  if (now.stopped && now.sheet) add(now.stopped);
  if (now.problem) add(now.problem);
  if (now.changed) add(say("number_changed", { from: now.held, to: now.count.taken }));
  if (now.conflict) {
    add(say("conflict"), button("reload", () => send({ word: "reload" })),
      button("keep_mine", () => send({ word: "mine" })));
  }
  if (now.until) {
    add(say("looking_back", { n: now.until.upto }),
      button("back_to_now", () => { now.until = null; draw(); }));
  }
  const places = placesView(shown()?.places);
  if (places) add(places);
  return el("div", { class: box.length ? "notices" : "", role: "status" }, box);
}

const button = (key, act, settings) => el("button", Object.assign(
  { type: "button", onclick: act, id: "b_" + key }, settings), say(key));

// ---- The path of stages.

function pathView() {
  const head = shown().head;
  const trouble = (...stages) => {
    const own = shown().findings.concat(now.count ? now.count.findings : [])
      .filter((one) => stages.includes(one.stage));
    const n = (severity) => own.filter((one) => one.severity === severity).length;
    return [n("serious") ? say("n_serious", { n: n("serious") }) : "",
      n("caution") ? say("n_cautions", { n: n("caution") }) : ""].filter(Boolean).join(", ");
  };
  const count = under("count") ? say("under_way")
    : now.count ? say("path_count", { taken: now.count.taken,
      from: Math.min(...now.count.plausible), to: Math.max(...now.count.plausible) }) : "";
  const omega = head.lowest == null ? "" : say("path_trust", { lowest: unit(head.lowest),
    highest: unit(head.highest) });
  const steps = [
    ["path_answers", say("path_people", { n_people: head.people || "" }), trouble("reading",
      "profile"),
      "pattern"],
    ["path_factorability", head.adequacy == null ? "" : say("path_adequate",
      { adequacy: unit(head.adequacy), verdict: words["verdict_" + head.verdict] || head.verdict }),
    trouble("correlation", "factorability"), "pattern"],
    ["path_number", count, trouble("retention"), "number"],
    ["path_solution", say("path_explains", { share: percent(head.share) }),
      trouble("extraction", "rotation", "pattern"), "pattern"],
    ["path_rules", shown().out.length ? say("n_out", { n: shown().out.length }) : "", "", "rules"],
    ["path_scales", omega, trouble("scales", "reliability"), "trust"],
    ["path_decisions", String(now.study.decisions.length), "", "trail"]];
  return el("nav", { "aria-label": say("path") }, el("ol", {}, steps.map(([key, told, bad, to]) =>
    el("li", {}, el("a", { href: "#" + to }, say(key)), el("span", {}, told),
      bad ? el("span", { class: "bad" }, bad) : null))));
}

// ---- The pattern.

function sortedRows() {
  const rows = shown().rows.slice();
  if (now.order.length) {
    return rows.sort((a, b) => now.order.indexOf(a.item) - now.order.indexOf(b.item));
  }
  if (now.sort === "communality") return rows.sort((a, b) => a.communality - b.communality);
  if (now.sort === "name") {
    return rows.sort((a, b) => a.item.localeCompare(b.item, undefined, { numeric: true }));
  }
  return rows;
}

function patternView() {
  const rows = sortedRows();
  const factors = shown().factors;
  const grouped = now.sort === "factor" && !now.order.length;
  const body = [];
  let last = null;
  for (const row of rows) {
    if (grouped && row.factor !== last) {
      last = row.factor;
      const factor = factors.find((one) => one.name === last);
      body.push(el("tr", { class: "heading" }, el("th", { colspan: factors.length + 1,
        scope: "rowgroup" }, factor ? headingView(factor) : say("no_factor"))));
    }
    body.push(rowView(row, factors));
  }
  const choose = el("select", { id: "sort", onchange: (e) => { now.sort = e.target.value;
    now.order = []; draw(true); } }, ["factor", "communality", "name"].map((key) =>
    el("option", { value: key, selected: now.sort === key }, say("sort_" + key))));
  return el("main", { id: "pattern" },
    el("div", { class: "tools" }, el("h2", {}, say("pattern")),
      el("label", {}, say("sort"), " ", choose),
      el("label", {}, say("hide_below"), " ", el("input", { id: "hide", type: "range", min: 0,
        max: 0.6, step: 0.05, value: now.hide, oninput: (e) => { now.hide = Number(e.target.value);
          draw(); } }), " ", unit(now.hide)),
      el("label", {}, el("input", { id: "keys", type: "checkbox", checked: now.keys,
        onchange: (e) => {
        now.keys = e.target.checked; draw(); } }), " ", say("single_keys"))),
    el("div", { class: "pattern", tabindex: -1 }, el("table", { role: "grid",
      "aria-label": say("pattern"), onkeydown: keyed },
    el("thead", {}, el("tr", {}, el("th", { scope: "col" }, say("item")),
      factors.map((one) => el("th", { scope: "col", class: "number" }, one.name)))),
    el("tbody", {}, body))));
}

function headingView(factor) {
  const help = now.names && now.names[factor.name];
  return el("div", { class: "factor" },
    el("input", { type: "text", id: "name_" + factor.plain, value: factor.name, maxlength: 60,
      "aria-label": say("name_of", { factor: factor.plain }), readonly: now.study.read_only,
      onkeydown: (e) => { if (e.key === "Enter") e.target.blur(); },
      onblur: (e) => { const as = e.target.value.trim();
        if (!held.drawing && as && as !== factor.name) {
          send({ word: "decide", name: factor.plain, as, who: now.who || "" });
        } } }),
    el("span", {}, say("explains", { share: percent(factor.share) }),
      factor.omega == null ? "" : `, ${say("omega")} ${unit(factor.omega)}`),
    help && help.words.length ? el("span", { class: "help" }, say("own_words",
      { words: help.words.join(", ") })) : null,
    help && help.against.length ? el("span", { class: "help" }, say("against",
      { n_items: help.against.join(", ") })) : null);
}

function rowView(row, factors) {
  const picked = row.item === now.picked;
  const cells = factors.map((one, i) => {
    const x = row.loadings[i];
    const hidden = Math.abs(x) < now.hide;
    return el("td", { class: "number" + (one.name === row.factor ? " own" : "") },
      hidden ? null : el("span", { class: "bar",
        style: `width:${Math.round(100 * Math.min(1, Math.abs(x)))}%` }),
      hidden ? null : el("span", {}, unit(x)));
  });
  return el("tr", { "data-item": row.item, tabindex: picked ? 0 : -1,
    "aria-selected": String(picked),
    class: picked ? "picked" : null, draggable: "true", onclick: () => pick(row.item, true),
    ondragstart: (e) => { held.drag = true; e.dataTransfer.setData("text/plain", row.item); },
    ondragend: letGo,
    ondragover: (e) => e.preventDefault(),
    ondrop: (e) => {
      e.preventDefault();
      held.drag = false;
      moveRow(e.dataTransfer.getData("text/plain"), row.item);
    } },
  el("th", { scope: "row" }, el("b", {}, row.item), " ", el("span", {}, row.wording), " ",
    marksOf(row).map((mark) => el("span", { class: "flag" }, mark))), cells);
}

const markWords = (row) => row.marks.map((mark) => words["mark_" + mark] || mark);
const marksOf = (row) => markWords(row).concat(row.reversed ? say("reversed") : [],
  now.study.pinned.includes(row.item) ? say("pinned") : []);

function moveRow(item, before) {
  const order = sortedRows().map((row) => row.item).filter((one) => one !== item);
  order.splice(Math.max(0, order.indexOf(before)), 0, item);
  now.order = order;
  draw();
}

// Single keys act only while an item has the focus.
function keyed(e) {
  const row = e.target.closest("tr[data-item]");
  if (!row || e.target !== row) return;
  const items = sortedRows().map((one) => one.item);
  const at = items.indexOf(row.dataset.item);
  const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
  const there = items[at + (step || 0)];
  if (step && e.altKey) {
    const order = items.filter((one) => one !== items[at]);
    order.splice(Math.max(0, at + step), 0, items[at]);
    now.order = order;
    e.preventDefault();
    return draw();
  }
  if (step && there) { e.preventDefault(); return pick(there, true); }
  if (!now.keys || e.ctrlKey || e.metaKey || e.altKey) return;
  const acts = { x: () => ask({ drop: now.picked }, reasonFor(now.picked)),
    p: () => ask({ keep: now.picked }), u: () => send({ word: "undo" }),
    "?": () => document.getElementById("keys_help").setAttribute("open", "") };
  if (acts[e.key]) { e.preventDefault(); acts[e.key](); }
}

// ---- The item that is picked.

function itemView() {
  const item = now.picked;
  const row = shown().rows.find((one) => one.item === item);
  if (!row) return el("aside", { "aria-label": say("the_item") }, el("p", {}, say("pick_one")));
  const detail = shown().details[item];
  const line = (key, value) => (value === "" || value === null ? null
    : [el("dt", {}, say(key)), el("dd", {}, value)]);
  const limits = !now.until && now.limits && now.limits[item];
  const stays = now.until || !now.paths ? null : now.paths.stays[item];
  const scale = shown().scales.find((one) => one.scale === detail.scale);
  return el("aside", { id: "picked", "aria-label": say("the_item") },
    el("h2", {}, item), el("p", { class: "wording" }, row.wording),
    answersView(detail.answers),
    el("dl", {}, line("adequacy", unit(detail.adequacy)), line("communality",
      unit(row.communality)),
      line("rest", unit(detail.rest)),
      scale && detail.without != null ? line("without", say("omega_from_to",
        { from: unit(scale.omega), to: unit(detail.without) })) : null,
      line("goes_with", detail.with.map((one) => `${one.item} (${unit(one.residual)})`).join(", ")),
      stays != null ? line("stays_on", say("of_paths", { share: percent(stays),
        n: now.paths.number }))
        : under("paths") ? line("stays_on", wait()) : null),
    el("h3", {}, say("loadings")), el("div", { class: "limits" }, shown().factors.map((one, i) =>
      el("div", {}, el("span", {}, one.name), el("span", {}, unit(row.loadings[i])),
        el("span", { class: "quiet" }, limits && limits[i] && limits[i][0] != null
          ? `${unit(limits[i][0])} ${say("to")} ${unit(limits[i][1])}` : "")))),
    under("limits") && !limits ? wait() : null,
    now.until || now.study.read_only ? null : [now.asking && !now.asking.decision.number
      ? reasonView() : buttonsView(row, detail), weighedView("drop:" + item, say("if_out",
        { the_item: item }))]);
}

function answersView(answers) {
  if (!answers.length) return null;
  const most = Math.max(...answers.map((one) => one.share));
  return el("ul", { class: "answers", "aria-label": say("answers") }, answers.map((one) =>
    el("li", {}, el("span", { class: "column",
      style: `height:${Math.round(40 * one.share / most)}px` }),
      el("span", {}, percent(one.share)), el("span", {}, one.answer))));
}

function buttonsView(row, detail) {
  const item = row.item;
  const scales = now.sheet.factors.map((one) => one.name).filter((one) => one !== detail.scale);
  return el("div", { class: "buttons" },
    button("take_out", () => ask({ drop: item }, reasonFor(item))),
    button("pin", () => ask({ keep: item })),
    button("reverse", () => ask({ reverse: item }, say("reason_reverse"))),
    scales.length ? [el("label", {}, say("move_to"), " ", el("select", { id: "move",
      onchange: (e) => {
      now.moveTo = e.target.value; } }, scales.map((one) => el("option", { value: one,
      selected: one === now.moveTo }, one)))), button("move", () => ask({ move: item,
      to: document.getElementById("move").value }), { id: "b_move" })] : null);
}

function decisionWords(decision) {
  const word = ["drop", "keep", "restore", "reverse", "move",
    "number"].find((one) => one in decision);
  return say("decide_" + word, { the_item: decision[word], to: decision.to || "" });
}

function reasonView() {
  return el("form", { class: "reason", onsubmit: (e) => { e.preventDefault(); decided(); },
    onkeydown: (e) => { if (e.key === "Escape") { now.asking = null; draw(); } } },
  el("p", {}, decisionWords(now.asking.decision)),
  el("label", { for: "why" }, say("why")),
  el("input", { type: "text", id: "why", value: now.asking.reason, maxlength: 300 }),
  el("label", { for: "who" }, say("who")),
  el("input", { type: "text", id: "who", value: now.who || "", maxlength: 80 }),
  el("button", { type: "submit", id: "b_decide" }, say("decide")),
  button("leave_it", () => { now.asking = null; draw(); }));
}

// What a decision would do, before it is made.
function weighedView(key, title) {
  const then = now.weighed[key];
  if (!then) return under("weighed") ? el("p", {}, title, ": ", wait()) : null;
  const told = changes(now.sheet.head, then.head).concat(moves(now.sheet, then));
  const k = now.recounted[key];
  const number = k !== undefined ? say("counted_anew", { n: k })
    : under("recounted") ? wait() : null;
  return el("div", { class: "weighed", "aria-live": "polite" }, el("h3", {}, title),
    el("ul", {}, told.length ? told : el("li", {}, say("changes_nothing")),
      number ? el("li", {}, number) : null,
      then.places.length ? el("li", {}, placesView(then.places)) : null));
}

// Factors are in the order of what they explain, which may change.
const placesView = (places) => (places && places.length ? say("changed_places",
  { places: places.map((one) => `${one.from} → ${one.to}`).join(", ") }) : "");

// Items that belong to another factor, or are marked otherwise.
function moves(from, to) {
  const place = Object.fromEntries(to.places.map((one) => [one.to, one.from]));
  const plain = (sheet, name) => (sheet.factors.find((one) => one.name === name) || {}).plain;
  return to.rows.flatMap((row) => {
    const old = from.rows.find((one) => one.item === row.item);
    if (!old) return [el("li", {}, say("comes_in", { the_item: row.item, to: row.factor }))];
    const there = plain(to, row.factor);
    if (plain(from, old.factor) !== (place[there] || there)) {
      return [el("li", {}, say("moves", { the_item: row.item, from: old.factor || "-",
        to: row.factor || "-" }))];
    }
    if (old.marks.join() === row.marks.join()) return [];
    const marked = markWords(row).join(", ") || say("no_mark");
    return [el("li", {}, say("marked_now", { the_item: row.item, marks: marked }))];
  });
}

// ---- The number of factors.

function numberView() {
  const count = now.count;
  const k = now.sheet.head.factors;
  return el("section", { id: "number" }, el("h2", {}, say("number")),
    !count ? wait() : [el("p", {}, count.said), eigenvaluesView(count, k),
      el("p", { class: "quiet" }, say("click_rank")), count.findings.map((one) => el("p", {},
        one.text))],
    under("number") ? wait() : null, now.number ? otherNumberView() : null);
}

function eigenvaluesView(count, k) {
  const n = count.eigenvalues.length;
  const wide = 640, high = 220, left = 34, low = 190;
  const most = Math.max(...count.eigenvalues, 1);
  const x = (i) => left + (i + 0.5) * (wide - left) / n;
  const y = (v) => low - (low - 14) * Math.max(0, v) / most;
  const path = (values) => values.map((v, i) => (v === null ? "" : `${x(i)},${y(v)}`)).join(" ");
  return el("svg", { viewBox: `0 0 ${wide} ${high}`, class: "eigenvalues", role: "group",
    "aria-label": say("eigenvalues") },
  [0, Math.round(most / 2), Math.round(most)].map((v) => el("text", { x: 2, y: y(v) + 4 }, v)),
  el("polyline", { points: path(count.chance), class: "chance" }),
  el("text", { x: x(n - 1), y: y(count.chance[n - 1] || 0) - 8, "text-anchor": "end",
    class: "chance_label" },
    say("chance")),
  el("polyline", { points: path(count.eigenvalues), class: "line" }),
  // (by its id the focus comes back when the sheet is drawn anew)
  count.eigenvalues.map((v, i) => el("g", { id: `eigenvalue_${i + 1}`, role: "button",
    tabindex: 0, class: i + 1 === k ? "held" : null,
    "aria-label": say("rank", { n: i + 1, x: v.toFixed(2) }), "aria-pressed": String(i + 1 === k),
    onclick: () => tryNumber(i + 1),
    onkeydown: (e) => { if (["Enter",
      " "].includes(e.key)) { e.preventDefault(); tryNumber(i + 1); } } },
  el("rect", { x: x(i) - 14, y: 0, width: 28, height: high, class: "hit" }),
  el("circle", { cx: x(i), cy: y(v), r: i < k ? 6 : 4 }),
  el("text", { x: x(i), y: high - 8, "text-anchor": "middle" }, i + 1))));
}

function tryNumber(other) {
  if (other === now.sheet.head.factors) { now.number = null; return draw(); }
  send({ word: "number", other });
}

function otherNumberView() {
  const m = now.number;
  const rows = m.rows.slice().sort((a, b) => b.moved - a.moved);
  const asking = now.asking && now.asking.decision.number;
  return el("div", { class: "other" },
    el("h3", {}, say("side_by_side", { now: m.now, then: m.then })),
    el("p", {}, say("would_explain", { share: percent(m.share),
      now: percent(now.sheet.head.share) })),
    asking ? reasonView() : now.study.read_only ? null : el("button", { type: "button",
      id: "b_number",
      onclick: () => ask({ number: m.then }) }, say("take_number", { n: m.then })),
    button("leave_it", () => { now.number = null; now.asking = null; draw(); }, { id: "b_other" }),
    el("div", { class: "pattern", tabindex: 0 }, el("table", { class: "plain" },
      el("caption", {}, say("movers_first")),
      el("thead", {}, el("tr", {}, [say("item"), say("with_n", { n: m.now }), say("with_n",
        { n: m.then }), ""]
        .map((one) => el("th", { scope: "col" }, one || say("moves_short"))))),
      el("tbody", {}, rows.map((row) => el("tr", { class: row.moved ? "moved" : null },
        el("th", { scope: "row" }, el("b", {}, row.item), " ", row.wording),
        el("td", {}, `${row.now} ${unit(row.now_loading)}`),
        el("td", {}, row.then === null ? "" : `${row.then} ${unit(row.then_loading)}`),
        el("td", {}, row.moved ? say("moves_short") : "")))))));
}

// ---- Rules, items that are out.

function rulesView() {
  const p = now.proposal;
  const out = now.sheet.out;
  const closed = now.study.read_only || now.until;
  const asks = !closed && !now.study.sifts;
  return el("section", { id: "rules" }, el("h2", {}, say("rules")),
    el("p", { class: "quiet" }, say(now.study.sifts ? "rules_run" : "rules_about")),
    !asks ? null : el("div", { class: "buttons" },
      button("ask_rules", () => { now.all = false; askRules(); }),
      button("all_passes", () => { now.all = true; askRules(); })),
    under("proposal") || now.all ? wait() : null,
    p && !p.item ? el("p", { role: "status" }, say("rules_content")) : null,
    p && p.item && !now.all ? el("form", { class: "reason", onsubmit: (e) => { e.preventDefault();
      takeProposal(); } }, el("p", {}, say("rule_proposes", { the_item: p.item,
        wording: p.wording }), " ",
      ruleWords(p), "."), el("button", { type: "submit", id: "b_yes" }, say("take_out")),
    button("spare", () => { now.spared.push(p.item); askRules(); })) : null,
    out.length ? [el("h3", {}, say("are_out")), el("ul", {}, out.map((one) => el("li", {},
      el("b", {}, one.item), " ", one.wording, " (", one.why, ") ", closed ? null
        : el("button", { type: "button", onclick: () => ask({ restore: one.item }) },
          say("put_back")))))]
      : null,
    now.asking && now.asking.decision.restore ? reasonView() : null);
}

// ---- Scales and scores.

function trustView() {
  const trust = now.trust;
  const of = (name, list, key) => (list || []).find((one) => one[key] === name) || {};
  return el("section", { id: "trust" }, el("h2", {}, say("scales")),
    el("div", { class: "pattern", tabindex: 0 }, el("table", { class: "plain" },
      el("thead", {}, el("tr", {}, ["scale", "n_items", "people", "omega", "limits_95", "alpha",
        "determinacy"].map((key) => el("th", { scope: "col" }, say(key))))),
      el("tbody", {}, shown().scales.map((one) => {
        const own = of(one.scale, trust && trust.scales, "scale");
        const score = of(one.scale, trust && trust.scores, "factor");
        return el("tr", {}, el("th", { scope: "row" }, one.scale), el("td", {}, one.items),
          el("td", {}, one.n), el("td", {}, unit(one.omega)),
          el("td", {}, own.lower != null ? `${unit(own.lower)} ${say("to")} ${unit(own.upper)}`
            : under("trust") ? wait() : ""),
          el("td", {}, unit(one.alpha)), el("td", {}, score.determinacy != null
            ? unit(score.determinacy) : under("trust") ? wait() : ""));
      })))), el("p", { class: "quiet" }, say("scales_about")),
    shown().findings.length ? [el("h3", {}, say("to_look_at")), el("ul", {}, shown().findings.map(
      (one) => el("li", { class: one.severity }, one.text)))] : null);
}

// ---- The trail, and the end.

function trailView() {
  const own = now.study.decisions;
  return el("section", { id: "trail" }, el("h2", {}, say("trail")),
    el("p", { class: "quiet" }, say("trail_about", { file: now.study.file })),
    now.study.read_only ? null : el("div", { class: "buttons" },
      button("undo", () => send({ word: "undo" }), { disabled: !own.length }),
      button("redo", () => send({ word: "redo" }), { disabled: !now.study.undone })),
    el("ol", {}, own.map((one, i) => el("li", {}, el("b", {}, say("did_" + one.decision)), " ",
      one.choice,
      one.why ? `: ${one.why}` : "", el("span", { class: "quiet" },
        [one.who, one.when, one.numbers].filter(Boolean).map((text) => ` - ${text}`)), " ",
      el("button", { type: "button", onclick: () => send({ word: "until", upto: i }) },
        say("until_before"))))));
}

function finishView() {
  const w = now.written;
  return el("section", { id: "finish" }, el("h2", {}, say("finish")),
    el("p", { class: "quiet" }, say("finish_about", { folder: now.study.results || "" })),
    el("div", { class: "buttons" }, button("write", () => send({ word: "write" })),
      button("end", () => { send({ word: "end" });
        document.getElementById("sheet").replaceChildren(el("main", {}, el("h1", {},
          say("ended")))); })),
    under("written") ? wait() : null,
    w ? el("p", { role: "status" }, w.stopped || say("written", { files: w.files,
      folder: w.folder }), " ",
      el("a", { href: "/report", target: "_blank", rel: "noopener" }, say("open_report"))) : null);
}

function helpView() {
  return el("details", { id: "keys_help" }, el("summary", {}, say("keys")), el("dl", {},
    ["arrows", "alt_arrows", "x", "p", "u", "question"].map((key) => [el("dt", {},
      say("key_" + key)),
      el("dd", {}, say("key_" + key + "_does"))])));
}

// ---- A study that begins from a file of answers.

function beginView() {
  const roles = ["item", "reversed", "id", "group", "weight", "check", "left out"];
  const changed = now.roles || (now.roles = {});
  return el("main", { class: "begin" }, el("h1", {}, say("begin", { file: now.columns.answers })),
    el("p", {}, say("begin_about")), now.problem ? el("p", { class: "notices", role: "status" },
      now.problem) : null,
    el("div", { class: "pattern", tabindex: 0 }, el("table", { class: "plain" }, el("thead", {},
      el("tr", {},
      ["column", "what_it_is", "because"].map((key) => el("th", { scope: "col" }, say(key))))),
    el("tbody", {}, now.columns.value.map((one, i) => el("tr", {}, el("th", { scope: "row" },
      one.column),
      el("td", {}, el("select", { id: "role_" + i, "aria-label": say("role_of",
        { column: one.column }),
        onchange: (e) => { changed[one.column] = e.target.value; } }, roles.map((role) =>
        el("option", { value: role, selected: (changed[one.column] || one.role) === role },
          say("role_" + role.replace(" ", "_")))))), el("td", {}, one.why)))))),
    el("div", { class: "buttons" }, button("begin_it", () => send({ word: "begin",
      roles: changed }))));
}

document.addEventListener("pointerdown", () => { held.down = true; });
for (const over of ["pointerup", "pointercancel"]) document.addEventListener(over, letGo);
document.addEventListener("focusout", (e) => {
  if (e.target.tagName === "SELECT" && !held.drawing) letGo();
});
document.addEventListener("DOMContentLoaded", () => {
  const start = () => Shiny.addCustomMessageHandler("page", hear);
  if (window.Shiny && Shiny.addCustomMessageHandler) start();
  else document.addEventListener("shiny:connected", start);
});

// The editor of the desk: what is typed goes to R a moment later; problems are underlined, words of the rules
// coloured and completed.
(() => {
  "use strict";
  const pause = 300;
  let words = [], problems = [], name = null, timer = null, box = null, lit = null;

  const holder = id => document.getElementById(id);
  const ready = (id, then) => {
    const element = holder(id);
    if (element && element.prismEditor) then(element.prismEditor, element);
    else setTimeout(() => ready(id, then), 50);
  };
  const input = id => id.replace(/text$/, "typed");

  const send = (id, editor) => {
    clearTimeout(timer);
    timer = null;
    if (name !== null) Shiny.setInputValue(input(id), { name, text: editor.value }, { priority: "event" });
  };

  // What was typed last goes before whatever is clicked or chosen: Save saves it, another file leaves it as a draft.
  const hurry = () => { if (timer) watched.forEach(id => send(id, holder(id).prismEditor)); };

  const watched = new Set();
  const watch = id => ready(id, editor => {
    if (watched.has(id)) return;
    watched.add(id);
    editor.textarea.setAttribute("aria-label", "Rules of the game");
    editor.textarea.setAttribute("aria-describedby", "desk-leave");
    editor.textarea.spellcheck = false;
    editor.on("update", () => {
      clearTimeout(timer);
      timer = setTimeout(() => send(id, editor), pause);
      lit = null;
      colour(editor);
    });
    editor.textarea.addEventListener("keydown", e => complete(editor, e), true);
    editor.textarea.addEventListener("input", () => offer(editor));
    editor.textarea.addEventListener("blur", () => setTimeout(closeOffer, 150));
    colour(editor);
  });

  // A place of the text, counted in characters.
  const at = (text, line, column) => {
    let from = 0;
    for (let k = 1; k < line; k++) from = text.indexOf("\n", from) + 1;
    const row = text.slice(from).split("\n", 1)[0];
    return from + [...row].slice(0, column - 1).join("").length;
  };

  // Ranges of the page for places of the text: its lines are elements.
  const range = (editor, line, from, to) => {
    const row = editor.lines[line];
    if (!row) return null;
    const walker = document.createTreeWalker(row, NodeFilter.SHOW_TEXT);
    const found = document.createRange();
    let passed = 0, begun = false;
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      const end = passed + node.length;
      if (!begun && from < end) { found.setStart(node, from - passed); begun = true; }
      if (begun && to <= end) { found.setEnd(node, Math.max(to - passed, 0)); return found; }
      passed = end;
    }
    return null;
  };

  const colour = editor => {
    [...editor.lines].forEach((row, k) => row && row.classList.toggle("desk-lit", k === lit));
    if (!window.CSS || !CSS.highlights) return;
    const rows = editor.value.split("\n");
    const of_words = [], of_problems = [];
    const known = new Set(words);
    rows.forEach((row, k) => {
      const code = row.replace(/"[^"]*"?/g, text => " ".repeat(text.length)).replace(/#.*/, "");
      for (const word of code.matchAll(/[A-Za-z_]\w*/g)) if (known.has(word[0]))
        of_words.push(range(editor, k + 1, word.index, word.index + word[0].length));
    });
    for (const p of problems) {
      if (!p.line) continue;
      const row = rows[p.line - 1] || "";
      const to = p.last_line === p.line ? p.last_column : row.length;
      of_problems.push(range(editor, p.line, p.column - 1, Math.max(to, p.column)));
    }
    CSS.highlights.set("desk-word", new Highlight(...of_words.filter(Boolean)));
    CSS.highlights.set("desk-problem", new Highlight(...of_problems.filter(Boolean)));
  };

  // Other text in the place of a part of it, so that it can be undone.
  const put = (editor, from, to, text) => {
    editor.textarea.focus();
    editor.textarea.setSelectionRange(from, to);
    document.execCommand(text === "" ? "delete" : "insertText", false, text);
  };

  // Completion: names that begin as what stands before the cursor, chosen by arrows and Enter or Tab.
  const begun = editor => {
    const area = editor.textarea;
    const before = area.value.slice(0, area.selectionStart).match(/[A-Za-z_]\w*$/);
    return before && before[0].length > 1 ? before[0] : null;
  };
  const closeOffer = () => { if (box) box.remove(); box = null; };
  const offer = editor => {
    closeOffer();
    const start = begun(editor);
    if (!start) return;
    const own = editor.value.match(/[A-Za-z_]\w*/g) || [];
    const fits = [...new Set([...words, ...own])].filter(w => w.startsWith(start) && w !== start).sort().slice(0, 8);
    if (fits.length === 0) return;
    box = document.createElement("ul");
    box.className = "desk-offer";
    box.setAttribute("role", "listbox");
    box.setAttribute("aria-label", "Names that fit");
    fits.forEach((word, k) => {
      const item = document.createElement("li");
      item.textContent = word;
      item.setAttribute("role", "option");
      item.setAttribute("aria-selected", String(k === 0));
      item.addEventListener("mousedown", e => { e.preventDefault(); take(editor, word); });
      box.append(item);
    });
    const before = editor.value.slice(0, editor.textarea.selectionStart).split("\n");
    const row = editor.lines[before.length];
    const place = row && range(editor, before.length, Math.max(before.at(-1).length - 1, 0), before.at(-1).length);
    const corner = place ? place.getBoundingClientRect() : editor.textarea.getBoundingClientRect();
    box.style.left = `${Math.min(corner.right, innerWidth - 220)}px`;
    box.style.top = `${Math.min(corner.bottom + 2, innerHeight - 180)}px`;
    document.body.append(box);
  };
  const take = (editor, word) => {
    const start = begun(editor);
    const to = editor.textarea.selectionStart;
    put(editor, to - (start ? start.length : 0), to, word);
    closeOffer();
  };
  // Tab indents the text. Behind Escape it goes on to the next field, so that the keyboard alone gets out.
  let leaving = false;
  const leave = e => {
    if (e.key === "Tab" && leaving) e.stopImmediatePropagation();
    if (e.key !== "Shift") leaving = e.key === "Escape" && !box;
  };
  const complete = (editor, e) => {
    leave(e);
    if (!box) return;
    const items = [...box.children];
    const now = items.findIndex(i => i.getAttribute("aria-selected") === "true");
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
    if (step) {
      items[now].setAttribute("aria-selected", "false");
      items[(now + step + items.length) % items.length].setAttribute("aria-selected", "true");
    } else if (e.key === "Enter" || e.key === "Tab") take(editor, items[now].textContent);
    else if (e.key === "Escape") closeOffer();
    else return;
    e.preventDefault();
    e.stopImmediatePropagation();
  };

  const shown_editor = () => [...watched].map(id => holder(id).prismEditor)[0];

  const go = (line, column) => {
    const editor = shown_editor();
    const place = at(editor.value, line, column);
    editor.textarea.focus();
    editor.textarea.setSelectionRange(place, place);
    if (editor.lines[line]) editor.lines[line].scrollIntoView({ block: "center" });
  };

  // A round: the step that is looked at, and its line lit in the rules.
  const look_at = (round, number, focus) => {
    const steps = [...round.querySelectorAll(".desk-step")];
    const step = steps[Math.max(1, Math.min(number, steps.length)) - 1];
    if (!step) return;
    steps.forEach(other => other.removeAttribute("aria-current"));
    step.setAttribute("aria-current", "step");
    round.querySelector(".desk-step-number").textContent = `Step ${step.dataset.deskStep} of ${steps.length}`;
    round.querySelector(".desk-now").textContent = step.dataset.deskNow;
    step.scrollIntoView({ block: "nearest" });
    if (focus) step.focus();
    const editor = shown_editor();
    lit = Number(step.dataset.deskLit) || null;
    colour(editor);
    if (lit && editor.lines[lit] && innerWidth > 991) editor.lines[lit].scrollIntoView({ block: "nearest" });
  };
  const step_now = round => {
    const step = round.querySelector("[aria-current]");
    return step ? Number(step.dataset.deskStep) : 0;
  };

  // On a narrow screen a table is a list of cards: each cell says which column it is of.
  const label_cells = () => document.querySelectorAll(".desk table").forEach(table => {
    const names = [...table.querySelectorAll("thead th")].map(cell => cell.textContent);
    table.querySelectorAll("tbody tr").forEach(row => [...row.children].forEach((cell, k) => {
      cell.dataset.label = names[k] || "";
    }));
  });

  for (const event of ["click", "change"]) document.addEventListener(event, hurry, true);
  window.addEventListener("pagehide", hurry);
  document.addEventListener("click", e => {
    const line = e.target.closest("[data-desk-line]");
    if (line) go(Number(line.dataset.deskLine), Number(line.dataset.deskColumn));
    const asked = e.target.closest("[data-desk-input]");
    if (asked) Shiny.setInputValue(asked.dataset.deskInput, asked.dataset.deskValue, { priority: "event" });
    const step = e.target.closest("[data-desk-step], [data-desk-move]");
    if (step) {
      const round = step.closest(".desk-round");
      look_at(round, Number(step.dataset.deskStep) || step_now(round) + Number(step.dataset.deskMove));
    }
  });
  document.addEventListener("keydown", e => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[e.key];
    const step = by && e.target.closest(".desk-step");
    if (!step) return;
    e.preventDefault();
    look_at(step.closest(".desk-round"), Number(step.dataset.deskStep) + by, true);
  });
  document.addEventListener("keydown", e => {
    if ((e.ctrlKey || e.metaKey) && e.key === "s") {
      e.preventDefault();
      hurry();
      const save = document.querySelector("[id$='-save']");
      if (save) save.click();
    }
  });

  document.addEventListener("DOMContentLoaded", () => {
    $(document).on("shiny:value", () => setTimeout(() => {
      label_cells();
      document.querySelectorAll(".desk-round").forEach(round => { if (step_now(round) === 0) look_at(round, 1); });
    }));
    const on = (message, does) => Shiny.addCustomMessageHandler(message, does);
    on("desk-show", ({ editor, text, keep }) => ready(editor, made => {
      watch(editor);
      if (keep) put(made, 0, made.value.length, text);
      else { made.setOptions({ value: text }); colour(made); }
    }));
    on("desk-name", message => { name = message.name; });
    on("desk-words", message => { words = message.words; ready(message.editor, colour); });
    on("desk-problems", message => { problems = message.problems; ready(message.editor, colour); });
    on("desk-put-in", p => ready(p.editor, made =>
      put(made, at(made.value, p.line, p.column), at(made.value, p.last_line, p.last_column + 1), p.put_in)));
  });
})();

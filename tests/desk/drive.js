// Goes through the desk in a browser and says what it saw, as JSON: one object, a field a step.
// Arguments: the address, the browser, a folder for pictures or "-".
const { chromium } = require(require.resolve("playwright-core", { paths: [process.cwd()] }));

const [address, browser, pictures] = process.argv.slice(2);
const seen = { errors: [], requests: [] };
const patience = { timeout: 60000 };

const type = (page, old, text) => page.evaluate(([old, text]) => {
  const editor = document.querySelector("bslib-code-editor").prismEditor;
  const from = editor.value.indexOf(old);
  editor.textarea.focus();
  editor.textarea.setSelectionRange(from, from + old.length);
  document.execCommand("insertText", false, text);
}, [old, text]);
const text = page => page.evaluate(() => document.querySelector("bslib-code-editor").prismEditor.value);
const line = async (page, start) => (await text(page)).split("\n").find(row => row.startsWith(start));
const holds = (page, part) => page.waitForFunction(
  part => document.querySelector("bslib-code-editor").prismEditor.value.includes(part), part, patience);
const stands = (page, words) => page.waitForFunction(
  words => document.querySelector(".desk-state").textContent.trim() === words, words, patience);
const state = async page => (await page.textContent(".desk-state")).trim();
const picture = (page, name) => pictures === "-" ? null : page.screenshot({ path: `${pictures}/${name}.png` });
const odds = page => page.waitForSelector("#odds-odds .desk-result:not(.desk-stale) table", patience);

(async () => {
  const started = await chromium.launch({ executablePath: browser, args: ["--no-sandbox"] });
  const context = await started.newContext({ viewport: { width: 1280, height: 800 } });
  const open = async () => {
    const page = await context.newPage();
    page.on("pageerror", e => seen.errors.push(e.message));
    page.on("dialog", dialog => { seen.errors.push(`a dialog: ${dialog.message()}`); dialog.dismiss(); });
    page.on("request", r => seen.requests.push(new URL(r.url()).hostname));
    await page.goto(address);
    return page;
  };
  let page = await open();
  await odds(page);
  await picture(page, "odds");

  // the keyboard alone gets into the text, out again, and to everything else
  const active = () => page.evaluate(() => {
    const e = document.activeElement;
    return (e.getAttribute("aria-label") || e.textContent).trim();
  });
  const tab_to = async name => {
    for (let k = 0; k < 60 && (await active()) !== name; k++) {
      if ((await active()) === "Rules of the game") await page.keyboard.press("Escape");
      await page.keyboard.press("Tab");
    }
    return (await active()) === name;
  };
  const before = await text(page);
  seen.keyboard = [await tab_to("Rules of the game"), await tab_to("Odds")];
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowRight");
  seen.keyboard.push(await tab_to("New round"));
  await page.keyboard.press("Space");
  await page.waitForSelector("#play-answers button", patience);
  seen.keyboard.push(await tab_to("stand"));
  await page.keyboard.press("Enter");
  await page.waitForSelector("#play-score:has-text('1 round so far')", patience);
  seen.keyboard.push((await text(page)) === before);
  await page.click("a:has-text('Odds')");

  await type(page, "roll(tile)", "rol(tile)");
  await page.waitForSelector(".desk-problems li");
  seen.problem = (await page.textContent(".desk-problems li")).replace(/\s+/g, " ").trim();
  seen.underlined = await page.evaluate(() => CSS.highlights.get("desk-problem").size);
  seen.stale = await page.evaluate(() => !!document.querySelector("#odds-odds .desk-stale"));
  await picture(page, "problem");
  await page.click("text=Put in roll");
  await page.waitForSelector(".desk-good", patience);
  await stands(page, "saved");

  await type(page, "setting(18", "setting(17");
  // on a busy machine the odds wait for a click
  await page.waitForSelector(".desk-changed li, #odds-work_out", patience);
  if (await page.$("#odds-work_out")) await page.click("#odds-work_out");
  await page.waitForSelector(".desk-changed li", patience);
  seen.moved = await page.$$eval(".desk-changed li", items => items.map(i => i.textContent));
  seen.state = await state(page);

  // the sliders are drawn anew with what the check found
  await page.waitForSelector("text=keeper stands (17 in the rules)", { ...patience, state: "attached" });
  await page.click("summary");
  await page.evaluate(() => {
    const aim = $("[id^='turn-knob_'][id$='_3']");
    aim.data("ionRangeSlider").update({ from: 22 });
    aim.trigger("change");
  });
  await page.waitForSelector("text=Turned: aim = 22.", patience);
  await page.waitForTimeout(2000);
  await picture(page, "turned");
  await page.click("text=Write into the rules", patience);
  await holds(page, "setting(22");
  seen.written = await line(page, "aim ");

  await stands(page, "not saved");
  await page.waitForTimeout(1000);
  await page.reload();
  await page.waitForSelector(".desk-notice", patience);
  seen.draft = [await line(page, "aim "), await line(page, "keeper_stands ")];
  await page.click("text=Save my text");
  await stands(page, "saved");

  await page.click("a:has-text('It should')");
  await page.selectOption("#balance-measure", "edge(guest)");
  await page.fill("#balance-low", "12");
  await page.fill("#balance-high", "8");
  await page.waitForTimeout(500);
  await page.click("#balance-add_target");
  await page.selectOption("#balance-knob", "aim");
  // its range is filled in
  await page.waitForFunction(() => document.querySelector("#balance-most").value === "32", null, patience);
  await page.fill("#balance-least", "20");
  await page.fill("#balance-most", "26");
  await page.waitForTimeout(500);
  await page.click("#balance-add_knob");
  await page.waitForFunction(() => document.querySelector("#balance-knobs").value === "aim in 20..26", null, patience);
  seen.target = await page.inputValue("#balance-want");
  await page.fill("#balance-knobs", "aim in 20..26\npay(bright) in 1..4");
  await page.waitForTimeout(500);
  await page.click("#balance-work_out");
  await page.waitForSelector("#balance-result .desk-result", patience);
  seen.balance = await page.textContent("#balance-result");
  await picture(page, "balance");

  await page.click("a:has-text('A round')");
  await page.fill("#trace-where", "bright");
  await page.waitForTimeout(500);
  await page.click("#trace-work_out");
  await page.waitForSelector("#trace-result pre", patience);
  seen.trace = await page.textContent("#trace-result");
  // forward by a click, back by a key
  const lit = () => page.evaluate(() => [document.querySelector(".desk-step-number").textContent,
    document.querySelector(".desk-step[aria-current]").textContent, document.querySelector(".desk-now").textContent,
    [...document.querySelectorAll(".desk-lit")].map(row => row.textContent.trim()).join("|")]);
  seen.steps = [await lit()];
  for (let k = 0; k < 3; k++) await page.click("text=Forward");
  seen.steps.push(await lit());
  await page.focus(".desk-step[aria-current]");
  await page.keyboard.press("ArrowUp");
  seen.steps.push(await lit());
  await picture(page, "round");

  await page.click("a:has-text('Players')");
  await page.selectOption("#players-other", "bold");
  await page.selectOption("#players-player", "careful");
  await page.waitForTimeout(500);
  await page.click("#players-work_out");
  await page.waitForSelector("#players-result .desk-result", patience);
  seen.players = await page.textContent("#players-result");

  await page.click("a:has-text('Play')");
  await page.check("#play-keep");
  await page.waitForTimeout(300);
  await page.click("#play-start");
  await page.waitForSelector("#play-answers button", patience);
  seen.choices = await page.$$eval("#play-answers button", buttons => buttons.map(b => b.textContent));
  await page.click("#play-answers button:has-text('stand')");
  await page.waitForSelector("#play-score:has-text('1 round so far')", patience);
  seen.played = await page.textContent("#play-round");
  await picture(page, "play");

  await page.click("a:has-text('Report')");
  await page.click("#report-work_out");
  await page.click("#report-stop", patience);
  const stopped = Date.now();
  await page.waitForSelector("#report-result .desk-bad", patience);
  seen.stopped = [(Date.now() - stopped) / 1000, (await page.textContent("#report-result")).trim()];

  // A page that was written is shown to this browser, and to no other.
  seen.page = await page.evaluate(async () => {
    const answer = await fetch("pages/made.html");
    return [String(answer.status), answer.headers.get("content-security-policy"), (await answer.text()).trim()];
  });
  seen.page.push(String((await fetch(new URL("pages/made.html", address))).status));

  // Save takes what was typed in the moment before.
  await type(page, "setting(1, ", "setting(2, ");
  await page.click("#write-save");
  await page.waitForTimeout(1500);
  seen.hurried = await state(page);

  // Two tabs on one file: the second is asked before it takes the place of what the first has saved.
  const other = await open();
  await odds(other);
  await type(page, "setting(22", "setting(23");
  await stands(page, "not saved");
  await type(other, "setting(22", "setting(24");
  await stands(other, "not saved");
  await page.keyboard.press("Control+s");
  await stands(page, "saved");
  await other.waitForSelector(".desk-notice", patience);
  seen.asked = (await other.textContent(".desk-notice")).replace(/\s+/g, " ").trim();
  await other.click("text=Take the file's text");
  await holds(other, "setting(23");
  await other.close();

  await type(page, "\"Lantern Tiles\"", "\"<img src=x onerror=alert(1)>\"");
  await page.waitForTimeout(700);
  await page.click("a:has-text('Rule card')");
  await page.waitForSelector("h2:has-text('onerror')", patience);
  seen.hostile = await page.evaluate(() => document.querySelectorAll(".desk img").length);

  seen.wide = [];
  for (const width of [1280, 800, 480]) {
    await page.setViewportSize({ width, height: 1000 });
    await page.waitForTimeout(300);
    seen.wide.push(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth));
  }
  await picture(page, "narrow");
  await page.click("a:has-text('Odds')");
  await page.waitForFunction(() => {
    const cell = document.querySelector("#odds-odds tbody td");
    return cell && cell.dataset.label;
  }, null, patience);
  seen.cards = await page.evaluate(() => [...document.querySelectorAll("#odds-odds tbody td")].slice(0, 2)
    .map(cell => [getComputedStyle(cell).display, cell.dataset.label]));
  seen.unnamed = await page.evaluate(() => [...document.querySelectorAll("input, select, textarea, button")].filter(e =>
    !(e.labels && e.labels.length) && !e.getAttribute("aria-label") && !e.textContent.trim() && !e.title &&
    e.type !== "hidden" && !e.closest("[hidden]")).map(e => e.outerHTML.slice(0, 120)));
  await started.close();
  console.log(JSON.stringify(seen));
})().catch(e => {
  console.error(e.message);
  console.log(JSON.stringify(seen));
  process.exit(1);
});

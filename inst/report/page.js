// What if: a slider a setting picks one of the combinations that were worked out, and the page shows its numbers.
"use strict";
for (const box of document.querySelectorAll("[data-what-if]")) {
  const data = JSON.parse(box.querySelector("script[type='application/json']").textContent);
  const sliders = [...box.querySelectorAll("input[type=range]")];
  const today = data.settings.map(s => s.now);
  const index = at => at.reduce((k, value, i) => k * data.settings[i].values.length + value, 0);
  const format = (value, kind, sign) => {
    if (value === null) return "-";
    const text = kind === "number" ? value.toFixed(3) : (100 * value).toFixed(2) + (sign ? " points" : "%");
    return sign && value >= 0 ? "+" + text : text;
  };
  const curve = (at, chosen) => {
    const place = box.querySelector("[data-curve]");
    const main = data.measures[0].kind;
    const points = data.settings[chosen].values.map((_, k) =>
      data.values[index(at.map((value, i) => i === chosen ? k : value))][0]);
    const known = points.filter(v => v !== null);
    const low = Math.min(...known), high = Math.max(...known), span = high - low || 1;
    const x = k => 60 + 500 * (points.length > 1 ? k / (points.length - 1) : 0.5);
    const y = v => 150 - 120 * (v - low) / span;
    const text = (px, py, anchor, said) => `<text x="${px}" y="${py}" text-anchor="${anchor}" font-size="13" fill="var(--soft)">${said}</text>`;
    const name = data.settings[chosen].name.replaceAll("_", " ");
    place.innerHTML = `<svg viewBox="0 0 600 206" role="img" aria-label="${data.measures[0].name} by ${name}: from ` +
      `${format(points[0], main)} to ${format(points[points.length - 1], main)}">` +
      `<polyline fill="none" stroke="var(--mist)" stroke-width="3" points="${points.map((v, k) => v === null ? "" : x(k) + "," + y(v)).join(" ")}"/>` +
      points.map((v, k) => v === null ? "" :
        `<circle cx="${x(k)}" cy="${y(v)}" r="${k === at[chosen] ? 7 : 4}" fill="var(${k === at[chosen] ? "--ember" : "--ink"})"/>` +
        text(x(k), y(v) - 12, "middle", format(v, main)) + text(x(k), 178, "middle", data.settings[chosen].values[k])).join("") +
      text(310, 197, "middle", `${name}; the height is: ${data.measures[0].name}`) + "</svg>";
  };
  const show = chosen => {
    const at = sliders.map(s => Number(s.value));
    sliders.forEach((s, i) => {
      const said = data.settings[i].values[at[i]];
      s.setAttribute("aria-valuetext", said);
      s.parentElement.querySelector("output").textContent = said;
    });
    const now = data.values[index(at)], before = data.values[index(today)];
    data.measures.forEach((m, k) => {
      const row = box.querySelector(`[data-measure="${k}"]`);
      row.querySelector(".chosen").textContent = format(now[k], m.kind);
      row.querySelector(".change").textContent = now[k] === null ? "-" : format(now[k] - before[k], m.kind, true);
      const bar = row.querySelector(".bar");
      if (bar) bar.style.width = 100 * (now[k] || 0) / data.widest + "%";
    });
    curve(at, chosen);
  };
  sliders.forEach((s, i) => s.addEventListener("input", () => show(i)));
  box.querySelector("button").addEventListener("click", () => {
    sliders.forEach((s, i) => { s.value = today[i]; });
    show(0);
  });
  box.querySelector(".turn").hidden = false;
  show(0);
}

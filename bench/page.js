// Clicks on a page and times what is shown: node page.js URL NODE_MODULES CHROMIUM N
// Prints {thought: [...], once: [...], undo: [...]} in milliseconds from click to new numbers.
const [url, modules, chromium, n] = process.argv.slice(2);
const { chromium: browser_type } = require(require("path").resolve(modules, "playwright-core"));

(async () => {
  const browser = await browser_type.launch({ executablePath: chromium, args: ["--no-sandbox"] });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(url);
  await page.waitForSelector("tr[data-item]", { timeout: 120000 });
  const out = { thought: [], once: [], undo: [] };
  const count = () => page.$eval(".sentence", (one) => parseInt(one.textContent, 10));
  const shows = async (wanted, kind, from) => {
    await page.waitForFunction((k) => parseInt(document.querySelector(".sentence").textContent,
      10) === k,
      wanted, { timeout: 60000, polling: 10 });
    out[kind].push(Date.now() - from);
  };
  for (let i = 0; i < Number(n); i++) {
    const there = await count();
    const rows = await page.$$eval("tr[data-item]", (all) => all.map((one) => one.dataset.item));
    await page.click(`tr[data-item="${rows[(7 * i + 3) % rows.length]}"]`);
    const thought = i % 2 === 0;
    if (thought) {
      await page.waitForFunction(() => document.querySelector(".weighed"), null,
        { timeout: 60000 });
      if (Number(n) < 50) await page.waitForTimeout(2500);
    }
    await page.keyboard.press("x");
    let from = Date.now();
    await page.keyboard.press("Enter");
    await shows(there - 1, thought ? "thought" : "once", from);
    await page.waitForTimeout(Number(n) < 50 ? 3000 : 100);
    from = Date.now();
    await page.click("#b_undo");
    await shows(there, "undo", from);
    await page.waitForTimeout(Number(n) < 50 ? 1000 : 100);
  }
  console.log(JSON.stringify(out));
  await browser.close();
})();

// Two pictures of the page: node page.js URL FOLDER NODE_MODULES
const [url, folder, modules] = process.argv.slice(2);
const { chromium } = require(require("path").resolve(modules, "playwright-core"));
(async () => {
  const browser = await chromium.launch({ executablePath: "/usr/bin/chromium",
    args: ["--no-sandbox"] });
  for (const [name, width, height] of [["sift", 1280, 800], ["sift-phone", 390, 844]]) {
    const page = await browser.newPage({ viewport: { width, height } });
    await page.goto(url);
    await page.waitForSelector("tr[data-item=p6]");
    await page.click("tr[data-item=p6]");
    await page.waitForFunction(() => !document.querySelector("aside .wait"), null,
      { timeout: 90000 });
    await page.evaluate(() => window.scrollTo(0, window.innerWidth < 500 ? 330 : 0));
    await page.screenshot({ path: folder + "/" + name + ".png" });
    await page.close();
  }
  await browser.close();
})();

// Measures the lap and a stop of the demo town as a phone gets them for the first time: slow
// 4G, a processor four times slower, nothing kept. Prints one table; refuses nothing.
import { spawn } from "node:child_process";
import { launch } from "chrome-launcher";
import lighthouse from "lighthouse";
import puppeteer from "puppeteer-core";

const [binary = "./bin/fairlap"] = process.argv.slice(2);
const address = "127.0.0.1:18099";
const base = `http://${address}`;
const chrome = process.env.CHROME ?? "/usr/bin/chromium";

const server = spawn(binary, ["demo", "--listen", address], { stdio: "ignore" });
const answers = async () => {
  for (let i = 0; i < 240; i++) {
    try {
      await fetch(`${base}/api/v1/me`);
      return;
    } catch {
      await new Promise((r) => setTimeout(r, 250));
    }
  }
  throw new Error("the demo did not start");
};

/** A session of the demo's technician, and the address of the stop where they stand. */
async function signedIn() {
  const answer = await fetch(`${base}/api/v1/demo/sign-in`, {
    method: "POST",
    headers: { "Content-Type": "application/json", Origin: base },
    body: JSON.stringify({ role: "technician" }),
  });
  const cookie = answer.headers.getSetCookie().map((c) => c.split(";")[0]).join("; ");
  const lap = await (await fetch(`${base}/api/v1/lap`, { headers: { Cookie: cookie } })).json();
  return { cookie, stop: `${base}/stops/${lap.stops.find((s) => s.state === "here").id}` };
}

const kB = (bytes) => Math.round(bytes / 1000);

/** How often each page is measured: the run in the middle is told, of a page by its performance. */
const runs = 5;

async function measure(url, cookie, port) {
  const seen = [];
  for (let i = 0; i < runs; i++) seen.push(await once(url, cookie, port));
  return seen.sort((a, b) => a.performance - b.performance)[Math.floor(runs / 2)];
}

async function once(url, cookie, port) {
  const { lhr } = await lighthouse(url, {
    port,
    output: "json",
    formFactor: "mobile",
    onlyCategories: ["performance", "accessibility", "best-practices"],
    extraHeaders: { Cookie: cookie },
  });
  if (lhr.runtimeError) throw new Error(`${url}: ${lhr.runtimeError.message}`);
  const requests = lhr.audits["network-requests"].details.items;
  const sum = (of) => requests.filter(of).reduce((n, r) => n + r.transferSize, 0);
  return {
    "transferred, kB": kB(sum(() => true)),
    "of it script, kB": kB(sum((r) => r.resourceType === "Script")),
    "LCP, s": (lhr.audits["largest-contentful-paint"].numericValue / 1000).toFixed(1),
    "blocked, ms": Math.round(lhr.audits["total-blocking-time"].numericValue),
    "layout shift": lhr.audits["cumulative-layout-shift"].numericValue.toFixed(3),
    performance: lhr.categories.performance.score,
    accessibility: lhr.categories.accessibility.score,
    "best practices": lhr.categories["best-practices"].score,
  };
}

/** The middle one of as many tries of the worst of fifty presses. */
async function worstPress(stop, cookie) {
  const seen = [];
  for (let i = 0; i < runs; i++) seen.push(await worstOfFifty(stop, cookie));
  return seen.sort((a, b) => a - b)[Math.floor(runs / 2)];
}

/** The worst of fifty keys and taps at a stop, milliseconds from the press to what it shows. */
async function worstOfFifty(stop, cookie) {
  const browser = await puppeteer.launch({ executablePath: chrome, args: ["--no-sandbox"] });
  try {
    const page = await browser.newPage();
    await page.setViewport({ width: 390, height: 844, isMobile: true, hasTouch: true });
    await page.setExtraHTTPHeaders({ Cookie: cookie });
    await page.goto(stop, { waitUntil: "networkidle0" });
    await page.emulateCPUThrottling(4);
    await page.evaluate(() => {
      window.worst = 0;
      new PerformanceObserver((list) => {
        for (const e of list.getEntries()) if (e.interactionId) window.worst = Math.max(window.worst, e.duration);
      }).observe({ type: "event", durationThreshold: 16, buffered: true });
    });
    for (let i = 0; i < 10; i++) {
      await page.focus("#reading-0-tank");
      await page.keyboard.type("14.5");
      for (let k = 0; k < 4; k++) await page.keyboard.press("Backspace");
      await page.tap("#reading-0-speed");
      await new Promise((r) => setTimeout(r, 120));
    }
    await new Promise((r) => setTimeout(r, 1000));
    return await page.evaluate(() => Math.round(window.worst));
  } finally {
    await browser.close();
  }
}

/**
 * How soon the app starts on a slow phone that has it, with a slow line and with none: its largest
 * paint, and until the day's stops are drawn. Says too whether a browser would install it.
 */
async function starts(cookie) {
  const browser = await puppeteer.launch({ executablePath: chrome, args: ["--no-sandbox"] });
  try {
    const page = await browser.newPage();
    await page.setViewport({ width: 390, height: 844, isMobile: true, hasTouch: true });
    await page.setCookie(...cookie.split("; ").map((c) => ({ name: c.split("=")[0], value: c.split("=")[1], url: base })));
    await page.goto(base, { waitUntil: "networkidle0" });
    await page.evaluate(() => navigator.serviceWorker.ready);
    await new Promise((r) => setTimeout(r, 8000)); // the day is brought once the page is quiet
    const devtools = await page.createCDPSession();
    const { installabilityErrors } = await devtools.send("Page.getInstallabilityErrors");
    const start = async () => {
      await page.goto("about:blank");
      await page.emulateCPUThrottling(4);
      await page.goto(base, { waitUntil: "domcontentloaded" });
      await page.waitForSelector("#stops a");
      await new Promise((r) => setTimeout(r, 500));
      return await page.evaluate(() => [Math.round(window.largest), Math.round(window.drawn)]);
    };
    const middle = async () => {
      const seen = [];
      for (let i = 0; i < runs; i++) seen.push(await start());
      return [0, 1].map((k) => seen.map((s) => s[k]).sort((a, b) => a - b)[Math.floor(runs / 2)]);
    };
    await page.evaluateOnNewDocument(() => {
      new PerformanceObserver((list) => {
        window.largest = list.getEntries().at(-1).startTime;
      }).observe({ type: "largest-contentful-paint", buffered: true });
      new MutationObserver((_, watch) => {
        if (!document.querySelector("#stops a")) return;
        window.drawn = performance.now();
        watch.disconnect();
      }).observe(document, { childList: true, subtree: true });
    });
    await page.emulateNetworkConditions({ download: 1.6e6 / 8, upload: 750e3 / 8, latency: 150 });
    const again = await middle();
    server.kill();
    const without = await middle();
    return {
      "repeat start: largest paint, ms": again[0],
      "stops drawn, ms": again[1],
      "without a line: largest paint, ms": without[0],
      "without a line: stops drawn, ms": without[1],
      installable: installabilityErrors.length === 0 ? "yes" : installabilityErrors.map((e) => e.errorId).join(", "),
    };
  } finally {
    await browser.close();
  }
}

try {
  await answers();
  const { cookie, stop } = await signedIn();
  const browser = await launch({ chromePath: chrome, chromeFlags: ["--headless=new", "--no-sandbox"] });
  try {
    const table = { lap: await measure(`${base}/`, cookie, browser.port), stop: await measure(stop, cookie, browser.port) };
    table.stop["worst of 50 presses, ms"] = await worstPress(stop, cookie);
    console.table(table);
    console.table([await starts(cookie)]);
  } finally {
    await browser.kill();
  }
} finally {
  server.kill();
}

import { openBrowser, phone, wide } from "./browser";

// usage: tsx look.ts path out [wide] [press...]
(async () => {
  const [path = "/", out = "/tmp/shot.png", size = "phone", ...presses] = process.argv.slice(2);
  const browser = await openBrowser();
  const context = await browser.newContext({
    viewport: size.startsWith("wide") ? wide : phone,
    reducedMotion: "reduce",
    colorScheme: size.endsWith("night") ? "dark" : "light",
  });
  const page = await context.newPage();
  page.on("pageerror", (e) => console.log("PAGE ERROR", e.message));
  page.on("console", (m) => {
    if (m.type() === "error") console.log("CONSOLE", m.text().slice(0, 300));
  });
  await page.goto((process.env.BASE ?? "http://127.0.0.1:4510") + path);
  await page.waitForTimeout(2500);
  for (const p of presses) {
    const [kind, name = "", value = ""] = p.split("|");
    if (kind === "fill") await page.getByRole("textbox", { name, exact: true }).first().fill(value);
    else if (kind === "scroll") await page.getByText(name).first().scrollIntoViewIfNeeded();
    else
      await page
        .getByRole(kind as "button", { name, exact: true })
        .first()
        .click();
    await page.waitForTimeout(700);
  }
  if (process.env.FULL) {
    const h = await page.evaluate(() => Math.max(...[...document.querySelectorAll("div")].map((d) => d.scrollHeight)));
    await page.setViewportSize({ width: size.startsWith("wide") ? 1280 : 390, height: Math.min(h + 20, Number(process.env.FULL)) });
    await page.waitForTimeout(400);
  }
  await page.screenshot({ path: out });
  await browser.close();
})();

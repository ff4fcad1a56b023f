import { chromium } from 'playwright-core';
// node shot.tmp.mjs OUT CLIPNAME [night] [scroll] [height]
const [out, name, theme='day', scroll='0', height='800', project='The Last Crossing'] = process.argv.slice(2);
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu'] });
const context = await browser.newContext({ viewport: { width: 1280, height: Number(height) }, colorScheme: theme==='night'?'dark':'light' });
const page = await context.newPage();
page.on('console', m => { if (m.type()==='error') console.log('console:', m.text()); });
page.on('pageerror', e => console.log('pageerror', e.message));
await page.goto('http://localhost:4920/');
if (name !== 'projects') {
  await page.getByText(project).first().click();
  await page.waitForTimeout(1500);
  if (name !== 'lineup') {
    await page.locator(`[data-clip="${name}"]`).click();
    await page.waitForTimeout(2500);
    if (scroll !== '0') { await page.evaluate((y) => { const el=[...document.querySelectorAll('main div')].find(e=>e.scrollHeight>e.clientHeight+20&&getComputedStyle(e).overflowY==='auto'); el.scrollTop=Number(y); }, scroll); await page.waitForTimeout(400); }
  }
}
await page.screenshot({ path: out });
await browser.close();

import { chromium } from 'playwright-core';
const shots = JSON.parse(process.argv[2] ?? '[]') as string[];
const [w, h] = (process.argv[3] ?? '1280x800').split('x').map(Number);
const night = process.argv[4] === 'night';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
const page = await browser.newPage({ viewport: { width: w, height: h }, colorScheme: night ? 'dark' : 'light' });
page.on('console', (m) => { if (m.type() === 'error') console.log('console:', m.text()); });
page.on('pageerror', (e) => console.log('pageerror:', e.message));
const at = 'http://127.0.0.1:4600';
const projects = (await (await fetch(`${at}/api/projects`)).json()) as { id: string }[];
const id = projects[0].id;
for (const step of shots) {
  const [what, ...rest] = step.split(' ');
  const arg = rest.join(' ');
  if (what === 'go') await page.goto(`${at}/projects/${id}${arg}`);
  else if (what === 'click') await page.getByRole('button', { name: arg }).first().click();
  else if (what === 'link') await page.getByRole('link', { name: arg }).first().click();
  else if (what === 'text') await page.getByText(arg).first().click();
  else if (what === 'key') await page.keyboard.press(arg);
  else if (what === 'wait') await page.waitForTimeout(Number(arg));
  else if (what === 'for') await page.getByText(arg).first().waitFor();
  else if (what === 'shot') await page.screenshot({ path: `/tmp/${arg}.png` });
}
await browser.close();

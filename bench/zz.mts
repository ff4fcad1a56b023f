// usage: node --import tsx bench/zz.mts url out w h [night]
import { chromium } from 'playwright-core';
const [base, path, out, w, h, mode, click] = process.argv.slice(2);
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run'] });
const p = await b.newPage({ viewport: { width: +w, height: +h }, colorScheme: mode === 'night' ? 'dark' : 'light' });
await p.goto(base + path);
await p.waitForTimeout(1800);
if (click) for (const c of click.split('|')) { await p.keyboard.press(c); await p.waitForTimeout(250); }
await p.waitForTimeout(500);
await p.screenshot({ path: out });
await b.close();

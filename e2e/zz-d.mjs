import { open, close } from './zz-look.mjs';
const page = await open('ilse.vandermoor', { viewport: { width: 820, height: 1180 }, hasTouch: true, isMobile: true });
for (const path of ['/today', '/library', '/classes']) {
await page.goto(path);
await page.waitForTimeout(2500);
console.log(path, JSON.stringify(await page.evaluate(() => [innerWidth, [...document.querySelectorAll('*')].filter(e => e.getBoundingClientRect().right > 825).slice(0, 14).map(e => e.tagName + ' ' + String(e.className).slice(0, 90) + ' ' + Math.round(e.getBoundingClientRect().right))])));
}
await close();

import { open, close } from './zz-look.mjs';
for (const [name, viewport] of [['tablet', { width: 820, height: 1180 }], ['phone', { width: 360, height: 740 }]]) {
  const page = await open('ilse.vandermoor', { viewport, hasTouch: true, isMobile: true });
  await page.goto('/today');
  await page.getByRole('heading', { name: /in the tray/ }).waitFor();
  const wide = () => page.evaluate(() => [document.documentElement.scrollWidth, innerWidth, visualViewport.width, visualViewport.scale, [...document.querySelectorAll('*')].filter(e => e.getBoundingClientRect().right > innerWidth + 1).slice(0, 6).map(e => e.className)]);
  await page.waitForTimeout(1500);
  console.log(name, JSON.stringify(await wide()));
  const put = page.getByRole('button', { name: /Put \d in place/ });
  await put.waitFor();
  await put.tap();
  await page.getByText('files put in place').waitFor();
  await page.waitForTimeout(1200);
  console.log(name, JSON.stringify(await wide()));
  await page.screenshot({ path: `/tmp/tray-${name}.png` });
  await page.getByRole('button', { name: 'Undo' }).tap({ timeout: 8000 }).catch((e) => console.log(String(e).slice(0, 300)));
  await page.keyboard.press('Control+z');
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `/tmp/tray-${name}2.png` });
}
await close();

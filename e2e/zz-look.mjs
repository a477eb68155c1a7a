import { chromium } from '@playwright/test';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox'] });
export const open = async (who, options = {}) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: 'http://localhost:4911', ...options });
  const page = await context.newPage();
  page.on('console', (m) => ['error', 'warning'].includes(m.type()) && console.log('console:', m.text().slice(0, 900)));
  page.on('pageerror', (e) => console.log('pageerror:', String(e).slice(0, 300)));
  await page.request.post('/api/session', { data: { email: `${who}@fennmoor.example`, password: 'fennmoor' } });
  return page;
};
export const close = () => browser.close();

import { open, close } from './zz-look.mjs';
const page = await open('ilse.vandermoor');
await page.goto('/today');
await page.getByRole('heading', { name: /in the tray/ }).waitFor();
await page.waitForTimeout(2500);
await page.screenshot({ path: '/tmp/tray1.png' });
console.log(JSON.stringify((await (await page.request.get('/api/tray')).json()).files.map(f=>[f.name,f.proposal.title,f.proposal.sure,f.proposal.reasons,f.small, f.known?.title, f.nearly?.title]),null,0));
await close();

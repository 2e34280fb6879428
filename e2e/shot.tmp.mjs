// usage: node shot.tmp.mjs out.png path [role] [width] [js]
import puppeteer from 'puppeteer-core';
const [out, path, role = 'administrator', width = '1280', js = ''] = process.argv.slice(2);
const b = await puppeteer.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
const p = await b.newPage();
await p.setViewport({ width: +width, height: 800 });
p.on('console', (m) => {
  if (m.type() === 'error') console.log('console', m.text());
});
p.on('pageerror', (e) => console.log('pageerror', e.message));
const base = 'http://localhost:4400';
await p.goto(base + '/sign-in');
await p.evaluate(async (role) => {
  const s = await (await fetch('/api/v1/session')).json();
  await fetch('/api/v1/session', {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-csrf-token': s.csrf ?? '' },
    body: JSON.stringify({ email: role + '@quillmere.example', password: 'quillmere-' + role }),
  });
}, role);
const s = await p.evaluate(async () => (await fetch('/api/v1/session')).json());
const biz = Object.fromEntries((s.businesses ?? []).map((x) => [x.nameLine.split(' ')[0].toLowerCase(), x.id]));
await p.goto(base + path.replace(/@(\w+)/g, (_, k) => biz[k] ?? k));
await new Promise((r) => setTimeout(r, 2500));
if (js) {
  const r = await p.evaluate(js);
  if (r !== undefined) console.log(r);
  await new Promise((r) => setTimeout(r, 1500));
}
await p.screenshot({ path: out });
console.log(p.url());
await b.close();

import { TestShop } from '../e2e/driver/shop.ts';
const shop = await TestShop.open({ demo: true });
const call = async (m: string, p: string, body?: unknown) => {
  const t = performance.now();
  const r = await fetch(shop.url + p, { method: m, headers: { 'content-type': 'application/json' }, ...(body ? { body: JSON.stringify(body) } : {}) });
  const text = await r.text();
  console.log(m, p, r.status, Math.round(performance.now() - t), 'ms');
  try { return JSON.parse(text); } catch { return text; }
};
const now = await call('GET', '/api/away');
console.log(JSON.stringify(now).slice(0, 600));
const { fromMs, toMs } = now.suggested[0];
let sim = await call('POST', '/api/away/simulate', { fromMs, toMs });
while (sim.taskId) { await new Promise(r=>setTimeout(r,200)); const t = await call('GET','/api/tasks/'+sim.taskId); if (t.state==='done') sim = t.result; else if (t.state!=='running'&&t.state!=='waiting') {console.log(t); break;} }
console.log(JSON.stringify({...sim, supplies: sim.supplies?.length, events: undefined}, null, 1).slice(0, 5000));
for (const e of sim.events ?? []) console.log(new Date(e.atMs).toISOString(), e.printerId, e.kind, e.what, e.outcome, e.why);
await new Promise(r=>setTimeout(r,6000));
if (sim.driversTaskId) console.log(JSON.stringify(await call('GET','/api/tasks/'+sim.driversTaskId)).slice(0,1500));
console.log(JSON.stringify(await call('GET','/api/away/learned')).slice(0,1500));
await shop.close();

import { FAULT_KINDS } from '../contract/machine/protocol.ts';

/** A page that shows the stand-ins and lets accidents happen: for trying the shop out, not for its people. */
export const PAGE = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>Stand-ins</title>
<style>
  :root { color-scheme: light dark; --ink: #23211c; --paper: #fbf8f1; --rule: #e4ded0; --soft: #6b655a; }
  @media (prefers-color-scheme: dark) { :root { --ink: #f1eee6; --paper: #16181a; --rule: #33383d; --soft: #a9a499; } }
  body { margin: 24px; font: 14px/1.45 sans-serif; color: var(--ink); background: var(--paper); }
  article { border-top: 1px solid var(--rule); padding: 12px 0; display: grid; grid-template-columns: 260px 1fr; gap: 8px 24px; }
  h2 { margin: 0; font-size: 17px; }
  p { margin: 0; } .soft { color: var(--soft); }
  button, input { font: inherit; padding: 3px 9px; margin: 0 4px 4px 0; }
  input { width: 5em; }
</style>
</head>
<body>
<h1>Stand-ins</h1>
<p class="soft">Simulated printers, and a cutter. What is done here happens to them as it would to real ones.</p>
<p>Shop time runs <b id="rate"></b>× as fast. Speed it up, stop or step it in the application.</p>
<main></main>
<script>
const FAULTS = ${JSON.stringify(FAULT_KINDS)};
const main = document.querySelector('main');
const el = (tag, text) => { const made = document.createElement(tag); if (text) made.textContent = text; return made; };
const send = (method, path, body) => fetch('/control/machines/' + path, {
  method, headers: { 'content-type': 'application/json' }, ...(body ? { body: JSON.stringify(body) } : {}),
}).then(show);
const button = (text, act) => { const made = el('button', text); made.onclick = act; return made; };
function line(state) {
  const run = state.run && !state.run.endedMs ? state.run : null;
  return state.status + (state.reason ? ': ' + state.reason : '')
    + (run ? ', ' + run.runId + ' ' + (run.lengthMm / 1000).toFixed(2) + ' m, ' + run.phase : '');
}
function row(each) {
  const id = each.state.machineId;
  const art = el('article');
  const left = el('div'), right = el('div');
  left.append(el('h2', each.name), el('p', each.off ? 'switched off' : line(each.state)));
  for (const [source, media] of Object.entries(each.sources))
    left.append(el('p', source + ': ' + media.tag + ', ' + media.widthMm + ' mm wide, truly ' + (media.leftMm / 1000).toFixed(2) + ' m'));
  for (const [channel, ml] of Object.entries(each.state.inkMl ?? {}))
    left.append(el('span', channel + ' ' + Math.round(ml) + ' ml  '));
  const worn = Object.entries(each.heads).filter(([, head]) => head.clogged > 0 || head.settled >= 0.01);
  left.append(el('p', worn.length === 0 ? 'every nozzle fires' : worn.map(([channel, head]) =>
    channel + ': truly ' + head.clogged + ' clogged' + (head.settled >= 0.01 ? ', ' + Math.round(head.settled * 100) + ' % settled' : '')).join('; ')));
  for (const kind of FAULTS) right.append(button(kind, () => send('POST', id + '/faults', { kind })));
  if (each.feedMm) left.append(el('p', 'bars of its feed check: truly ' + each.feedMm + ' mm apart'));
  if (each.hasPlot) {
    const plot = el('a', 'photo of its check plot');
    plot.href = '/control/machines/' + id + '/check-plot.jpg';
    left.append(plot);
  }
  right.append(button('clean its heads', () => send('POST', id + '/clean')));
  right.append(button('mend', () => send('DELETE', id + '/faults')));
  right.append(button(each.off ? 'switch on' : 'switch off', () => send('PUT', id + '/power', { on: each.off })));
  const rate = el('input'); rate.type = 'number'; rate.min = 0; rate.value = each.per100h;
  rate.setAttribute('aria-label', 'Faults in 100 hours of printing, ' + each.name);
  rate.onchange = () => send('PUT', id + '/rate', { per100h: Number(rate.value) });
  const label = el('label', 'faults in 100 h '); label.append(rate);
  right.append(el('br'), label);
  art.append(left, right);
  return art;
}
function cutterRow({ about, state }) {
  const art = el('article'), left = el('div'), right = el('div');
  const cut = state.cut && !state.cut.endedMs ? state.cut : null;
  left.append(el('h2', about.name), el('p', state.status + (state.reason ? ': ' + state.reason : '')
    + (cut ? ', ' + cut.runId + ', ' + cut.cut + ' of ' + cut.of + ' outlines' : '')));
  const send = (method, path, body) => fetch(path, {
    method, headers: { 'content-type': 'application/json' }, ...(body ? { body: JSON.stringify(body) } : {}),
  }).then(show);
  for (const kind of ['jam', 'cover open', 'marks not found'])
    right.append(button(kind, () => send('POST', '/control/cutters/' + about.id + '/faults', { kind })));
  right.append(button('mend', () => send('DELETE', '/control/cutters/' + about.id + '/faults')));
  if (cut) for (const command of ['start', 'pause', 'resume', 'cancel'])
    right.append(button(command, () => send('POST', '/cutters/' + about.id + '/cuts/' + cut.runId + '/' + cut.attempt + '/' + command)));
  art.append(left, right);
  return art;
}
async function show() {
  if (document.activeElement && document.activeElement.tagName === 'INPUT') return;
  const who = await (await fetch('/control')).json();
  document.querySelector('#rate').textContent = who.rate;
  const all = await (await fetch('/control/machines')).json();
  const cutters = await (await fetch('/control/cutters')).json();
  main.replaceChildren(...all.map(row), ...cutters.map(cutterRow));
}
show();
setInterval(show, 1500);
</script>
</body>
</html>
`;

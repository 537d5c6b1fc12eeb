import escapeHtml from 'escape-html';
import type { AwayEvent } from '../../../core/away/awayEvents.ts';
import type { AwayAction } from '../../../core/away/beforeYouGo.ts';
import type { AwaySimulation } from '../../../contract/api/away.ts';
import { wallTimeOf } from '../../../core/care/wallTime.ts';
import { counted } from '../../../core/counted.ts';

/** What a page of the away plan is made from. */
export interface ListPage {
  readonly shopName: string;
  readonly zone: string;
  readonly simulation: Pick<AwaySimulation, 'fromMs' | 'toMs' | 'figures' | 'currency' | 'odds'> & {
    readonly events: readonly AwayEvent[];
    readonly before: readonly AwayAction[];
  };
  /** By id. */
  readonly printers: Readonly<Record<string, string>>;
  /** Where the plan can be looked at by those who may sign in; null: nowhere from outside. */
  readonly link: string | null;
}

const OUTCOMES: Readonly<Record<AwayEvent['outcome'], string>> = {
  done: 'done',
  skipped: 'skipped',
  impossible: 'can’t',
  hand: 'needs a hand',
};

/** The list before you go and the events of the night as one self-contained page: for paper, and for a phone. */
export function listPage({ shopName, zone, simulation, printers, link }: ListPage): string {
  const { fromMs, toMs, figures, events, before, odds } = simulation;
  const hands = before.filter(({ kind }) => kind === 'hand');
  const time = (ms: number): string => wallTimeOf(ms, zone).replace('T', ' ');
  const title = `Away plan, ${time(fromMs)} to ${time(toMs)}`;
  const sure = odds.all === null ? '' : `, ${String(Math.round(odds.all.chance * 100))} % sure`;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)}</title>
<style>${STYLE}</style>
</head>
<body>
<h1>${escapeHtml(title)}</h1>
<p>${escapeHtml(shopName)}: ${counted(figures.runs, 'run')} by themselves, ${counted(figures.pieces, 'piece')}, ${figures.metres.toFixed(1)} m${sure}.</p>
<h2>Before you go</h2>
${hands.length === 0 ? '<p>Nothing that a hand could do would bring more.</p>' : `<ol>${hands.map((each) => handLine(each, simulation.currency)).join('')}</ol>`}
<h2>What happens</h2>
<table><thead><tr><th>When</th><th>Printer</th><th>What</th><th>Ends</th></tr></thead><tbody>
${events.map((each) => eventLine(each, time, printers)).join('\n')}
</tbody></table>
${link === null ? '' : `<p><a href="${escapeHtml(link)}">Open the plan</a> (for those who may sign in)</p>`}
</body>
</html>
`;
}

function handLine({ text, gain, minutes }: AwayAction, currency: string): string {
  const gains = [
    ...(gain.pieces > 0 ? [`+ ${counted(gain.pieces, 'piece')}`] : []),
    ...(gain.care > 0 ? [`+ ${String(gain.care)} of care`] : []),
    ...(gain.worthMinor >= 1 ? [`+ ${(gain.worthMinor / 100).toFixed(2)} ${currency}`] : []),
    ...(minutes > 0 ? [`${String(Math.round(minutes))} min`] : []),
  ].join(', ');
  return `<li><span class="box"></span>${escapeHtml(text)}<small>${escapeHtml(gains)}</small></li>`;
}

function eventLine(
  { atMs, printerId, what, outcome, why }: AwayEvent,
  time: (ms: number) => string,
  printers: ListPage['printers'],
): string {
  const end = `${OUTCOMES[outcome]}${why === '' ? '' : `: ${why}`}`;
  const cells = [time(atMs), printers[printerId] ?? printerId, what, end];
  return `<tr class="${outcome}">${cells.map((cell) => `<td>${escapeHtml(cell)}</td>`).join('')}</tr>`;
}

const STYLE = `
body { font: 16px/1.4 system-ui, sans-serif; margin: 16px; max-width: 46rem; color: #23211c; background: #fff; }
h1 { font-size: 20px; } h2 { font-size: 17px; margin-top: 24px; }
ol { list-style: none; padding: 0; } li { padding: 8px 0 8px 30px; border-bottom: 1px solid #e4ded0; position: relative; }
.box { position: absolute; left: 0; top: 11px; width: 16px; height: 16px; border: 1.5px solid #23211c; }
small { display: block; color: #6b655a; }
table { border-collapse: collapse; width: 100%; } th, td { text-align: left; padding: 4px 8px 4px 0; vertical-align: top; border-bottom: 1px solid #e4ded0; }
tr.impossible td:last-child { color: #b3261e; font-weight: 600; } tr.hand td:last-child { color: #8a5c00; font-weight: 600; }
@media print { body { margin: 0; } }
`;

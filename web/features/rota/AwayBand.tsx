import { ArrowRight, Lock, Moon } from 'lucide-react';
import { Link } from 'react-router';
import { useAwayNow } from '../../api/away.ts';
import { errorText } from '../../api/client.ts';
import { clockText } from '../../app/shopTime.ts';
import { counted } from '../../ui/text/counted.ts';
import { number } from '../../ui/text/number.ts';
import { type RotaSpan, shareOf } from './rotaTime.ts';

const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;

/** The next time away as a band across the Rota, on its scale: what it is, whether it is armed, and the way to its plan. */
export function AwayBand({
  span,
  nowMs,
  zone,
}: {
  readonly span: RotaSpan;
  readonly nowMs: number;
  readonly zone: string;
}) {
  const { data: away, error } = useAwayNow();
  const armed = away?.armed ?? null;
  const period = armed ?? away?.suggested[0];
  const from = period ? shareOf(period.fromMs, span) : 0;
  const to = period ? shareOf(period.toMs, span) : 0;
  const isSeen = period && period.toMs > span.fromMs && period.fromMs < span.toMs;
  const when = period ? `${clockText(period.fromMs, nowMs, zone)} to ${clockText(period.toMs, nowMs, zone)}` : '';
  return (
    <section aria-label="Away plan" className="flex border-b border-rule">
      <h2 className="w-28 shrink-0 px-5 py-1.5 font-semibold max-phone:w-20 max-phone:px-2">Away</h2>
      <div className="min-w-0 flex-1 border-l border-rule">
        <div className="relative h-3">
          {isSeen && (
            <span
              aria-hidden="true"
              className={`absolute inset-y-0.5 rounded-[2px] border ${armed ? 'border-ink bg-spool' : 'border-dashed border-soft'}`}
              style={{ left: percent(from), width: percent(to - from), minWidth: 6 }}
            />
          )}
        </div>
        <p className="flex flex-wrap items-center gap-x-3 px-2 pb-1.5">
          {/* The band has its height before its figures are there: what lies below it is pressed where it was seen. */}
          <span className="inline-flex items-center gap-1.5">
            {armed ? <Lock size={14} aria-hidden="true" /> : <Moon size={14} aria-hidden="true" />}
            {armed
              ? `Armed, ${when}: ${counted(armed.figures.runs, 'run')}, ${counted(armed.figures.pieces, 'piece')}${armed.odds ? `, ${number(armed.odds.chance * 100)} % sure` : ''}`
              : period
                ? `Nobody is there from ${when}`
                : away
                  ? 'Somebody is always there, by shop hours'
                  : error
                    ? errorText(error)
                    : 'Reading …'}
          </span>
          <Link to="/rota/away" className="inline-flex items-center gap-1 text-tide underline">
            {armed ? 'Open the away plan' : 'Plan the time away'} <ArrowRight size={14} aria-hidden="true" />
          </Link>
          {away && away.toLookAt !== null && (
            <Link to={`/rota/away/${away.toLookAt}`} className="text-tide underline">
              How the last one came out
            </Link>
          )}
        </p>
      </div>
    </section>
  );
}

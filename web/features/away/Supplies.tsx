import type { SupplyView } from '../../../contract/api/away.ts';
import { useSpools } from '../../api/data.ts';
import { clockText, useZone } from '../../app/shopTime.ts';
import { SpoolSign } from '../../draw/SpoolSign.tsx';
import { alongText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';

/** What is there at an instant: straight lines between the points. */
export function amountAt({ points }: Pick<SupplyView, 'points'>, atMs: number): number {
  const after = points.findIndex((point) => point.atMs > atMs);
  const next = after < 0 ? undefined : points[after];
  const before = points[after < 0 ? points.length - 1 : after - 1];
  if (!before) return next?.amount ?? 0;
  if (!next || next.atMs <= before.atMs) return before.amount;
  return before.amount + ((next.amount - before.amount) * (atMs - before.atMs)) / (next.atMs - before.atMs);
}

interface SuppliesProps {
  readonly supplies: readonly SupplyView[];
  readonly fromMs: number;
  readonly atMs: number;
  readonly nowMs: number;
}

/** The supplies of a printer as they are at an instant of the time away: rolls from their end, tanks and baskets as columns. */
export function Supplies({ supplies, fromMs, atMs, nowMs }: SuppliesProps) {
  const spools = supplies.filter(({ kind }) => kind === 'spool');
  const inks = supplies.filter(({ kind }) => kind === 'ink');
  const baskets = supplies.filter(({ kind }) => kind === 'basket');
  return (
    <div className="dense mt-1 flex flex-wrap items-end gap-x-5 gap-y-1.5">
      {spools.map((track) => (
        <SpoolTrack key={track.id} track={track} fromMs={fromMs} atMs={atMs} />
      ))}
      {inks.length > 0 && (
        <span className="flex items-end gap-1.5">
          {inks.map((track) => (
            <Column key={track.id} track={track} fromMs={fromMs} atMs={atMs} nowMs={nowMs} />
          ))}
        </span>
      )}
      {baskets.map((track) => (
        <span key={track.id} className="flex items-end gap-1.5">
          <Column track={track} fromMs={fromMs} atMs={atMs} nowMs={nowMs} wide />
          <span className="pb-0.5 whitespace-nowrap text-soft">
            basket {alongText(amountAt(track, atMs), 1)} of {alongText(track.full, 0)}
          </span>
        </span>
      ))}
    </div>
  );
}

function SpoolTrack({
  track,
  fromMs,
  atMs,
}: {
  readonly track: SupplyView;
  readonly fromMs: number;
  readonly atMs: number;
}) {
  const { data: spools } = useSpools();
  const spool = spools?.find(({ id }) => id === track.spoolId);
  const [from, left] = [amountAt(track, fromMs), amountAt(track, atMs)];
  if (!spool) return null;
  const used = from - left > 1;
  return (
    <span className="flex items-center gap-1.5">
      <SpoolSign
        leftMm={from}
        afterMm={left}
        receivedMm={Math.max(spool.receivedMm, from)}
        coreMm={spool.coreMm}
        thicknessMm={spool.thicknessMm}
        sheetMm={spool.sheetMm}
        size={34}
        label={`${track.name}: ${alongText(left)} left`}
      />
      <span className="whitespace-nowrap">
        <span className="block">{track.name}</span>
        <span className={track.endsMs !== null && track.endsMs <= atMs ? 'block text-stop' : 'block text-soft'}>
          {used ? `${alongText(from, 1)} → ${alongText(left, 1)}` : `${alongText(left, 1)} left`}
        </span>
      </span>
    </span>
  );
}

const HIGH = 32;

/** A tank as a column, as full as it is; a dash where it stood at the beginning. */
function Column({
  track,
  fromMs,
  atMs,
  nowMs,
  wide = false,
}: {
  readonly track: SupplyView;
  readonly fromMs: number;
  readonly atMs: number;
  readonly nowMs: number;
  readonly wide?: boolean;
}) {
  const zone = useZone();
  const high = (amount: number): number => (track.full > 0 ? Math.min(1, Math.max(0, amount / track.full)) * HIGH : 0);
  const [from, left] = [amountAt(track, fromMs), amountAt(track, atMs)];
  const unit = track.unit === 'ml' ? `${number(left)} ml of ${number(track.full)}` : alongText(left);
  const ends =
    track.endsMs === null
      ? ''
      : `, ${track.kind === 'basket' ? 'full' : 'ends'} ${clockText(track.endsMs, nowMs, zone)}`;
  const text = `${track.name}: ${unit}${ends}`;
  const size = wide ? 26 : 10;
  const isOut = track.endsMs !== null && track.endsMs <= atMs;
  return (
    <svg width={size} height={HIGH + 2} role="img" aria-label={text} className="overflow-visible">
      <title>{text}</title>
      <rect
        x="0.5"
        y="0.5"
        width={size - 1}
        height={HIGH + 1}
        fill="var(--card)"
        stroke={isOut ? 'var(--stop)' : 'var(--ink)'}
        strokeWidth={isOut ? 2 : 1}
      />
      <rect
        x="1"
        y={HIGH + 1 - high(left)}
        width={size - 2}
        height={high(left)}
        fill={track.colour === '' ? '#f2b90c' : track.colour}
      />
      <line
        x1="-1"
        x2={size + 1}
        y1={HIGH + 1 - high(from)}
        y2={HIGH + 1 - high(from)}
        stroke="var(--ink)"
        strokeWidth="1"
        strokeDasharray="2 2"
      />
    </svg>
  );
}

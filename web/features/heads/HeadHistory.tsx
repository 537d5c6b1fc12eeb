import { dateText, useZone } from '../../app/shopTime.ts';
import type { HeadChannel, Heads } from './useHeads.ts';

const HEIGHT = 26;

/** What each head of a channel was like in its last checks: a column for each check, as high as nozzles were not well. */
export function HeadHistory({ heads, channel }: { readonly heads: Heads; readonly channel: HeadChannel }) {
  const zone = useZone();
  const read = heads.checks.filter(({ found }) => found?.[channel.id] !== undefined).toReversed();
  const [first] = read;
  if (!first) return null;
  const parts = heads.head === 'carriage' ? channel.heads : heads.bars;
  const perPart = (channel.nozzles * channel.heads) / parts;
  const counts = Array.from({ length: parts }, (_, part) =>
    read.map(({ found }) => {
      const own = found?.[channel.id];
      const all = own ? [...own.missing, ...own.weak, ...own.crooked] : [];
      return all.filter((n) => Math.floor(n / perPart) === part).length;
    }),
  );
  const most = Math.max(1, ...counts.flat());
  const word = heads.head === 'carriage' ? 'Head' : 'Bar';
  return (
    <div className="mb-2">
      <p className="dense mb-1 text-soft">
        Nozzles not well in the last {String(read.length)} checks, from {dateText(first.printedMs, zone)}
      </p>
      {counts.map((own, part) => (
        <div key={part} className="dense flex items-end gap-2 py-0.5">
          <span className="w-14 shrink-0">{parts === 1 ? 'Its head' : `${word} ${String(part + 1)}`}</span>
          <span
            role="img"
            aria-label={`${word} ${String(part + 1)} of ${channel.name}: ${own.join(', ')}`}
            className="flex flex-1 items-end gap-1 border-b border-rule"
            style={{ height: HEIGHT }}
          >
            {own.map((count, i) => (
              <span
                key={i}
                className="flex-1 rounded-t-sm bg-stop"
                style={{
                  height: count === 0 ? 1 : Math.max(3, (HEIGHT * count) / most),
                  opacity: count === 0 ? 0.3 : 1,
                }}
              />
            ))}
          </span>
          <span className="w-8 shrink-0 text-right">{own.at(-1)}</span>
        </div>
      ))}
    </div>
  );
}

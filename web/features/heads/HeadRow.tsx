import { useShopNow } from '../../app/shopTime.ts';
import { StateShape } from '../../draw/StateShape.tsx';
import { number } from '../../ui/text/number.ts';
import { Comb, countsText } from './Comb.tsx';
import type { HeadChannel, Heads } from './useHeads.ts';

const HOUR = 3_600_000;

/** One printer: which modes it is fit for, and each channel as a comb with its idle clock. */
export function HeadRow({
  heads,
  chosen,
  onChoose,
}: {
  readonly heads: Heads;
  readonly chosen: boolean;
  readonly onChoose: () => void;
}) {
  const nowMs = useShopNow(30_000) ?? 0;
  return (
    <article
      className={`flex gap-5 border-t border-rule px-5 py-3 @max-[560px]/list:flex-col @max-[560px]/list:gap-2 ${chosen ? 'bg-spool/10' : ''}`}
    >
      <div className="w-44 shrink-0">
        <button
          type="button"
          data-rove=""
          aria-pressed={chosen}
          onClick={onChoose}
          className="text-left text-base font-semibold underline-offset-4 hover:underline"
        >
          {heads.name}
        </button>
        <p className="dense text-soft">{heads.form}</p>
        <ul className="mt-1.5 flex flex-col gap-0.5">
          {heads.modes.map((mode) => (
            <ModeLine key={mode.id} heads={heads} mode={mode} />
          ))}
        </ul>
        {heads.checkToRead !== null && (
          <p className="mt-1.5 flex items-center gap-1.5 text-wait">
            <StateShape shape="waiting" /> A check waits to be read
          </p>
        )}
      </div>
      <div className="@container min-w-0 flex-1">
        {heads.channels.map((channel) => (
          <ChannelLine key={channel.id} heads={heads} channel={channel} nowMs={nowMs} />
        ))}
      </div>
    </article>
  );
}

function ModeLine({ heads, mode }: { readonly heads: Heads; readonly mode: Heads['modes'][number] }) {
  const { unfit, name } = mode;
  const never = heads.channels.every(({ faults }) => faults === null);
  const ink = (id: string): string => heads.channels.find((each) => each.id === id)?.name.toLowerCase() ?? id;
  return (
    <li className="flex items-start gap-1.5" title={unfit.map(({ text }) => text).join('; ')}>
      <span className="mt-0.5">
        <StateShape shape={unfit.length > 0 ? 'fault' : never ? 'idle' : 'done'} />
      </span>
      <span>
        {name}{' '}
        <span className="text-soft">
          {unfit.length > 0
            ? `not with ${unfit.map(({ channelId }) => ink(channelId)).join(', ')}`
            : never
              ? 'not checked'
              : 'fit'}
        </span>
      </span>
    </li>
  );
}

/** A channel in one line: its comb, what was found, how long it has stood of how long it may, and how likely a nozzle has clogged. */
function ChannelLine({
  heads,
  channel,
  nowMs,
}: {
  readonly heads: Heads;
  readonly channel: HeadChannel;
  readonly nowMs: number;
}) {
  const { name, faults, counts, exercisedMs, idleLimitH, clogChanceByMorning, risk } = channel;
  const idleH = exercisedMs === null ? null : Math.max(0, (nowMs - exercisedMs) / HOUR);
  return (
    <div className="dense flex items-start gap-3 leading-4 @max-[440px]:flex-wrap @max-[440px]:gap-y-0.5 @max-[440px]:pb-2">
      <span className="w-24 shrink-0 truncate">{name}</span>
      <span className="min-w-24 flex-1 pt-0.5 @max-[440px]:min-w-[55%]">
        <Comb channel={channel} bars={heads.bars} />
      </span>
      <span className={`w-32 shrink-0 ${counts.missing > 0 ? 'font-semibold' : ''}`}>
        {faults ? countsText(counts) : 'not checked yet'}
      </span>
      <span className="flex w-28 shrink-0 items-center gap-1.5" title={`Idle limit ${number(idleLimitH)} h`}>
        <IdleClock share={idleH === null ? 0 : idleH / idleLimitH} />
        <span className={risk === 'overdue' ? 'font-semibold text-stop' : risk === 'due' ? 'text-wait' : ''}>
          {idleH === null ? 'not known' : `${number(idleH)} of ${number(idleLimitH)} h`}
        </span>
      </span>
      <span
        className="w-28 shrink-0 text-right text-soft @max-[620px]:hidden"
        title="Chance that a nozzle clogs by the end of the coming night"
      >
        {clogChanceByMorning === null ? '–' : `${number(clogChanceByMorning * 100)} % by morning`}
      </span>
    </div>
  );
}

/** A clock whose hand has gone round once when the idle limit is reached. */
function IdleClock({ share }: { readonly share: number }) {
  const turned = Math.min(0.9999, Math.max(0, share)) * 2 * Math.PI;
  const x = 8 + 6.5 * Math.sin(turned);
  const y = 8 - 6.5 * Math.cos(turned);
  const tone = share >= 1 ? 'var(--stop)' : share >= 0.5 ? 'var(--wait)' : 'var(--go)';
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" className="shrink-0">
      <circle cx="8" cy="8" r="6.5" fill="none" stroke="var(--rule)" strokeWidth="1.5" />
      <path
        d={`M8 8 L8 1.5 A6.5 6.5 0 ${turned > Math.PI ? '1' : '0'} 1 ${x.toFixed(2)} ${y.toFixed(2)} Z`}
        fill={tone}
        fillOpacity="0.45"
        stroke={tone}
        strokeWidth="1"
      />
    </svg>
  );
}

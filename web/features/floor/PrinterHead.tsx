import { TimerSign, nextTimed } from '../../draw/TimerSign.tsx';
import { number } from '../../ui/text/number.ts';
import type { Printer } from '../../api/data.ts';
import { clockText, useZone } from '../../app/shopTime.ts';
import { SpoolSign } from '../../draw/SpoolSign.tsx';
import { StateWord } from '../../draw/StateShape.tsx';
import { stateText } from './stateText.ts';
import { leftFigure, leftText } from '../../media/spoolText.ts';

interface PrinterHeadProps {
  readonly printer: Printer;
  /** Left out: as wide as there is room. */
  readonly widthPx?: number;
  readonly freeMs: number;
  readonly nowMs: number;
  readonly onOpen: () => void;
}

/** Below this there is room for name, state and what is loaded, no more. */
const NARROW_PX = 250;

/** What the head shows, in words: state, when it is free, what is loaded and how much ink is left. */
function spokenText(printer: Printer, free: string): string {
  const loaded = printer.config.sources.map((source) => {
    const spool = printer.spools.find((each) => each.sourceId === source.id);
    return spool ? `${source.name}: ${leftText(spool)} of ${spool.stockName}` : `${source.name} empty`;
  });
  const inks = printer.config.channels.map(
    ({ id, name, tankMl }) => `${name} ${number(((printer.inkLeftMl[id] ?? 0) / tankMl) * 100)} %`,
  );
  return [stateText(printer), free, ...loaded, `ink left: ${inks.join(', ')}`].join('. ');
}

/** Name and state, the spools at their real radius, the inks as columns. */
export function PrinterHead({ printer, widthPx, freeMs, nowMs, onOpen }: PrinterHeadProps) {
  const zone = useZone();
  const { sources } = printer.config;
  const timed = nextTimed(printer);
  const narrow = widthPx !== undefined && widthPx < NARROW_PX;
  return (
    <button
      type="button"
      data-rove
      onClick={onOpen}
      style={{ width: widthPx }}
      className={`flex shrink-0 flex-col justify-center gap-1.5 ${widthPx === undefined ? 'w-full' : 'border-r border-rule'} ${narrow ? 'px-3' : 'px-5'} py-2 text-left hover:bg-rule/25`}
      aria-label={`Open ${printer.name}`}
      aria-description={`${spokenText(printer, freeMs > nowMs ? `free ${clockText(freeMs, nowMs, zone)}` : 'free now')}${timed ? `. Timer: ${timed.title}, ${clockText(timed.fromMs, nowMs, zone)}` : ''}`}
    >
      <span className={`flex w-full items-baseline gap-x-3 ${narrow ? 'flex-wrap' : ''}`}>
        <span className="text-lg font-semibold">
          {printer.name}
          <TimerSign printer={printer} />
        </span>
        <span className="flex min-w-0 flex-1" title={stateText(printer)}>
          <StateWord state={printer.state}>
            <span className="block truncate">{stateText(printer)}</span>
          </StateWord>
        </span>
        <span className={narrow ? 'hidden' : 'shrink-0 text-xs text-soft'}>
          {freeMs > nowMs ? `free ${clockText(freeMs, nowMs, zone)}` : 'free now'}
        </span>
      </span>
      <span className="flex w-full items-end gap-3">
        {sources.map((source) => {
          const spool = printer.spools.find((each) => each.sourceId === source.id);
          return (
            <span
              key={source.id}
              className={`flex min-w-0 items-center ${sources.length > 2 ? 'flex-1 gap-1' : 'gap-2'}`}
            >
              {spool ? (
                <SpoolSign
                  {...spool}
                  size={narrow ? 24 : ([58, 40, 30][Math.min(2, sources.length - 1)] ?? 30)}
                  label={`${spool.label}: ${leftText(spool)} left`}
                />
              ) : (
                <span className="size-8 shrink-0 rounded-full border border-dashed border-soft" />
              )}
              <span className={`dense min-w-0 leading-tight ${narrow && sources.length > 1 ? 'hidden' : ''}`}>
                {spool ? (
                  <>
                    <span className="block text-base font-semibold whitespace-nowrap">
                      {leftFigure(spool).value}
                      <span className="font-normal text-soft"> {leftFigure(spool).unit}</span>
                    </span>
                    <span className="block truncate text-soft" title={spool.stockName}>
                      {spool.stockName}
                    </span>
                  </>
                ) : (
                  <span className="text-soft">{source.name} empty</span>
                )}
              </span>
            </span>
          );
        })}
        <span className={narrow ? 'hidden' : 'ml-auto flex shrink-0 items-end gap-[3px]'} aria-label="Ink left">
          {printer.config.channels.map((channel) => {
            const left = (printer.inkLeftMl[channel.id] ?? 0) / channel.tankMl;
            return (
              <span
                key={channel.id}
                title={`${channel.name}: ${number(left * channel.tankMl)} of ${number(channel.tankMl)} ml`}
                className="relative h-12 w-[7px] overflow-hidden rounded-[2px] border border-soft/70"
              >
                <span
                  className="absolute inset-x-0 bottom-0 border-t border-soft/70"
                  style={{ height: `${String(Math.max(0, left) * 100)}%`, background: channel.colour }}
                />
              </span>
            );
          })}
        </span>
      </span>
    </button>
  );
}

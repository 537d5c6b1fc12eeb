import type { Printer } from '../../api/data.ts';
import { clockText, useZone } from '../../app/shopTime.ts';
import { SpoolSign } from '../../draw/SpoolSign.tsx';
import { StateWord } from '../../draw/StateShape.tsx';
import { number } from '../../ui/Figure.tsx';

interface PrinterHeadProps {
  readonly printer: Printer;
  readonly widthPx: number;
  readonly freeMs: number;
  readonly nowMs: number;
  readonly onOpen: () => void;
}

/** Name and state, the spools at their real radius, the inks as columns. */
export function PrinterHead({ printer, widthPx, freeMs, nowMs, onOpen }: PrinterHeadProps) {
  const zone = useZone();
  const { sources } = printer.config;
  return (
    <button
      type="button"
      onClick={onOpen}
      style={{ width: widthPx }}
      className="flex shrink-0 flex-col justify-center gap-2.5 border-r border-rule px-5 py-3 text-left hover:bg-rule/25"
      aria-label={`Open ${printer.name}`}
    >
      <span className="flex w-full items-baseline gap-3">
        <span className="text-lg font-semibold">{printer.name}</span>
        <StateWord state={printer.state} />
        <span className="ml-auto text-xs text-soft">
          {freeMs > nowMs ? `free ${clockText(freeMs, nowMs, zone)}` : 'free now'}
        </span>
      </span>
      {printer.reason !== null && <span className="text-sm text-wait first-letter:uppercase">{printer.reason}</span>}
      <span className="flex w-full items-end gap-3">
        {sources.map((source) => {
          const spool = printer.spools.find((each) => each.sourceId === source.id);
          return (
            <span key={source.id} className="flex min-w-0 items-center gap-2">
              {spool ? (
                <SpoolSign
                  {...spool}
                  size={sources.length > 1 ? 44 : 64}
                  label={`${spool.label}: ${number(spool.leftMm / 1000, 1)} m left`}
                />
              ) : (
                <span className="size-10 rounded-full border border-dashed border-soft" />
              )}
              <span className="dense min-w-0 leading-tight">
                {spool ? (
                  <>
                    <span className="block text-base font-semibold">
                      {number(spool.leftMm / 1000, 1)}
                      <span className="font-normal text-soft"> m</span>
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
        <span className="ml-auto flex shrink-0 items-end gap-[3px]" aria-label="Ink left">
          {printer.config.channels.map((channel) => {
            const left = (printer.inkLeftMl[channel.id] ?? 0) / channel.tankMl;
            return (
              <span
                key={channel.id}
                title={`${channel.name}: ${number(left * channel.tankMl)} of ${number(channel.tankMl)} ml`}
                className="relative h-12 w-[7px] overflow-hidden rounded-[2px] border border-soft/70"
              >
                <span
                  className="absolute inset-x-0 bottom-0"
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

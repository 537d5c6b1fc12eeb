import { moneyText } from '../../../draw/money.ts';
import { number } from '../../../ui/text/number.ts';
import type { ShownCoat } from './shownCoat.ts';
import { type Shown, turned } from './shownChannels.ts';

interface ChannelListProps {
  readonly coat: ShownCoat;
  readonly currency: string;
  readonly shown: Shown;
  readonly onShown: (shown: Shown) => void;
  /** Ink of each channel at the place that is pointed at, 0 … 255; undefined: nothing is there. */
  readonly inks: readonly number[] | undefined;
}

function mlText(ml: number): string {
  return `${number(ml, ml < 10 ? 2 : 1)} ml`;
}

/** Channels of a coat: shown or not, what each lays down, and how much where the pointer is. */
export function ChannelList({ coat, currency, shown, onShown, inks }: ChannelListProps) {
  const total = (of: 'ml' | 'costMinor'): number =>
    coat.channels.reduce((sum, { counted }) => sum + (counted?.[of] ?? 0), 0);
  const here = inks?.reduce((sum, ink) => sum + ink / 255, 0);
  return (
    <table className="w-full">
      <thead className="dense text-soft">
        <tr>
          <th scope="col" className="py-1 text-left font-normal">
            Channel
          </th>
          {coat.isScreened && (
            <>
              <th scope="col" className="text-right font-normal">
                Covered
              </th>
              <th scope="col" className="text-right font-normal">
                Ink
              </th>
            </>
          )}
          <th scope="col" className="text-right font-normal">
            Here
          </th>
        </tr>
      </thead>
      <tbody>
        {coat.channels.map(({ id, name, colour, counted }, index) => (
          <tr key={id} className="border-t border-rule">
            <th scope="row" className="py-1 text-left font-normal">
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={shown.has(index)}
                  onChange={() => {
                    onShown(turned(shown, index));
                  }}
                />
                <span className="size-3 shrink-0 rounded-sm border border-soft" style={{ background: colour }} />
                <span
                  className="min-w-0 truncate"
                  title={`${String(index + 1)}: show or hide, Shift ${String(index + 1)}: alone`}
                >
                  {name}
                </span>
              </label>
            </th>
            {counted && (
              <>
                <td className="text-right">{number(counted.coverage * 100, 1)} %</td>
                <td className="text-right whitespace-nowrap">{mlText(counted.ml)}</td>
              </>
            )}
            <td className="w-14 text-right">{inks ? `${number(((inks[index] ?? 0) / 255) * 100)} %` : ''}</td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr className="border-t border-soft font-medium">
          <th scope="row" className="py-1.5 text-left">
            All
          </th>
          {coat.isScreened && (
            <>
              <td />
              <td className="text-right whitespace-nowrap">{mlText(total('ml'))}</td>
            </>
          )}
          <td className="text-right">{here === undefined ? '' : `${number(here * 100)} %`}</td>
        </tr>
        {coat.isScreened && (
          <tr>
            <td colSpan={4} className="pb-1 text-right text-soft">
              {moneyText(total('costMinor'), currency)} of ink
            </td>
          </tr>
        )}
      </tfoot>
    </table>
  );
}

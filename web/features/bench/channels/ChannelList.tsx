import type { CoatView } from '../../../../contract/api/colour/channels.ts';
import { moneyText } from '../../../draw/money.ts';
import { number } from '../../../ui/text/number.ts';
import { type Shown, turned } from './shownChannels.ts';

interface ChannelListProps {
  readonly coat: CoatView;
  readonly currency: string;
  readonly shown: Shown;
  readonly onShown: (shown: Shown) => void;
  /** Ink of each channel at the place that is pointed at, 0 … 255; undefined: nothing is there. */
  readonly inks: readonly number[] | undefined;
}

/** Channels of a coat: shown or not, what each lays down, and how much where the pointer is. */
export function ChannelList({ coat, currency, shown, onShown, inks }: ChannelListProps) {
  const totalMl = coat.channels.reduce((sum, { ml }) => sum + ml, 0);
  const totalMinor = coat.channels.reduce((sum, { costMinor }) => sum + costMinor, 0);
  const here = inks?.reduce((sum, ink) => sum + ink / 255, 0);
  return (
    <table className="w-full">
      <thead className="dense text-soft">
        <tr>
          <th scope="col" className="py-1 text-left font-normal">
            Channel
          </th>
          <th scope="col" className="text-right font-normal">
            Covered
          </th>
          <th scope="col" className="text-right font-normal">
            Ink
          </th>
          <th scope="col" className="text-right font-normal">
            Here
          </th>
        </tr>
      </thead>
      <tbody>
        {coat.channels.map(({ id, name, colour, coverage, ml }, index) => (
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
            <td className="text-right">{number(coverage * 100, 1)} %</td>
            <td className="text-right whitespace-nowrap">{number(ml, ml < 10 ? 2 : 1)} ml</td>
            <td className="w-14 text-right">{inks ? `${number(((inks[index] ?? 0) / 255) * 100)} %` : ''}</td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr className="border-t border-soft font-medium">
          <th scope="row" className="py-1.5 text-left">
            All
          </th>
          <td />
          <td className="text-right whitespace-nowrap">{number(totalMl, totalMl < 10 ? 2 : 1)} ml</td>
          <td className="text-right">{here === undefined ? '' : `${number(here * 100)} %`}</td>
        </tr>
        <tr>
          <td colSpan={4} className="pb-1 text-right text-soft">
            {moneyText(totalMinor, currency)} of ink
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

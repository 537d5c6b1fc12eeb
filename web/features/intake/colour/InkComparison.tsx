import type { CoatPreview } from '../../../../contract/api/colour/preview.ts';
import { moneyText } from '../../../draw/money.ts';
import { number } from '../../../ui/text/number.ts';

interface InkComparisonProps {
  readonly before: CoatPreview;
  readonly after: CoatPreview;
}

const ml = (value: number): string => number(value, value < 1 ? 3 : 2);

/** What a piece takes of each channel before and after, and what that is worth over all pieces that are owed. */
export function InkComparison({ before, after }: InkComparisonProps) {
  const sum = (preview: CoatPreview, of: 'ml' | 'costMinor'): number =>
    preview.channels.reduce((all, channel) => all + channel[of], 0);
  const pieces = Math.max(1, after.pieces);
  const saved = (sum(before, 'costMinor') - sum(after, 'costMinor')) * pieces;
  const [wasMl, isMl] = [sum(before, 'ml'), sum(after, 'ml')];
  return (
    <>
      <table className="w-full">
        <thead className="dense text-soft">
          <tr>
            <th scope="col" className="py-1 text-left font-normal">
              ml a piece
            </th>
            <th scope="col" className="text-right font-normal">
              Before
            </th>
            <th scope="col" className="text-right font-normal">
              After
            </th>
            <th scope="col" className="text-right font-normal">
              Change
            </th>
          </tr>
        </thead>
        <tbody>
          {after.channels.map(({ id, name, colour, ml: is }) => {
            const was = before.channels.find((channel) => channel.id === id)?.ml ?? 0;
            return (
              <tr key={id} className="border-t border-rule">
                <th scope="row" className="py-0.5 text-left font-normal">
                  <span className="inline-flex items-center gap-2">
                    <span className="size-3 shrink-0 rounded-sm border border-soft" style={{ background: colour }} />
                    {name}
                  </span>
                </th>
                <td className="text-right">{ml(was)}</td>
                <td className="text-right">{ml(is)}</td>
                <td className="w-16 text-right">{changeText(was, is)}</td>
              </tr>
            );
          })}
        </tbody>
        <tfoot>
          <tr className="border-t border-soft font-medium">
            <th scope="row" className="py-1 text-left">
              All
            </th>
            <td className="text-right">{ml(wasMl)}</td>
            <td className="text-right">{ml(isMl)}</td>
            <td className="text-right">{changeText(wasMl, isMl)}</td>
          </tr>
          <tr>
            <th scope="row" className="text-left font-normal">
              Ink
            </th>
            <td className="text-right">{moneyText(sum(before, 'costMinor'), before.currency)}</td>
            <td className="text-right">{moneyText(sum(after, 'costMinor'), after.currency)}</td>
            <td />
          </tr>
        </tfoot>
      </table>
      <p className="mt-1 text-soft">
        {Math.abs(saved) < 0.5
          ? `No difference in money over ${pieces === 1 ? 'one piece' : `${number(pieces)} pieces`}.`
          : `${saved > 0 ? 'Saves' : 'Costs'} ${moneyText(Math.abs(saved), after.currency)} ${saved > 0 ? '' : 'more '}over ${
              pieces === 1 ? 'one piece' : `${number(pieces)} pieces`
            }.`}{' '}
        Ink before screening.
      </p>
    </>
  );
}

function changeText(was: number, is: number): string {
  if (was < 0.0005) return is < 0.0005 ? '' : 'new';
  const percent = (is / was - 1) * 100;
  return Math.abs(percent) < 0.5 ? '0 %' : `${percent > 0 ? '+' : '−'}${number(Math.abs(percent))} %`;
}

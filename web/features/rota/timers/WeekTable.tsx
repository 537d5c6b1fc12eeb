import type { PurgeFiguresView } from '../../../../contract/api/care.ts';
import { moneyText } from '../../../draw/money.ts';
import { number } from '../../../ui/text/number.ts';
import { Section } from '../../../ui/Sheet.tsx';

/** What a week of a purge takes and how many nozzles clog, beside other rhythms. */
export function WeekTable({ figures }: { readonly figures: PurgeFiguresView }) {
  return (
    <Section title="A week without any work">
      <table className="dense w-full">
        <thead>
          <tr className="text-left text-soft">
            <th scope="col" className="font-normal">
              This purge
            </th>
            {['Ink', 'Cost', 'Clogs'].map((title) => (
              <th key={title} scope="col" className="text-right font-normal">
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {figures.week.map((row) => (
            <tr key={row.text} className="border-t border-rule">
              <td className="py-0.5 pr-2">{row.text}</td>
              <td className="text-right whitespace-nowrap">{number(row.inkMl, 1)} ml</td>
              <td className="text-right whitespace-nowrap">{moneyText(row.costMinor, figures.currency)}</td>
              <td className="text-right whitespace-nowrap">{number(row.clogs, 1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}

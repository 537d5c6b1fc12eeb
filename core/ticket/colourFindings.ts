import { checkCurves, isInputCurve } from '../coats/curves.ts';
import type { CheckInput, Finding } from './finding.ts';

/** Whether what a ticket says of colour can be done on its printer. */
export function colourFindings({ values, channels, printerName }: CheckInput): Finding[] {
  const { curves } = values;
  const checked = checkCurves(curves);
  if (!checked.ok) {
    const mends = [{ text: 'Take the curves off', change: { curves: [] } }];
    return [{ code: 'curves', severity: 'block', text: checked.reason, figures: { curves: curves.length }, mends }];
  }
  const without = curves.filter((curve) => !isInputCurve(curve) && !channels.includes(curve.channel));
  if (without.length === 0) return [];
  const names = without.map(({ channel }) => channel).join(', ');
  return [
    {
      code: 'curves',
      severity: 'warn',
      text: `${printerName} has no ${names}: ${without.length === 1 ? 'that curve does' : 'those curves do'} nothing there.`,
      figures: { curves: without.length },
      mends: [
        {
          text: without.length === 1 ? 'Take it off' : 'Take them off',
          change: { curves: curves.filter((curve) => !without.includes(curve)) },
        },
      ],
    },
  ];
}

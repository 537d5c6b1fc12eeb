import type { AdviceView } from '../../../contract/api/heads.ts';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { durationText } from '../../../core/units/durationText.ts';
import { moneyText } from '../../draw/money.ts';
import { Button } from '../../ui/Button.tsx';
import { number } from '../../ui/text/number.ts';
import { Row, Section } from '../../ui/Sheet.tsx';
import { FromWhat } from '../../ui/FromWhat.tsx';
import type { Heads } from './useHeads.ts';
import { May } from '../../people/May.tsx';

const MIN = 60_000;
const ACTIONS = { light: 'Light clean', deep: 'Deep clean', rest: 'Rest, then clean again' } as const;

/** What to do for channels that are not fit: a ladder, the cheapest for a success first, each rung with its odds here. */
export function AdviceSection({ heads, advice }: { readonly heads: Heads; readonly advice: AdviceView }) {
  const { tell, say } = useNotice();
  const { what, channelIds, rungs, nothingMinor, ladderMinor, serviceMinor } = advice;
  const money = (minor: number): string => moneyText(minor, heads.currency);
  const inks = channelIds.map((id) => heads.channels.find((each) => each.id === id)?.name ?? id).join(', ');
  const start = (action: (typeof rungs)[number]['action']): void => {
    sendJson('POST', `/api/printers/${heads.printerId}/heads/care`, { action, channelIds, check: true }).then(() => {
      say(`${ACTIONS[action]} of ${heads.name}, ${inks}, and a check behind it: as soon as it is free`);
    }, tell);
  };
  return (
    <Section title={`What to do for ${inks}`}>
      <p className="mb-2">
        {what === 'nothing'
          ? nothingMinor === 0
            ? 'Nothing now: no planned run needs it to be better.'
            : `Leave it: that is expected to cost ${money(nothingMinor)} in planned runs, less than cleaning.`
          : what === 'ladder'
            ? 'Clean, the cheapest first. After each step a check is printed.'
            : 'Call service: nothing that can be done here is worth another try.'}
      </p>
      {rungs.map(({ action, costMinor, inkMl, minutes, chance, helped, tried }, i) => (
        <div key={action} className="mb-2 rounded-md border border-rule p-2">
          <div className="flex items-center justify-between gap-2">
            <span className="font-medium">
              {String(i + 1)}. {ACTIONS[action]}
            </span>
            <May right="operate">
              <Button
                kind={i === 0 && what === 'ladder' ? 'main' : 'plain'}
                aria-label={`Start: ${ACTIONS[action]}`}
                onClick={() => {
                  start(action);
                }}
              >
                Start
              </Button>
            </May>
          </div>
          <p className="dense mt-1 text-soft">
            {money(costMinor)}, {number(inkMl, 2)} ml, {durationText(minutes * MIN)}; helps in{' '}
            <FromWhat
              text={
                tried === 0
                  ? 'It was not tried here yet: what is usual of such a clean counts.'
                  : `It has helped ${String(helped)} of ${String(tried)} times here, beside what is usual of such a clean.`
              }
            >
              {number(chance * 100)} %
            </FromWhat>
          </p>
        </div>
      ))}
      <Row label="Expected cost of the ladder">{money(ladderMinor)}</Row>
      <Row label="Of doing nothing">{money(nothingMinor)}</Row>
      <Row label="Of calling service">{money(serviceMinor)}</Row>
    </Section>
  );
}

import type { ReactNode } from 'react';
import type { AwayActionView, AwayDrivers, AwaySimulation } from '../../../contract/api/away.ts';
import { moneyText } from '../../draw/money.ts';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { counted } from '../../ui/text/counted.ts';
import { number } from '../../ui/text/number.ts';
import { type Ticked, useDrivers } from './useSimulation.ts';

interface BeforeProps {
  readonly simulation: AwaySimulation;
  readonly ticked: readonly Ticked[];
  readonly working: boolean;
  /** Ways to take the list along. */
  readonly links: ReactNode;
  readonly onTick: (action: AwayActionView | Ticked) => void;
}

/** What to do before leaving, what brings most first. A tick simulates the night as if it were done. */
export function BeforeYouGo({ simulation, ticked, working, links, onTick }: BeforeProps) {
  const drivers = useDrivers(simulation.driversTaskId);
  const open = simulation.before.filter(({ key }) => !ticked.some((each) => each.key === key));
  const hands = open.filter(({ kind }) => kind === 'hand');
  const plans = open.filter(({ kind }) => kind === 'plan');
  return (
    <aside aria-label="Before you go" className="w-[350px] shrink-0 max-[1000px]:order-1 max-[1000px]:w-full">
      <h2 className="mb-1 font-semibold">Before you go</h2>
      {links}
      {ticked.length === 0 && hands.length === 0 && (
        <p className="text-soft">
          {working ? 'Working it out …' : 'Nothing that a hand could do now would bring more tonight.'}
        </p>
      )}
      <ul className="flex flex-col gap-1.5">
        {ticked.map((each) => (
          <li key={each.key} className="rounded-md border border-ink bg-spool px-2.5 py-1.5 text-on-spool">
            <Checkbox
              value
              text={<span className="min-w-0">{each.text}</span>}
              onChange={() => {
                onTick(each);
              }}
            />
            <span className="dense block pl-6">Counted as done. Do it, untick it, then arm.</span>
          </li>
        ))}
        {hands.map((action) => (
          <Action key={action.key} action={action} simulation={simulation} drivers={drivers} onTick={onTick} />
        ))}
      </ul>
      {plans.length > 0 && (
        <>
          <h3 className="mt-4 mb-1 font-semibold">Other ways to plan it</h3>
          <ul className="flex flex-col gap-1.5">
            {plans.map((action) => (
              <Action key={action.key} action={action} simulation={simulation} drivers={drivers} onTick={onTick} />
            ))}
          </ul>
        </>
      )}
      <Drivers drivers={drivers} hasOdds={simulation.odds.all !== null} />
    </aside>
  );
}

function Action({
  action,
  simulation,
  drivers,
  onTick,
}: {
  readonly action: AwayActionView;
  readonly simulation: AwaySimulation;
  readonly drivers: AwayDrivers | null | undefined;
  readonly onTick: (action: AwayActionView) => void;
}) {
  const { change, text, gain, minutes } = action;
  const surer = drivers?.find(({ key }) => key === action.key);
  const parts = [
    ...(gain.pieces > 0 ? [`+ ${counted(gain.pieces, 'piece')}`] : []),
    ...(gain.care > 0 ? [`+ ${String(gain.care)} of care`] : []),
    ...(gain.worthMinor >= 1 ? [`+ ${moneyText(gain.worthMinor, simulation.currency)}`] : []),
    ...(surer ? [`+ ${number(surer.gain.chance * 100, 1)} % surer`] : []),
  ];
  return (
    <li className="rounded-md border border-rule bg-card px-2.5 py-1.5">
      {change === null ? (
        <span className="block text-wait">{text}</span>
      ) : (
        <Checkbox
          value={false}
          className="items-start!"
          text={<span className="min-w-0">{text}</span>}
          onChange={() => {
            onTick(action);
          }}
        />
      )}
      {(parts.length > 0 || minutes > 0) && (
        <span className="dense flex justify-between gap-2 pl-6">
          <strong className="font-semibold">{parts.join(', ')}</strong>
          {minutes > 0 && <span className="text-soft">{number(minutes)} min</span>}
        </span>
      )}
    </li>
  );
}

function Drivers({
  drivers,
  hasOdds,
}: {
  readonly drivers: AwayDrivers | null | undefined;
  readonly hasOdds: boolean;
}) {
  if (!hasOdds || drivers === undefined) return null;
  return (
    <p className="mt-4 text-soft" aria-live="polite">
      {drivers === null
        ? 'Looking for what would raise the odds most …'
        : drivers.length === 0
          ? 'Nothing you could do tonight changes the odds of what is planned.'
          : `What raises the odds most: ${drivers
              .map(({ text, gain }) => `${text} (+ ${number(gain.chance * 100, 1)} ± ${number(gain.error * 200, 1)} %)`)
              .join('; ')}.`}
    </p>
  );
}

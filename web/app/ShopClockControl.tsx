import { UserX, Users } from 'lucide-react';
import { useContext } from 'react';
import type { CrewView } from '../../contract/api/hand.ts';
import { useCrew } from '../api/data.ts';
import { sendJson } from '../api/client.ts';
import { FlyOut } from '../ui/FlyOut.tsx';
import { useNotice } from './notice.tsx';
import { dateText, timeText, ShopTimeContext, shopRate, useShopNow } from './shopTime.ts';
import { useMay } from '../people/May.tsx';

const RATES = [0, 1, 10, 60, 300, 1200];
const STEPS = [
  { name: '1 min', byMs: 60_000 },
  { name: '10 min', byMs: 600_000 },
  { name: '1 h', byMs: 3_600_000 },
];

const CHOICE = 'block w-full rounded px-2 py-1 text-left hover:bg-rule/60 aria-pressed:font-semibold';

function rateText(rate: number): string {
  if (rate === 0) return 'stopped';
  return rate === 1 ? 'real time' : `${String(rate)}×`;
}

/** The shop's clock and how fast it runs: printers print in this time. */
export function ShopClockControl() {
  const time = useContext(ShopTimeContext);
  const now = useShopNow(500);
  const { tell } = useNotice();
  const mayTurn = useMay('set up');
  if (!time || now === undefined) return <div className="h-14" />;
  // Until the step is over the clock is as good as stopped: a step more is offered, not a speed.
  const rate = time.untilMs === null ? time.rate : 0;
  const change = (chosen: number | string): void => {
    if (typeof chosen === 'number') sendJson('PUT', '/api/clock', { rate: chosen }).catch(tell);
    else sendJson('POST', '/api/clock/steps', { byMs: Number(chosen) }).catch(tell);
  };
  return (
    <>
      <CrewSwitch />
      <FlyOut
        title="Shop time"
        hint="Shop time, and how fast it runs"
        placeClass="fixed bottom-11 left-[84px]"
        panelClass="w-40 p-1"
        buttonClass="mx-1.5 mt-1 flex-1 rounded-md border-t border-rule pt-2 text-center leading-tight hover:bg-rule/40"
        button={
          <span className="w-full">
            <span className="block text-xs text-soft">{dateText(now, time.zone)}</span>
            <span className="block text-base font-semibold">{timeText(now, time.zone)}</span>
            <span className="block text-xs text-soft">
              {shopRate(time) > 0 && time.untilMs !== null ? 'stepping' : rateText(rate)}
            </span>
          </span>
        }
      >
        {(close) => (
          <>
            {!mayTurn && <p className="px-2 py-1 text-soft">Owners set how fast shop time runs.</p>}
            {mayTurn && (
              <>
                <p className="px-2 py-1 text-xs text-soft">Shop time runs at</p>
                {RATES.map((each) => (
                  <button
                    key={each}
                    type="button"
                    aria-pressed={each === rate}
                    className={CHOICE}
                    onClick={() => {
                      change(each);
                      close();
                    }}
                  >
                    {rateText(each)}
                  </button>
                ))}
                <p className="mt-1 border-t border-rule px-2 pt-1.5 pb-1 text-xs text-soft">Step on, then stop</p>
                {STEPS.map(({ name, byMs }) => (
                  <button
                    key={name}
                    type="button"
                    className={CHOICE}
                    onClick={() => {
                      change(String(byMs));
                      close();
                    }}
                  >
                    {name}
                  </button>
                ))}
              </>
            )}
          </>
        )}
      </FlyOut>
    </>
  );
}

/** Beside the clock of a demo: whether people are stood in for. A shop with people of its own has no such switch. */
function CrewSwitch() {
  const may = useMay('coordinate');
  const { data, mutate } = useCrew();
  const { tell } = useNotice();
  if (!data?.there || !may) return null;
  return (
    <button
      type="button"
      aria-pressed={data.on}
      title={data.on ? 'The crew loads, confirms and empties. Let it rest' : 'The crew rests. Let it work'}
      onClick={() => {
        sendJson<CrewView>('PUT', '/api/crew', { on: !data.on })
          .then((next) => mutate(next, { revalidate: false }))
          .catch(tell);
      }}
      className="mx-1.5 flex flex-col items-center gap-0.5 rounded-md py-1.5 text-xs text-soft hover:bg-rule/40 hover:text-ink"
    >
      {data.on ? <Users size={18} aria-hidden="true" /> : <UserX size={18} aria-hidden="true" />}
      {data.on ? 'Crew' : 'No crew'}
    </button>
  );
}

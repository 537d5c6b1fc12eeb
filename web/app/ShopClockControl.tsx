import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { useContext } from 'react';
import { sendJson } from '../api/client.ts';
import { useNotice } from './notice.tsx';
import { ShopTimeContext, useShopNow } from './shopTime.ts';

const RATES = [0, 1, 10, 60, 300, 1200];

function rateText(rate: number): string {
  if (rate === 0) return 'stopped';
  return rate === 1 ? 'real time' : `${String(rate)}×`;
}

/** The shop's clock and how fast it runs: printers print in this time. */
export function ShopClockControl() {
  const time = useContext(ShopTimeContext);
  const now = useShopNow(500);
  const { tell } = useNotice();
  if (!time || now === undefined) return <div className="h-14" />;
  const inZone = { in: tz(time.zone) };
  const change = (rate: number): void => {
    sendJson('PUT', '/api/clock', { rate }).catch(tell);
  };
  return (
    <Listbox value={time.rate} onChange={change}>
      <ListboxButton
        title="Shop time, and how fast it runs"
        className="mx-1.5 mt-1 rounded-md border-t border-rule pt-2 text-center leading-tight hover:bg-rule/40"
      >
        <span className="block text-xs text-soft">{format(now, 'EEE d MMM', inZone)}</span>
        <span className="block text-base font-semibold">{format(now, 'HH:mm', inZone)}</span>
        <span className="block text-xs text-soft">{rateText(time.rate)}</span>
      </ListboxButton>
      <ListboxOptions
        anchor="right end"
        className="z-30 w-40 rounded-md border border-rule bg-card p-1 shadow-lg [--anchor-gap:8px] focus:outline-none"
      >
        <p className="px-2 py-1 text-xs text-soft">Shop time runs at</p>
        {RATES.map((rate) => (
          <ListboxOption
            key={rate}
            value={rate}
            className="cursor-pointer rounded px-2 py-1 data-focus:bg-rule/60 data-selected:font-semibold"
          >
            {rateText(rate)}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}

import { X } from 'lucide-react';
import { useForm } from 'react-hook-form';
import type { ShopSetup } from '../../../contract/api/shop.ts';
import { sendJson } from '../../api/client.ts';
import { useShopSetup } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { AddButton } from '../../ui/AddButton.tsx';
import { Button } from '../../ui/Button.tsx';
import { FieldError } from '../../ui/fields/FieldError.tsx';
import { FIELD } from '../../ui/fields/look.ts';
import { MoneyInput } from '../../ui/fields/MoneyInput.tsx';
import { NumberInput } from '../../ui/fields/NumberInput.tsx';
import { TextInput } from '../../ui/fields/TextInput.tsx';
import { IconButton } from '../../ui/IconButton.tsx';
import { Section } from '../../ui/Sheet.tsx';
import { DayHours } from './DayHours.tsx';

/** What counts while nothing is set. */
const DEFAULT_ROOM_MB = '500';

/** When somebody is in the shop: change-overs and work by hand wait for it; the rest of the time is unattended. */
export function HoursEditor() {
  const { data: setup } = useShopSetup();
  const { tell } = useNotice();
  if (!setup) return <p className="text-soft">Reading…</p>;
  const send = (part: Partial<ShopSetup>): void => {
    sendJson('PUT', '/api/shop', { ...setup, ...part }).catch(tell);
  };
  return (
    <div className="max-w-2xl">
      <h2 className="text-lg font-semibold">Shop hours</h2>
      <p className="mt-1 mb-3 text-soft">
        Outside of these hours nobody is there: printers go on where they may, and what needs a hand waits. The time
        zone is {setup.zone}.
      </p>
      <Section title="Hours">
        <DayHours
          days={setup.days}
          closed="nobody there"
          counted
          onChange={(days) => {
            send({ days });
          }}
        />
      </Section>
      <Section title="Ordering">
        <p className="flex flex-wrap items-center gap-2">
          Media is there so many open days after it was ordered, where a stock has no time of its own:
          <NumberInput
            label="Open days that a stock must last"
            value={setup.orderAheadDays}
            whole
            most={250}
            onChange={(orderAheadDays) => {
              send({ orderAheadDays });
            }}
          />
        </p>
      </Section>
      <Section title="What work is worth">
        <p className="flex flex-wrap items-center gap-2">
          A job without a price is worth its cost and
          <NumberInput
            label="Margin of work without a price"
            value={Math.round((setup.marginShare ?? 0) * 100)}
            whole
            most={2000}
            unit="%"
            onChange={(percent) => {
              send({ marginShare: percent / 100 });
            }}
          />
          of it, when a night is proposed or a quote is made.
        </p>
        <p className="mt-2 flex flex-wrap items-center gap-2">
          No quote is below
          <MoneyInput
            label="Least price"
            minor={setup.leastPriceMinor ?? 0}
            onChange={(leastPriceMinor) => {
              send({ leastPriceMinor });
            }}
          />
        </p>
      </Section>
      <Section title="This machine">
        <div className="flex flex-wrap items-center gap-2">
          Stop taking and sending work when the disk has less room than
          <NumberInput
            label="Least free room in MB"
            value={setup.leastFreeMb ?? undefined}
            placeholder={DEFAULT_ROOM_MB}
            whole
            least={1}
            most={1_000_000}
            unit="MB"
            onChange={(leastFreeMb) => {
              send({ leastFreeMb });
            }}
          />
          {setup.leastFreeMb != null && (
            <Button
              kind="quiet"
              onClick={() => {
                send({ leastFreeMb: null });
              }}
            >
              {DEFAULT_ROOM_MB} again
            </Button>
          )}
        </div>
        <div className="mt-2 flex flex-wrap items-center gap-2">
          Browsers may also reach the shop as
          <TextInput
            label="Host names of this shop"
            value={(setup.hostNames ?? []).join(', ')}
            placeholder="print.example, shop.local:8080"
            most={1000}
            className="min-w-60 flex-1"
            onChange={(names) => {
              send({ hostNames: names.split(/[\s,]+/).filter(Boolean) });
            }}
          />
        </div>
        <p className="dense mt-1 text-soft">
          Requests under any other name are refused, so that a page of another site can’t reach the shop through a
          browser here.
        </p>
      </Section>
      <Section title="Holidays">
        {setup.holidays.map((holiday, i) => (
          <Line
            key={`${holiday.date}-${String(i)}`}
            onRemove={() => {
              send({ holidays: setup.holidays.filter((_, at) => at !== i) });
            }}
            label={holiday.name}
          >
            <span className="w-32">{holiday.date}</span>
            {holiday.name}
          </Line>
        ))}
        <AddHoliday
          onAdd={(holiday) => {
            send({ holidays: [...setup.holidays, holiday].sort((a, b) => a.date.localeCompare(b.date)) });
          }}
        />
      </Section>
    </div>
  );
}

function Line({
  children,
  label,
  onRemove,
}: {
  readonly children: React.ReactNode;
  readonly label: string;
  readonly onRemove: () => void;
}) {
  return (
    <div className="flex items-center gap-3 border-b border-rule/60 py-1">
      {children}
      <IconButton label={`Remove ${label}`} className="ml-auto" onClick={onRemove}>
        <X size={15} aria-hidden="true" />
      </IconButton>
    </div>
  );
}

/** A day on which nobody is there; without a date it says what is missing. */
function AddHoliday({ onAdd }: { readonly onAdd: (holiday: ShopSetup['holidays'][number]) => void }) {
  const { register, handleSubmit, reset, formState } = useForm({ defaultValues: { date: '', name: '' } });
  return (
    <form
      className="mt-1.5"
      onSubmit={(event) => {
        void handleSubmit((holiday) => {
          onAdd(holiday);
          reset();
        })(event);
      }}
    >
      <div className="flex gap-2">
        <input
          type="date"
          aria-label="Date of the holiday"
          {...register('date', { required: 'Say which day it is.' })}
          aria-invalid={formState.errors.date !== undefined}
          className={FIELD}
        />
        <input
          aria-label="Name of the holiday"
          placeholder="holiday"
          maxLength={80}
          {...register('name', NAMED)}
          aria-invalid={formState.errors.name !== undefined}
          className={`${FIELD} flex-1`}
        />
        <AddButton>Add</AddButton>
      </div>
      <FieldError text={formState.errors.date?.message ?? formState.errors.name?.message} />
    </form>
  );
}

function trimmed(text: string): string {
  return text.trim();
}

const NAMED = { setValueAs: trimmed, required: 'It needs a name.' };

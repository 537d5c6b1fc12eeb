import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { ShopSetup } from '../../../contract/api/shop.ts';
import { sendJson } from '../../api/client.ts';
import { useShopSetup } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Section } from '../../ui/Sheet.tsx';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;
/** What counts while nothing is set. */
const DEFAULT_ROOM_MB = '500';
const FIELD = 'h-8 rounded border border-rule bg-card px-2';

/** When somebody is there: change-overs and work by hand wait for it; the rest of the time is unattended. */
export function HoursEditor() {
  const { data: setup } = useShopSetup();
  const { tell } = useNotice();
  if (!setup) return <p className="text-soft">Reading…</p>;
  const send = (part: Partial<ShopSetup>): void => {
    sendJson('PUT', '/api/shop', { ...setup, ...part }).catch(tell);
  };
  return (
    <div className="max-w-2xl">
      <h2 className="text-lg font-semibold">Shop hours and people</h2>
      <p className="mt-1 mb-3 text-soft">
        Outside of these hours nobody is there: printers go on where they may, and what needs a hand waits. The time
        zone is {setup.zone}.
      </p>
      <Section title="Hours">
        {DAYS.map((name, i) => {
          const weekday = i + 1;
          const open = setup.days.find((day) => day.weekday === weekday);
          const set = (hours: { from: string; to: string } | null): void => {
            const others = setup.days.filter((day) => day.weekday !== weekday);
            const next = hours ? [...others, { weekday, ...hours }] : others;
            send({ days: next.sort((a, b) => a.weekday - b.weekday) });
          };
          return (
            <div key={name} className="flex items-center gap-3 py-0.5">
              <label className="flex w-36 items-center gap-2">
                <input
                  type="checkbox"
                  checked={open !== undefined}
                  onChange={(event) => {
                    set(event.target.checked ? { from: '07:30', to: '18:00' } : null);
                  }}
                  className="accent-tide"
                />
                {name}
              </label>
              {open ? (
                <>
                  <TimeField
                    label={`${name} from`}
                    value={open.from}
                    onChange={(from) => {
                      set({ ...open, from });
                    }}
                  />
                  <span className="text-soft">to</span>
                  <TimeField
                    label={`${name} to`}
                    value={open.to}
                    onChange={(to) => {
                      set({ ...open, to });
                    }}
                  />
                </>
              ) : (
                <span className="text-soft">nobody there</span>
              )}
            </div>
          );
        })}
      </Section>
      <Section title="Ordering">
        <label className="flex items-center gap-2">
          A stock is to be ordered when it lasts fewer open days than
          <input
            type="number"
            min={0}
            max={250}
            key={setup.orderAheadDays}
            defaultValue={setup.orderAheadDays}
            onBlur={(event) => {
              const days = Math.round(Number(event.target.value));
              if (days !== setup.orderAheadDays && days >= 0 && days <= 250) send({ orderAheadDays: days });
              else event.target.value = String(setup.orderAheadDays);
            }}
            className={`w-20 ${FIELD}`}
          />
        </label>
      </Section>
      <Section title="This machine">
        <label className="flex flex-wrap items-center gap-2">
          Nothing new is taken or sent when the disk has less room than
          <input
            type="number"
            min={1}
            placeholder={DEFAULT_ROOM_MB}
            key={setup.leastFreeMb ?? 'default'}
            defaultValue={setup.leastFreeMb ?? ''}
            onBlur={(event) => {
              const typed = event.target.value.trim();
              const mb = typed === '' ? null : Math.round(Number(typed));
              if (mb === (setup.leastFreeMb ?? null)) return;
              if (mb === null || (mb >= 1 && mb <= 1_000_000)) send({ leastFreeMb: mb });
              else event.target.value = setup.leastFreeMb == null ? '' : String(setup.leastFreeMb);
            }}
            className={`w-24 ${FIELD}`}
          />
          MB
        </label>
        <label className="mt-2 flex flex-wrap items-center gap-2">
          Browsers may also reach the shop as
          <input
            type="text"
            placeholder="print.example, shop.local:8080"
            key={(setup.hostNames ?? []).join()}
            defaultValue={(setup.hostNames ?? []).join(', ')}
            onBlur={(event) => {
              const names = event.target.value.split(/[\s,]+/).filter(Boolean);
              if (names.join() !== (setup.hostNames ?? []).join()) send({ hostNames: names });
            }}
            className={`min-w-60 flex-1 ${FIELD}`}
          />
        </label>
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
      <Section title="People">
        {setup.people.map((person, i) => (
          <Line
            key={person.name}
            onRemove={() => {
              send({ people: setup.people.filter((_, at) => at !== i) });
            }}
            label={person.name}
          >
            <span className="w-44 font-medium">{person.name}</span>
            <span className="text-soft">{person.does}</span>
          </Line>
        ))}
        <AddPerson
          onAdd={(person) => {
            send({ people: [...setup.people, person] });
          }}
        />
      </Section>
    </div>
  );
}

function TimeField({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  const [text, setText] = useState<string>();
  return (
    <input
      type="time"
      aria-label={label}
      value={text ?? value}
      onChange={(event) => {
        setText(event.target.value);
      }}
      onBlur={() => {
        if (text !== undefined && text !== '' && text !== value) onChange(text);
        setText(undefined);
      }}
      className={FIELD}
    />
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
      <button
        type="button"
        aria-label={`Remove ${label}`}
        onClick={onRemove}
        className="ml-auto rounded p-1 text-soft hover:bg-rule/50 hover:text-ink"
      >
        <X size={15} />
      </button>
    </div>
  );
}

function AddHoliday({ onAdd }: { readonly onAdd: (holiday: ShopSetup['holidays'][number]) => void }) {
  const [date, setDate] = useState('');
  const [name, setName] = useState('');
  return (
    <form
      className="mt-1.5 flex gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (date === '' || name.trim() === '') return;
        onAdd({ date, name: name.trim() });
        setDate('');
        setName('');
      }}
    >
      <input
        type="date"
        aria-label="Date of the holiday"
        value={date}
        onChange={(event) => {
          setDate(event.target.value);
        }}
        className={FIELD}
      />
      <input
        aria-label="Name of the holiday"
        placeholder="holiday"
        value={name}
        maxLength={80}
        onChange={(event) => {
          setName(event.target.value);
        }}
        className={`${FIELD} flex-1`}
      />
      <AddSign />
    </form>
  );
}

function AddPerson({ onAdd }: { readonly onAdd: (person: ShopSetup['people'][number]) => void }) {
  const [name, setName] = useState('');
  const [does, setDoes] = useState('');
  return (
    <form
      className="mt-1.5 flex gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim() === '') return;
        onAdd({ name: name.trim(), does: does.trim() });
        setName('');
        setDoes('');
      }}
    >
      <input
        aria-label="Name of the person"
        placeholder="name"
        value={name}
        maxLength={80}
        onChange={(event) => {
          setName(event.target.value);
        }}
        className={`${FIELD} w-44`}
      />
      <input
        aria-label="What the person does"
        placeholder="does"
        value={does}
        maxLength={120}
        onChange={(event) => {
          setDoes(event.target.value);
        }}
        className={`${FIELD} flex-1`}
      />
      <AddSign />
    </form>
  );
}

function AddSign() {
  return (
    <button type="submit" className="inline-flex items-center gap-1 rounded px-1 text-tide hover:bg-rule/50">
      <Plus size={15} aria-hidden="true" /> Add
    </button>
  );
}

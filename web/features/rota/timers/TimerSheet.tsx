import { useState } from 'react';
import type { TimerBody, TimerView } from '../../../../contract/api/care.ts';
import { WEEKDAYS } from '../../../../core/care/rule.ts';
import { recurrenceText } from '../../../../core/care/timerText.ts';
import { wallTimeOf } from '../../../../core/care/wallTime.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { type Printer, usePrinters, useDesigns } from '../../../api/data.ts';
import { useZone } from '../../../app/shopTime.ts';
import { Button } from '../../../ui/Button.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { FieldError } from '../../../ui/fields/FieldError.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { FIELD } from '../../../ui/fields/look.ts';
import { Row, Section, Sheet } from '../../../ui/Sheet.tsx';
import { CopiesOf } from './CopiesOf.tsx';
import { type TimerDraft, WHENS, bodyOf, draftOf } from './timerDraft.ts';
import { useTimers } from '../useRota.ts';
import { WhatFields, hasWhite } from './WhatFields.tsx';
import { Changeable } from '../../../people/May.tsx';

const DAY_WORDS = { MO: 'Mon', TU: 'Tue', WE: 'Wed', TH: 'Thu', FR: 'Fri', SA: 'Sat', SU: 'Sun' } as const;
const MISSED = [
  { value: 'catch-up' as const, text: 'made up at once' },
  { value: 'report' as const, text: 'only told' },
];
const DAY_MS = 86_400_000;

/** A new timer, or one that is there. */
export function TimerSheet({
  timerId,
  nowMs,
  onClose,
  onDesign,
}: {
  readonly timerId: string;
  readonly nowMs: number;
  readonly onClose: () => void;
  readonly onDesign: () => void;
}) {
  const { data: timers } = useTimers();
  const { data: designs } = useDesigns();
  const { data: printers } = usePrinters();
  const zone = useZone();
  const timer = timers?.find(({ id }) => id === timerId);
  if (!timers || !designs || !printers) return null;
  if (timerId !== 'new' && !timer) return null;
  const shown = timer && draftOf(timer);
  const [design] = designs;
  const start: TimerDraft = shown ?? {
    printerIds: design ? [design.printerId] : printers.slice(0, 1).map(({ id }) => id),
    what: design ? { kind: 'purge', designId: design.id } : { kind: 'check' },
    when: 'every day',
    date: wallTimeOf(nowMs + DAY_MS, zone).slice(0, 10),
    time: '04:15',
    every: 6,
    days: ['MO', 'TU', 'WE', 'TH', 'FR'],
    monthDay: 1,
    until: '',
    skipHolidays: false,
    missed: 'catch-up',
    slackMin: 60,
  };
  return (
    <Sheet
      title={timer ? 'Timer' : 'New timer'}
      under={timer && <p className="text-soft">{timer.title}</p>}
      onClose={onClose}
      wide
    >
      <Changeable right="coordinate" what="timers">
        {timer && !shown ? (
          <p>
            It comes {timer.text} ({timer.rrule}). That was set by another program; it can be paused or removed here,
            not changed.
          </p>
        ) : (
          <TimerForm timer={timer} start={start} onClose={onClose} onDesign={onDesign} />
        )}
        {timer && <Remove timer={timer} onClose={onClose} />}
      </Changeable>
    </Sheet>
  );
}

function Remove({ timer, onClose }: { readonly timer: TimerView; readonly onClose: () => void }) {
  const { mutate } = useTimers();
  const [wrong, setWrong] = useState<string>();
  return (
    <div className="mt-4">
      <Button
        kind="danger"
        onClick={() => {
          sendJson('DELETE', `/api/timers/${timer.id}`).then(
            () => {
              void mutate();
              onClose();
            },
            (error: unknown) => {
              setWrong(errorText(error));
            },
          );
        }}
      >
        Remove the timer
      </Button>
      <FieldError text={wrong} />
    </div>
  );
}

function TimerForm({
  timer,
  start,
  onClose,
  onDesign,
}: {
  readonly timer: TimerView | undefined;
  readonly start: TimerDraft;
  readonly onClose: () => void;
  readonly onDesign: () => void;
}) {
  const [draft, setDraft] = useState(start);
  const [wrong, setWrong] = useState<string>();
  const { mutate } = useTimers();
  const { data: printers = [] } = usePrinters();
  const { data: designs = [] } = useDesigns();
  const set = (change: Partial<TimerDraft>): void => {
    setDraft((before) => ({ ...before, ...change }));
  };
  const able = (printer: Printer): boolean => draft.what.kind !== 'stir' || hasWhite(printer);
  const body = bodyOf(draft);
  const { what } = draft;
  const design = what.kind === 'purge' ? designs.find(({ id }) => id === what.designId) : undefined;
  const ownPrinterId = design?.printerId;
  const keep = async (): Promise<void> => {
    const { printerIds, paused: _paused, ...change } = body;
    try {
      if (timer) await sendJson('PATCH', `/api/timers/${timer.id}`, change, { 'if-match': String(timer.version) });
      else await sendJson('POST', '/api/timers', { printerIds, ...change, paused: false, copyDesigns: true });
      await mutate();
      onClose();
    } catch (error) {
      setWrong(errorText(error));
    }
  };
  const date = (name: string, key: 'date' | 'until') => (
    <input
      type="date"
      aria-label={name}
      value={draft[key]}
      onChange={(event) => {
        set({ [key]: event.target.value });
      }}
      className={FIELD}
    />
  );
  return (
    <>
      <Section title="What">
        <WhatFields draft={draft} isNew={!timer} set={set} onDesign={onDesign} />
        {!timer && draft.what.kind !== 'release' && (
          <fieldset className="mt-2">
            <legend className="text-soft">On</legend>
            <div className="grid grid-cols-2 gap-1">
              {printers.filter(able).map(({ id, name }) => (
                <Checkbox
                  key={id}
                  text={name}
                  value={draft.printerIds.includes(id)}
                  disabled={id === ownPrinterId}
                  onChange={(on) => {
                    set({
                      printerIds: on ? [...draft.printerIds, id] : draft.printerIds.filter((each) => each !== id),
                    });
                  }}
                />
              ))}
            </div>
          </fieldset>
        )}
        {!timer && design && (
          <CopiesOf design={design} printers={printers.filter(({ id }) => draft.printerIds.includes(id))} />
        )}
      </Section>
      <Section title="When">
        <Row label="Repeats">
          <Select
            label="Repeats"
            value={draft.when}
            choices={WHENS}
            onChange={(when) => {
              set({ when });
            }}
          />
        </Row>
        {draft.when === 'on weekdays' && (
          <div className="flex flex-wrap justify-end gap-x-3 gap-y-1 py-1">
            {WEEKDAYS.map((day) => (
              <Checkbox
                key={day}
                text={DAY_WORDS[day]}
                value={draft.days.includes(day)}
                onChange={(on) => {
                  set({ days: on ? [...draft.days, day] : draft.days.filter((each) => each !== day) });
                }}
              />
            ))}
          </div>
        )}
        {(draft.when === 'every so many hours' || draft.when === 'every so many days') && (
          <Row label="Every">
            <NumberInput
              label="Every"
              value={draft.every}
              least={1}
              most={1000}
              whole
              unit={draft.when === 'every so many hours' ? 'h' : 'days'}
              onChange={(every) => {
                set({ every });
              }}
            />
          </Row>
        )}
        {draft.when === 'monthly' && (
          <Row label="Day of the month">
            <Select
              label="Day of the month"
              value={String(draft.monthDay)}
              choices={[...Array.from({ length: 31 }, (_, i) => String(i + 1)), { value: '-1', text: 'last' }]}
              onChange={(day) => {
                set({ monthDay: Number(day) });
              }}
            />
          </Row>
        )}
        <Row label={draft.when === 'once' ? 'On' : 'From'}>
          <span className="inline-flex gap-2">
            {date('Start date', 'date')}
            <input
              type="time"
              aria-label="Time"
              value={draft.time}
              onChange={(event) => {
                set({ time: event.target.value });
              }}
              className={FIELD}
            />
          </span>
        </Row>
        {draft.when !== 'once' && <Row label="Until">{date('Last date', 'until')}</Row>}
        <Row label="Not on holidays">
          <Checkbox
            label="Not on holidays"
            value={draft.skipHolidays}
            onChange={(skipHolidays) => {
              set({ skipHolidays });
            }}
          />
        </Row>
        <Row label="May begin later by">
          <NumberInput
            label="May begin later by"
            value={draft.slackMin}
            most={10_080}
            whole
            unit="min"
            onChange={(slackMin) => {
              set({ slackMin });
            }}
          />
        </Row>
        <Row label="Missed while off">
          <Select
            label="Missed while off"
            value={draft.missed}
            choices={MISSED}
            onChange={(missed) => {
              set({ missed });
            }}
          />
        </Row>
        <p className="mt-2 font-medium" aria-live="polite">
          {draft.date === '' || draft.time === '' ? 'Choose a date and a time.' : sentenceOf(body)}
        </p>
      </Section>
      <FieldError text={wrong} />
      <Button
        onClick={() => {
          void keep();
        }}
        kind="main"
        className="w-full"
        disabled={draft.printerIds.length === 0 || draft.date === '' || draft.time === ''}
      >
        {timer ? 'Keep the change' : `Make the timer${draft.printerIds.length > 1 ? 's' : ''}`}
      </Button>
    </>
  );
}

function sentenceOf(body: TimerBody): string {
  const text = recurrenceText(body);
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
}

import { TZDate, tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { ok, refuse } from '../../../core/result.ts';
import { FieldError } from './FieldError.tsx';
import { FIELD } from './look.ts';
import { useDraft } from './useDraft.ts';

/** Date and time in the shop's zone, whatever zone this computer is in. Empty: none. */
export function DateTimeInput({
  label,
  valueMs,
  zone,
  onChange,
}: {
  readonly label: string;
  readonly valueMs: number | null;
  readonly zone: string;
  readonly onChange: (ms: number | null) => void;
}) {
  const draft = useDraft<number | null>({
    shown: valueMs === null ? '' : format(valueMs, "yyyy-MM-dd'T'HH:mm", { in: tz(zone) }),
    parse: (text) => {
      if (text === '') return ok(null);
      const parts = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)/.exec(text);
      if (!parts) return refuse('Not a date and time.');
      const [year = 0, month = 1, ...rest] = parts.slice(1).map(Number);
      const [day = 1, hour = 0, minute = 0] = rest;
      return ok(new TZDate(year, month - 1, day, hour, minute, zone).getTime());
    },
    isKept: (ms) => ms === valueMs,
    onCommit: onChange,
  });
  return (
    <>
      <input type="datetime-local" aria-label={label} {...draft.input} className={`${FIELD} w-full`} />
      <FieldError text={draft.wrong} />
    </>
  );
}

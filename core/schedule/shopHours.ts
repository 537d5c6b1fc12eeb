import { TZDate } from '@date-fns/tz';

/** Hours of one weekday, local time. */
export interface DayHours {
  /** By ISO, 1 is Monday. */
  readonly weekday: number;
  readonly from: string;
  readonly to: string;
  /** So many people are there; left out: one. */
  readonly people?: number;
}

/** The first hours that end before they begin; undefined: all are sound. */
export function unsoundHours(days: readonly DayHours[]): DayHours | undefined {
  return days.find(({ from, to }) => from >= to);
}

/** When people are in the shop. Local times of the shop's zone; weekdays by ISO, 1 is Monday. */
export interface ShopHours {
  readonly zone: string;
  readonly days: readonly DayHours[];
  /** Nobody comes: `YYYY-MM-DD`. */
  readonly holidays: readonly { readonly date: string; readonly name: string }[];
}

export interface TimeSpan {
  readonly fromMs: number;
  readonly toMs: number;
}

/** A span with somebody there, and how many where that was said. */
export interface AttendedSpan extends TimeSpan {
  readonly people?: number;
}

/** Spans with somebody there that touch the time asked for, in order. */
export function attendedSpans(hours: ShopHours, fromMs: number, toMs: number): AttendedSpan[] {
  const spans: AttendedSpan[] = [];
  const closed = new Set(hours.holidays.map(({ date }) => date));
  const day = new TZDate(fromMs, hours.zone);
  day.setHours(0, 0, 0, 0);
  while (day.getTime() < toMs) {
    const [y, mo, d] = [day.getFullYear(), day.getMonth(), day.getDate()];
    const date = `${String(y)}-${String(mo + 1).padStart(2, '0')}-${String(d).padStart(2, '0')}`;
    const weekday = day.getDay() === 0 ? 7 : day.getDay();
    for (const open of closed.has(date) ? [] : hours.days.filter((each) => each.weekday === weekday)) {
      const at = (text: string): number => {
        const [h = 0, mi = 0] = text.split(':').map(Number);
        return new TZDate(y, mo, d, h, mi, hours.zone).getTime();
      };
      const { people } = open;
      const span = { fromMs: at(open.from), toMs: at(open.to), ...(people !== undefined && { people }) };
      if (span.toMs > fromMs && span.fromMs < toMs && span.toMs > span.fromMs) spans.push(span);
    }
    day.setDate(d + 1);
  }
  return spans.sort((a, b) => a.fromMs - b.fromMs);
}

/** Attendance looked up fast: for plans that ask thousands of times. Beyond the last span nobody comes. */
export class Attendance {
  constructor(readonly spans: readonly TimeSpan[]) {}

  /** Always somebody there: for plans that don't know the hours. */
  static always(): Attendance {
    return new Attendance([{ fromMs: -Infinity, toMs: Infinity }]);
  }

  /** The span that holds this instant or is the next after it. */
  private next(ms: number): number {
    let low = 0;
    let high = this.spans.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if ((this.spans[mid]?.toMs ?? 0) > ms) high = mid;
      else low = mid + 1;
    }
    return low;
  }

  isThere(ms: number): boolean {
    const span = this.spans[this.next(ms)];
    return span !== undefined && span.fromMs <= ms;
  }

  /** When whoever is there at an instant goes. */
  goesMs(ms: number): number {
    return this.spans[this.next(ms)]?.toMs ?? ms;
  }

  /**
   * The first start from `ms` on at which somebody stays for `forMs`. Where no span is that long: the first with anybody
   * there. Beyond the last span its week repeats. Undefined where nobody ever comes.
   */
  startFor(ms: number, forMs: number): number | undefined {
    const first = this.next(ms);
    for (let i = first; i < this.spans.length; i += 1) {
      const span = this.spans[i];
      if (!span) break;
      const start = Math.max(ms, span.fromMs);
      if (span.toMs - start >= forMs) return start;
    }
    const span = this.spans[first];
    return span ? Math.max(ms, span.fromMs) : this.beyond(ms, forMs);
  }

  /** Plans of long lines reach beyond the spans that are known. */
  private beyond(ms: number, forMs: number): number | undefined {
    const last = this.spans.at(-1);
    const oldest = this.spans[0];
    if (!last || !oldest || last.toMs === Infinity || last.toMs - oldest.fromMs < 6 * DAY_MS) return undefined;
    const weeks = Math.floor((ms - last.toMs) / (7 * DAY_MS)) + 1;
    const start = this.startFor(ms - weeks * 7 * DAY_MS, forMs);
    return start === undefined ? undefined : Math.max(ms, start + weeks * 7 * DAY_MS);
  }
}

const DAY_MS = 86_400_000;

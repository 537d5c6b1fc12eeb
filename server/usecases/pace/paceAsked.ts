import { PACE_BY, type PaceBy, type PaceQuery } from '../../../contract/api/pace/pace.ts';
import { MEASURES, type Measure } from '../../../core/pace/measures.ts';
import { Refused } from '../../shop.ts';

const TIMES = ['hour', 'day', 'week', 'month'] as const;
export type TimeBy = (typeof TIMES)[number];
export type ThingBy = Exclude<PaceBy, TimeBy>;

/** By hours no longer than this: a table of hours over years says nothing. */
const MOST_HOURS_MS = 62 * 86_400_000;

/** What figures are asked for, once it makes sense. */
export interface Asked {
  readonly fromMs: number;
  readonly toMs: number;
  readonly time: TimeBy | undefined;
  readonly things: readonly ThingBy[];
  readonly measures: readonly Measure[];
  readonly query: PaceQuery;
}

const isTime = (by: PaceBy): by is TimeBy => (TIMES as readonly string[]).includes(by);
const isBy = (word: string): word is PaceBy => (PACE_BY as readonly string[]).includes(word);

/** @throws Refused for a period that ends before it begins, and for ways and measures that there are none of */
export function askedOf(query: PaceQuery): Asked {
  const { fromMs, toMs } = query;
  if (!(fromMs < toMs)) throw new Refused(422, 'no-time', 'The period ends before it begins.');
  const by = waysOf(query);
  const times = by.filter(isTime);
  const [time] = times;
  if (times.length > 1)
    throw new Refused(422, 'by', 'Only one way to part the time at once.', undefined, 'Leave one out.');
  if (time === 'hour' && toMs - fromMs > MOST_HOURS_MS) {
    const way = 'Choose a shorter time, or days.';
    throw new Refused(422, 'too-many-rows', 'By hours two months at most.', undefined, way);
  }
  const things = by.filter((each): each is ThingBy => !isTime(each));
  return { fromMs, toMs, time, things, measures: measuresOf(query), query };
}

function waysOf({ by = '' }: PaceQuery): PaceBy[] {
  const words = by
    .split(',')
    .map((each) => each.trim())
    .filter((each) => each !== '');
  const known = words.filter(isBy);
  const unknown = words.find((each) => !isBy(each));
  if (unknown !== undefined || known.length > 2 || new Set(known).size < known.length) {
    const text = unknown === undefined ? 'At most two different ways at once.' : `Figures can’t be had by ${unknown}.`;
    throw new Refused(422, 'by', text, undefined, `Choose up to two of ${PACE_BY.join(', ')}.`);
  }
  return known;
}

function measuresOf({ measures = '' }: PaceQuery): readonly Measure[] {
  if (measures === '') return MEASURES;
  return measures.split(',').map((id) => {
    const found = MEASURES.find((each) => each.id === id.trim());
    if (found) return found;
    const way = `There are ${MEASURES.map((each) => each.id).join(', ')}.`;
    throw new Refused(422, 'no-such-measure', `There is no measure ${id.trim()}.`, undefined, way);
  });
}

import { type AwayChange, type ChangeRefusal, ChangeRefused, changedFloor } from '../../../core/away/awayChange.ts';
import { type PeriodRefusal, checkPeriod } from '../../../core/away/awayPeriod.ts';
import { Refused } from '../../shop.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';

const HOUR = 3_600_000;

/** @throws Refused where nothing can be planned for such a time */
export function mustBePeriod(period: { readonly fromMs: number; readonly toMs: number }, nowMs: number): void {
  const wrong = checkPeriod(period, nowMs);
  if (!wrong) return;
  throw new Refused(422, `away-${wrong.code}`, refusalText(wrong), { ...period }, 'Choose another time.');
}

function refusalText(wrong: PeriodRefusal): string {
  switch (wrong.code) {
    case 'backwards':
      return 'A time away ends after it begins.';
    case 'past':
      return 'That time is over.';
    case 'too-far':
      return `Timers and hours are planned ${String(wrong.mostMs / HOUR / 24)} days ahead; that time ends later.`;
  }
}

/**
 * Whether the changes can be imagined of this floor, one after another.
 * @throws Refused where one names what is not there, or no longer is after those before it
 */
export function mustFit(floor: Floor, changes: readonly AwayChange[]): void {
  if (changes.length === 0) return;
  try {
    changedFloor(snapshotFor(floor), changes);
  } catch (error) {
    if (!(error instanceof ChangeRefused)) throw error;
    throw new Refused(
      409,
      'change-gone',
      `${goneText(error.refusal)} is no longer there as the change has it.`,
      undefined,
      'Work it out again from how the floor is now.',
    );
  }
}

function goneText({ code, what }: ChangeRefusal): string {
  const texts: Record<ChangeRefusal['code'], string> = {
    'no-printer': `The printer ${what}`,
    'no-source': `The source ${what}`,
    'no-spool': `The spool ${what}`,
    'no-run': `The run ${what}`,
    'no-channel': `The channel ${what}`,
    'no-timer': `The timer ${what}`,
    'wrong-order': `The line of ${what}`,
  };
  return texts[code];
}

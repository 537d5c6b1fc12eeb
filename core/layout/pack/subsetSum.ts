import { int32At, itemAt } from '../../elementAt.ts';
import { addShifted } from './bitSet.ts';

/** Finds members of a list whose spans add up to a goal. One bit a sum: fast enough to be asked thousands of times a second. */
export class SubsetSum {
  private readonly sets: Int32Array;

  /**
   * @param most the largest goal
   * @param members the longest list
   */
  constructor(most: number, members: number) {
    this.sets = new Int32Array(((most >> 5) + 1) * (members + 1));
  }

  /**
   * Members that bring `first` up to the goal, or short of it by no more than the slack; the earlier ones are taken first.
   * After each member the set of reachable sums is kept; what was used is read back from there.
   * @returns indices into `spans`, or undefined where no sum is right
   */
  find(first: number, spans: readonly number[], goal: number, slack: number): number[] | undefined {
    if (first <= goal && first >= goal - slack) return [];
    const { sets } = this;
    const words = (goal >> 5) + 1;
    sets.fill(0, 0, words);
    sets[first >> 5] = 1 << (first & 31);
    let end = -1;
    let used = 0;
    for (let m = 0; m < spans.length && end < 0; m++) {
      sets.copyWithin((m + 1) * words, m * words, (m + 1) * words);
      addShifted(sets, (m + 1) * words, sets, m * words, words, itemAt(spans, m));
      used = m + 1;
      for (let s = goal; s >= goal - slack && end < 0; s--) {
        if (has(sets, used * words, s)) end = s;
      }
    }
    if (end < 0) return undefined;
    const found: number[] = [];
    for (let s = end, m = used; m > 0; m--) {
      if (has(sets, (m - 1) * words, s)) continue;
      found.push(m - 1);
      s -= itemAt(spans, m - 1);
    }
    return found;
  }
}

function has(sets: Int32Array, from: number, sum: number): boolean {
  return ((int32At(sets, from + (sum >> 5)) >>> (sum & 31)) & 1) === 1;
}

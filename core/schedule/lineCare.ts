import { careBeforeRun } from '../care/purgeRule.ts';
import { itemAt } from '../elementAt.ts';
import type { PlanCare } from './plan.ts';

/** The care of a line while it is planned: each is taken once, when it falls due or ahead of a run that would keep it too long. */
export class LineCare {
  /** The place of what comes next. */
  private at = 0;
  /** Places of what was taken ahead of its due instant: it is left out then. */
  private readonly ahead = new Set<number>();

  /** @param care in the order of its instants */
  constructor(private readonly care: readonly PlanCare[]) {}

  /** The same as another is, for a copy of its line. */
  takeOver({ at, ahead }: LineCare): void {
    this.at = at;
    for (const place of ahead) this.ahead.add(place);
  }

  /** The first that has not been taken. */
  next(): PlanCare | undefined {
    while (this.ahead.has(this.at)) this.at += 1;
    return this.care[this.at];
  }

  /** Takes the next if it is due by an instant. */
  takeDue(byMs: number): PlanCare | undefined {
    const next = this.next();
    if (!next || next.fromMs > byMs) return undefined;
    this.at += 1;
    return next;
  }

  /** Takes what a run of this length would keep beyond its latest start, of each timer once. */
  takeBefore(startMs: number, estimateMs: number): PlanCare[] {
    if (this.at >= this.care.length) return [];
    return careBeforeRun(this.care, startMs, estimateMs, (place) => this.isTaken(place)).map((place) => {
      this.ahead.add(place);
      return itemAt(this.care, place);
    });
  }

  /** What has not been taken, in its order. */
  left(): PlanCare[] {
    return this.care.filter((_each, place) => !this.isTaken(place));
  }

  private isTaken(place: number): boolean {
    return place < this.at || this.ahead.has(place);
  }
}

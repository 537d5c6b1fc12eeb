import { nounFor } from '../../../core/counted.ts';
import { number } from './number.ts';

/** A count with its noun, the figure as the person reads it: "1 piece", "1.200 pieces". */
export function counted(count: number, one: string, many?: string): string {
  return `${number(count)} ${nounFor(count, one, many)}`;
}

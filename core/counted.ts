/** A noun for so many: "piece" of one, "pieces" of any other count. @param many where it isn't just an s more */
export function nounFor(count: number, one: string, many = `${one}s`): string {
  return count === 1 ? one : many;
}

const FIGURES = new Intl.NumberFormat('en-GB');

/** A count with its noun: "1 piece", "1,200 pieces". Pages write figures as their reader does: see `web/ui/text/counted.ts`. */
export function counted(count: number, one: string, many?: string): string {
  return `${FIGURES.format(count)} ${nounFor(count, one, many)}`;
}

const FIGURES = new Intl.NumberFormat('en-GB');

/**
 * A count with its noun: "1 piece", "1,200 pieces".
 * @param many the noun for more than one, where it isn't just an s more
 */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${FIGURES.format(count)} ${count === 1 ? one : many}`;
}

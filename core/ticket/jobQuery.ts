/** What people find jobs by, in one thing alone (`customer:marram`) or anywhere. */
export const QUERY_FIELDS = [
  'name',
  'customer',
  'order',
  'size',
  'stock',
  'finding',
  'state',
  'queue',
  'preset',
  'priority',
] as const;
export type QueryField = (typeof QUERY_FIELDS)[number];

export interface QueryWord {
  readonly field: QueryField | 'all';
  /** In lower case; `×` of a size is written `x`. */
  readonly text: string;
}

/** The words of a query; every one of them must be found. A field without a text is being typed, and asks for nothing yet. */
export function queryWords(query: string): QueryWord[] {
  return query
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => {
      const field = QUERY_FIELDS.find((each) => word.startsWith(`${each}:`));
      const text = field ? word.slice(field.length + 1) : word;
      return { field: field ?? ('all' as const), text: field === 'size' || !field ? text.replace('×', 'x') : text };
    })
    .filter(({ text }) => text !== '');
}

/** The server's index knows pieces of three letters: shorter words can only narrow what longer ones have found. */
const SHORTEST = 3;

/** Whether a word can be looked up in the index; state and priority change too often to be in it. */
export function isIndexed({ field, text }: QueryWord): boolean {
  return text.length >= SHORTEST && field !== 'state' && field !== 'priority';
}

/** Whether there are words and none of them can be looked up: jobs of the past can't be searched by these alone. */
export function isTooShort(query: string): boolean {
  const words = queryWords(query);
  return words.length > 0 && !words.some(isIndexed);
}

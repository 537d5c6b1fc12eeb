import { useCallback, useState } from 'react';
import { useSearchParams } from 'react-router';
import { type JobFilter, SHOWS } from './filter.ts';

const PARTS = ['show', 'queue', 'find'] as const;

/** The filter that an address says; one that says no list says nothing, and all is as `base`. */
export function filterIn(params: URLSearchParams, base: JobFilter): JobFilter {
  const show = SHOWS.find((each) => each === params.get('show'));
  return show ? { show, queueId: params.get('queue'), text: params.get('find') ?? '' } : base;
}

/** An address with this filter; everything else in it stays. */
export function withFilter(params: URLSearchParams, { show, queueId, text }: JobFilter): URLSearchParams {
  const next = new URLSearchParams(params);
  for (const part of PARTS) next.delete(part);
  next.set('show', show);
  if (queueId !== null) next.set('queue', queueId);
  if (text !== '') next.set('find', text);
  return next;
}

const keyOf = (params: URLSearchParams): string => PARTS.map((part) => params.get(part) ?? '\0').join('\n');

/**
 * The filter of Intake stands in the address: it survives a reload, goes with a link, and Back takes the last choice back.
 * Typed words take the place of each other there; each other choice is a step of its own.
 */
export function useFilter(
  filter: JobFilter,
  show: (change: { readonly filter: JobFilter }) => void,
): (next: JobFilter) => void {
  const [params, setParams] = useSearchParams();
  const [base] = useState(filter);
  const [seen, setSeen] = useState<string>();
  // Written by this page and not there yet: the page must not go back to what the address said before.
  const [awaited, setAwaited] = useState<string>();
  const key = keyOf(params);
  if (key !== seen) {
    setSeen(key);
    if (awaited === undefined) show({ filter: filterIn(params, base) });
    else if (awaited === key) setAwaited(undefined);
  }
  return useCallback(
    (next) => {
      show({ filter: next });
      const address = withFilter(params, next);
      if (keyOf(address) === key) return;
      setAwaited(keyOf(address));
      setParams(address, { replace: next.text !== filter.text });
    },
    [params, setParams, key, filter.text, show],
  );
}

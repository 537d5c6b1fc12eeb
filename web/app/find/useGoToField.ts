import { useEffect, useRef } from 'react';
import { useLocation } from 'react-router';
import { goToField } from './goToField.ts';

interface FieldState {
  readonly field: string;
  readonly open: readonly string[];
}

/** What a link carries along so that the page goes to the very field. */
export function fieldState(field: string, open: readonly string[] = []): FieldState {
  return { field, open };
}

/** Goes to the field that was looked for, once its view is there. */
export function useGoToField(): void {
  const { state, key } = useLocation() as { readonly state: unknown; readonly key: string };
  const underWay = useRef<AbortController>(undefined);
  useEffect(() => {
    const wanted = state as Partial<FieldState> | null;
    if (typeof wanted?.field !== 'string') return;
    // What is opened on the way may change the address: only another search ends this one.
    underWay.current?.abort();
    underWay.current = new AbortController();
    void goToField(wanted.field, wanted.open ?? [], underWay.current.signal);
    // The same field is gone to again when it is looked for again: each way has a key of its own.
  }, [state, key]);
}

import { useEffect, useRef, useState } from 'react';
import type { CoatPreview, CoatPreviewAsked } from '../../../../contract/api/colour/preview.ts';
import { sendJson } from '../../../api/client.ts';

interface Seen {
  /** The latest that has come; what it was asked for may have been changed since. */
  readonly preview: CoatPreview | undefined;
  readonly error: unknown;
}

/**
 * A print as it would be. While a slider moves one question is under way at a time, and the next is what holds when its answer comes:
 * whatever lies between is never asked.
 * @param asked undefined: nothing is asked
 * @param version of the ticket that it goes by: where somebody else has changed that, it is asked again
 */
export function useCoatPreview(asked: CoatPreviewAsked | undefined, version: string): Seen {
  const [seen, setSeen] = useState<Seen>({ preview: undefined, error: undefined });
  const wanted = useRef<string | undefined>(undefined);
  const underWay = useRef(false);
  const text = asked && JSON.stringify(asked);
  useEffect(() => {
    wanted.current = text === undefined ? undefined : `${version}\n${text}`;
    const ask = (): void => {
      const now = wanted.current;
      if (underWay.current || now === undefined) return;
      underWay.current = true;
      sendJson<CoatPreview>('POST', '/api/preview/coats', JSON.parse(now.slice(now.indexOf('\n') + 1)))
        .then(
          (preview) => {
            setSeen({ preview, error: undefined });
          },
          (error: unknown) => {
            setSeen(({ preview }) => ({ preview, error }));
          },
        )
        .finally(() => {
          underWay.current = false;
          if (wanted.current !== now) ask();
        });
    };
    ask();
  }, [text, version]);
  useEffect(
    () => () => {
      wanted.current = undefined;
    },
    [],
  );
  return seen;
}

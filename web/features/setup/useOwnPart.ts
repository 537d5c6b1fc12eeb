import { useEffect, useRef, useState } from 'react';
import { sameValue } from '../../../core/ticket/ticket.ts';
import { useInOrder } from '../../ui/useInOrder.ts';

interface OwnPart<T> {
  readonly part: T;
  /** Once the server has answered: what was still kept here by then. */
  readonly answeredOver?: T;
}

/**
 * Settings that are sent as a whole: what a person has set shows at once, and a second change is built on the first one, not
 * on what the server last said. That holds until what is kept here has caught up with the answer: a change that were built on
 * older settings in between would take the first one back.
 * @param kept what the server last said
 * @param send gives the settings as the server has them now, or nothing where they were refused
 */
export function useOwnPart<T extends object>(
  kept: T,
  send: (part: T) => Promise<T | undefined>,
): readonly [part: T, change: (part: T) => void] {
  const [own, setOwn] = useState<OwnPart<T>>();
  const inOrder = useInOrder();
  const under = useRef(0);
  const keptNow = useRef(kept);
  useEffect(() => {
    keptNow.current = kept;
  }, [kept]);
  const hasCaughtUp =
    own?.answeredOver !== undefined && (sameValue(kept, own.part) || !sameValue(kept, own.answeredOver));
  if (hasCaughtUp) setOwn(undefined);
  const sendNext = async (part: T): Promise<void> => {
    let answer: T | undefined;
    try {
      answer = await inOrder(() => send(part));
    } finally {
      under.current -= 1;
      if (under.current === 0) setOwn(answer && { part: answer, answeredOver: keptNow.current });
    }
  };
  const change = (part: T): void => {
    setOwn({ part });
    under.current += 1;
    void sendNext(part);
  };
  return [own && !hasCaughtUp ? own.part : kept, change];
}

import { useRef, useState } from 'react';
import type { TicketPartView } from '../../../contract/api/ticket.ts';
import { useInOrder } from '../../ui/useInOrder.ts';

/**
 * Settings that are sent as a whole: what a person has set shows at once, and a second change is built on the first one, not
 * on what the server last said.
 */
export function useOwnPart(
  kept: TicketPartView,
  send: (part: TicketPartView) => Promise<unknown>,
): readonly [part: TicketPartView, change: (part: TicketPartView) => void] {
  const [own, setOwn] = useState<TicketPartView>();
  const inOrder = useInOrder();
  const under = useRef(0);
  const change = (part: TicketPartView): void => {
    setOwn(part);
    under.current += 1;
    void inOrder(() => send(part)).finally(() => {
      under.current -= 1;
      if (under.current === 0) setOwn(undefined);
    });
  };
  return [own ?? kept, change];
}

/** @jest-environment jsdom */
import { act, cleanup, renderHook } from '@testing-library/react';
import type { TicketPartView } from '../../../contract/api/ticket.ts';
import { useOwnPart } from './useOwnPart.ts';

afterEach(cleanup);

const KEPT: TicketPartView = {};

/** A server that answers when the test says so. */
function slowServer() {
  const sent: { readonly part: TicketPartView; readonly answer: () => Promise<void> }[] = [];
  const send = (part: TicketPartView): Promise<void> =>
    new Promise((resolve) => {
      sent.push({
        part,
        answer: () =>
          act(async () => {
            resolve();
            await Promise.resolve();
          }),
      });
    });
  return { sent, send };
}

test('a second change waits for the first one: whole settings that overtake each other would lose one', async () => {
  const { sent, send } = slowServer();
  const hook = renderHook(() => useOwnPart(KEPT, send));
  await act(async () => {
    hook.result.current[1]({ copies: 5 });
    await Promise.resolve();
  });
  await act(async () => {
    hook.result.current[1]({ ...hook.result.current[0], mirror: true });
    await Promise.resolve();
  });
  expect(sent.map(({ part }) => part)).toEqual([{ copies: 5 }]);
  expect(hook.result.current[0]).toEqual({ copies: 5, mirror: true });
  await sent[0]?.answer();
  expect(sent.map(({ part }) => part)).toEqual([{ copies: 5 }, { copies: 5, mirror: true }]);
  expect(hook.result.current[0]).toEqual({ copies: 5, mirror: true });
  await sent[1]?.answer();
  await act(async () => Promise.resolve());
  // Nothing is on its way any more: what the server says counts.
  expect(hook.result.current[0]).toBe(KEPT);
});

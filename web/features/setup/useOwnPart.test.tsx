/** @jest-environment jsdom */
import { act, cleanup, renderHook } from '@testing-library/react';
import type { TicketPartView } from '../../../contract/api/ticket.ts';
import { useOwnPart } from './useOwnPart.ts';

afterEach(cleanup);

/** A server that answers when the test says so, and a list of settings that is read anew when the test says so. */
function slowServer(kept: TicketPartView = {}) {
  const sent: { readonly part: TicketPartView; readonly answer: (refused?: 'refused') => Promise<void> }[] = [];
  const send = (part: TicketPartView): Promise<TicketPartView | undefined> =>
    new Promise((resolve) => {
      sent.push({
        part,
        answer: (refused) =>
          act(async () => {
            resolve(refused ? undefined : part);
            await Promise.resolve();
          }),
      });
    });
  const { result, rerender } = renderHook((part: TicketPartView) => useOwnPart(part, send), { initialProps: kept });
  const set = (change: TicketPartView): Promise<void> =>
    act(async () => {
      result.current[1]({ ...result.current[0], ...change });
      await Promise.resolve();
    });
  const answer = async (n: number, refused?: 'refused'): Promise<void> => {
    await sent[n]?.answer(refused);
    await act(async () => Promise.resolve());
  };
  return { parts: () => sent.map(({ part }) => part), seen: () => result.current[0], read: rerender, set, answer };
}

test('a second change waits for the first one: whole settings that overtake each other would lose one', async () => {
  const { parts, seen, read, set, answer } = slowServer();
  await set({ copies: 5 });
  await set({ mirror: true });
  expect(parts()).toEqual([{ copies: 5 }]);
  expect(seen()).toEqual({ copies: 5, mirror: true });
  await answer(0);
  expect(parts()).toEqual([{ copies: 5 }, { copies: 5, mirror: true }]);
  expect(seen()).toEqual({ copies: 5, mirror: true });
  await answer(1);
  read({ copies: 5, mirror: true });
  expect(seen()).toEqual({ copies: 5, mirror: true });
  // Nothing is on its way any more: what the server says counts.
  read({ copies: 2 });
  expect(seen()).toEqual({ copies: 2 });
});

test('a change that is answered before the settings are read anew is not taken back by the next one', async () => {
  const { parts, read, seen, set, answer } = slowServer({ copies: 1 });
  await set({ copies: 5 });
  await answer(0);
  read({ copies: 1 });
  expect(seen()).toEqual({ copies: 5 });
  await set({ mirror: true });
  await answer(1);
  expect(parts()[1]).toEqual({ copies: 5, mirror: true });
  // What somebody else sets meanwhile is seen, and so is what is undone after that.
  read({ copies: 7 });
  expect(seen()).toEqual({ copies: 7 });
  read({ copies: 1 });
  expect(seen()).toEqual({ copies: 1 });
});

test('what is refused shows what the server has', async () => {
  const { seen, set, answer } = slowServer({ copies: 1 });
  await set({ copies: 5 });
  await answer(0, 'refused');
  expect(seen()).toEqual({ copies: 1 });
});

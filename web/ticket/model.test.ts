import type { JobChange, TicketPartView, TicketView } from '../../contract/api/ticket.ts';
import { makeTicket, setHere } from '../../core/ticket/ticket.ts';
import { manyTickets, oneTicket, partModel } from './model.ts';
import { type Names, valueText } from './valueText.ts';

const NAMES: Names = {
  modes: new Map([['fine', 'Fine, 720 × 720, 8 passes']]),
  stocks: new Map([['mesh', 'Mesh banner 1600']]),
  zone: 'Europe/Dublin',
};

function ticket(queue: TicketPartView, here: TicketPartView = {}): TicketView {
  const made = makeTicket({ printer: { copies: 1 }, queue: { modeId: 'fine', stockId: 'mesh', ...queue } });
  return setHere(made, here);
}

test('one ticket: each value with its origin; what is set here says what it would be, and is put back', () => {
  const changes: JobChange[] = [];
  const model = oneTicket(ticket({ copies: 4 }, { copies: 9, mirror: true }), NAMES, (change) => changes.push(change));
  expect(model.standing('copies')).toEqual({ text: 'set here', strong: true, back: '4, from queue' });
  expect(model.standing('stockId')).toEqual({ text: 'queue', strong: false, back: undefined });
  expect(model.standing('mirror')).toMatchObject({ back: 'off, from default' });
  // What the printer says is its own; what nobody says is the default.
  expect(model.standing('customer')).toMatchObject({ text: 'default' });
  expect(oneTicket(ticket({}), NAMES, () => undefined).standing('copies')).toMatchObject({ text: 'printer' });
  model.change({ copies: 2 });
  model.putBack(['copies', 'mirror']);
  expect(changes).toEqual([{ copies: 2 }, { putBack: ['copies', 'mirror'] }]);
});

test('many tickets: what all agree on shows, the rest is mixed and never shown as one of them', () => {
  const tickets = [
    ticket({ copies: 4 }, { customer: 'Marram Theatre', size: { kind: 'exact', widthMm: 100, heightMm: null } }),
    ticket(
      { copies: 4 },
      { customer: 'Fennick Bicycle Library', size: { kind: 'exact', widthMm: 100, heightMm: null } },
    ),
    ticket({ copies: 4 }),
  ];
  const model = manyTickets(tickets, () => undefined);
  expect(model.values.copies).toBe(4);
  expect('customer' in model.values).toBe(false);
  expect([...model.mixed].sort()).toEqual(['customer', 'size']);
  expect(model.standing('customer')).toEqual({ text: 'mixed', strong: true, back: '2 of them are set here' });
  expect(model.standing('copies')).toEqual({ text: 'queue', strong: false, back: undefined });
  expect(manyTickets(tickets.slice(0, 2), () => undefined).mixed.has('size')).toBe(false);
});

test('a preset names some values and leaves the others open; a queue keeps its mode and stock', () => {
  const parts: TicketPartView[] = [];
  const model = partModel({ mirror: true, stockId: 'mesh' }, ['stockId'], (part) => parts.push(part));
  expect(model.standing('mirror')).toEqual({ text: 'named', strong: true, back: 'left open' });
  expect(model.standing('stockId')).toEqual({ text: 'named', strong: true, back: undefined });
  expect(model.standing('copies')).toEqual({ text: 'left open', strong: false, back: undefined });
  model.change({ copies: 3 });
  model.putBack(['mirror']);
  expect(parts).toEqual([{ mirror: true, stockId: 'mesh', copies: 3 }, { stockId: 'mesh' }]);
});

test.each([
  ['copies', 12, '12'],
  ['mirror', false, 'off'],
  ['bleedMm', null, 'as in the file'],
  ['bleedMm', 2.5, '2.5 mm'],
  ['customer', null, 'none'],
  ['modeId', 'fine', 'Fine, 720 × 720, 8 passes'],
  ['stockId', 'gone', 'gone'],
  ['turn', 270, '270°'],
  ['turn', 'best', 'best'],
  ['dueMs', Date.UTC(2026, 9, 6, 11, 30), 'Tue 6 Oct 12:30'],
  ['size', { kind: 'as it came' }, 'as it came'],
  ['size', { kind: 'percent', x: 50, y: 50 }, '50 %'],
  ['size', { kind: 'percent', x: 50, y: 80 }, '50 × 80 %'],
  ['size', { kind: 'exact', widthMm: 100.456, heightMm: null }, '100.46 mm × in proportion'],
  ['size', { kind: 'within', name: 'A1', widthMm: 594, heightMm: 841 }, 'A1'],
  ['size', { kind: 'length', lengthMm: 900 }, '900 mm long'],
  ['crop', { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 }, 'none'],
  ['crop', { leftMm: 1, topMm: 0, rightMm: 0, bottomMm: 2 }, '1 mm, 0 mm, 0 mm, 2 mm'],
  ['place', { kind: 'below collar', mm: 80 }, '80 mm below collar'],
  ['separations', { kind: 'named', names: ['black', 'Lantern Gold'] }, 'black, Lantern Gold'],
  ['charges', [], 'none'],
  ['charges', [{ text: 'Eyelets', minor: 500 }], '1'],
] as const)('%s %j in words: %s', (key, value, words) => {
  expect(valueText(key, value, NAMES)).toBe(words);
});

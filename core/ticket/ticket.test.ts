import { runWideDifference } from './settings.ts';
import fc from 'fast-check';
import { partsOf } from './parts.ts';
import {
  type Ticket,
  changedKeys,
  makeTicket,
  inheritedValue,
  presetIsChanged,
  putBack,
  rebaseTicket,
  setHere,
  usePresetOf,
} from './ticket.ts';

function stamped(): Ticket {
  return makeTicket(
    {
      printer: { cutOff: 'full' },
      stock: { dryOut: true, span: 'whole bed' },
      queue: { modeId: 'production', stockId: 'banner', span: 'media' },
      preset: { mirror: true, copies: 2 },
      'file name': { copies: 3 },
      'ticket file': { customer: 'Marram Theatre' },
    },
    { id: 'p1', name: 'Window' },
  );
}

describe('tickets', () => {
  test('the stronger origin wins, value by value', () => {
    const { values, origins } = setHere(stamped(), { customer: 'Quillon Tramways' });
    expect(values).toMatchObject({ cutOff: 'full', dryOut: true, span: 'media', mirror: true, copies: 3 });
    expect(origins).toMatchObject({
      quarterTurn: 'printer',
      cutOff: 'printer',
      dryOut: 'stock',
      span: 'queue',
      mirror: 'preset',
      copies: 'file name',
      customer: 'set here',
    });
  });

  test('what is set here can be put back, one or all, and it is known what it would be otherwise', () => {
    const set = setHere(stamped(), { copies: 9, mirror: false, notes: 'by the side door' });
    expect(inheritedValue(set, 'copies')).toEqual({ value: 3, origin: 'file name' });
    expect(putBack(set, ['copies']).values).toMatchObject({ copies: 3, mirror: false, notes: 'by the side door' });
    expect(putBack(set, 'all')).toEqual(makeTicket({ ...stamped().layers, 'set here': {} }, stamped().preset));
    // Typing what holds anyhow is no change.
    expect(setHere(set, { copies: 3 }).origins.copies).toBe('file name');
    expect([presetIsChanged(stamped()), presetIsChanged(set)]).toEqual([false, true]);
    expect(usePresetOf(set, null)).toMatchObject({ preset: null, values: { mirror: false } });
    expect(() => makeTicket({})).toThrow('without mode or stock');
  });

  test('any row of settings here, put back, is the ticket as it was stamped', () => {
    const change = fc.record(
      {
        copies: fc.integer({ min: 1, max: 99 }),
        mirror: fc.boolean(),
        dryOut: fc.boolean(),
        customer: fc.option(fc.string()),
        turn: fc.constantFrom(0 as const, 90 as const, 'best' as const),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(fc.array(change, { maxLength: 6 }), (changes) => {
        const changed = changes.reduce((ticket, each) => setHere(ticket, each), stamped());
        expect(putBack(changed, 'all').values).toEqual(stamped().values);
        for (const key of changedKeys(changed.values, stamped().values)) expect(changed.origins[key]).toBe('set here');
      }),
      { seed: 5 },
    );
  });

  test('moved to another printer: its layers are taken anew, the others stay, a mode it does not have is left behind', () => {
    const set = setHere(stamped(), { copies: 4, modeId: 'fine', dryOut: false });
    const moved = rebaseTicket(
      set,
      { printer: { cutOff: 'none' }, stock: {}, queue: { modeId: 'photo', stockId: 'satin' } },
      { modeIds: ['photo'], stockIds: ['satin', 'banner'] },
    );
    expect(moved.values).toMatchObject({ copies: 4, modeId: 'photo', stockId: 'satin', cutOff: 'none', dryOut: false });
    expect(moved.origins).toMatchObject({ copies: 'set here', modeId: 'queue', cutOff: 'printer', dryOut: 'set here' });
    expect(runWideDifference(set.values, moved.values)).toBe('stockId');
  });

  test('parts: whole, black, each ink and spot, or those named', () => {
    expect(partsOf({ kind: 'all inks' }, ['Gold'])).toEqual([null]);
    expect(partsOf({ kind: 'black only' }, [])).toEqual(['black']);
    expect(partsOf({ kind: 'each alone' }, ['Gold'])).toEqual(['cyan', 'magenta', 'yellow', 'black', 'Gold']);
    expect(partsOf({ kind: 'named', names: ['Gold'] }, [])).toEqual(['Gold']);
  });
});

/** @jest-environment jsdom */
import { act, cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { formFields } from './formFields.tsx';
import { SavedForm, useKeep } from './SavedForm.tsx';

// The browser of the tests lacks it.
globalThis.structuredClone = <T,>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

afterEach(cleanup);

interface Thing {
  readonly name: string;
  readonly priceMinor: number;
  readonly size: { readonly widthMm: number; readonly limitMm: number | null };
  readonly parts: readonly { readonly id: string; readonly count: number; readonly on: boolean }[];
  readonly side: 'left' | 'right';
}

const THING: Thing = {
  name: 'Tern',
  priceMinor: 1250,
  size: { widthMm: 100, limitMm: 50 },
  parts: [
    { id: 'a', count: 1, on: false },
    { id: 'b', count: 2, on: true },
  ],
  side: 'left',
};

const Field = formFields<Thing>();

function Parts({ thing }: { readonly thing: Thing }) {
  const keep = useKeep();
  return (
    <>
      {thing.parts.map(({ id }, i) => (
        <Field.Number key={id} bare whole name={`parts.${i}.count`} label={`Count of ${id}`} />
      ))}
      <button
        type="button"
        onClick={() => {
          keep('parts', thing.parts.slice(1));
        }}
      >
        Without the first
      </button>
    </>
  );
}

interface Saved {
  readonly next: Thing;
  readonly changed: string;
  readonly done: () => void;
  readonly refuse: (error: Error) => void;
}

/** A server that answers when the test says so. */
function form(thing: Thing, saved: Saved[], refused: jest.Mock) {
  return (
    <SavedForm
      value={thing}
      save={(next, changed) =>
        new Promise((done, refuse) => {
          saved.push({
            next,
            changed,
            done: () => {
              done(undefined);
            },
            refuse,
          });
        })
      }
      onRefused={refused}
    >
      <Field.Text name="name" label="Name" wanted="It needs a name." />
      <Field.Number name="priceMinor" per={100} label="Price" />
      <Field.Length name="size.widthMm" label="Width" />
      <Field.OptionalLength name="size.limitMm" label="Limit" empty="no limit" />
      <Field.Check name="parts.0.on" label="First part on" />
      <Field.Select name="side" label="Side" choices={['left', 'right']} />
      <Parts thing={thing} />
    </SavedForm>
  );
}

const input = (label: string): HTMLInputElement => screen.getByLabelText(label);

async function type(label: string, text: string): Promise<void> {
  await userEvent.clear(input(label));
  await userEvent.type(input(label), `${text}{Enter}`);
}

test('each field is saved as soon as it is committed, with the whole and its own name', async () => {
  const saved: Saved[] = [];
  render(form(THING, saved, jest.fn()));
  await type('Width', '12 cm');
  await userEvent.click(input('First part on'));
  await userEvent.selectOptions(screen.getByLabelText('Side'), 'right');
  // One after the other: two that are on their way at once may arrive in either order, and each carries the whole.
  for (const count of [1, 2, 3]) {
    expect(saved).toHaveLength(count);
    await act(async () => {
      saved.at(-1)?.done();
      await Promise.resolve();
    });
  }
  expect(saved.map(({ changed }) => changed)).toEqual(['size.widthMm', 'parts.0.on', 'side']);
  expect(saved.at(-1)?.next).toEqual({
    ...THING,
    size: { widthMm: 120, limitMm: 50 },
    parts: [{ id: 'a', count: 1, on: true }, THING.parts[1]],
    side: 'right',
  });
});

test('what is kept in another unit is shown in the one that people use', async () => {
  const saved: Saved[] = [];
  render(form(THING, saved, jest.fn()));
  expect(input('Price').value).toBe('12.50');
  await type('Price', '9,99');
  expect(saved[0]?.next.priceMinor).toBe(999);
});

test('an empty limit is none', async () => {
  const saved: Saved[] = [];
  render(form(THING, saved, jest.fn()));
  await userEvent.clear(input('Limit'));
  await userEvent.tab();
  expect(saved[0]?.next.size.limitMm).toBeNull();
});

test('a refused change is put back and said; the others stay', async () => {
  const saved: Saved[] = [];
  const refused = jest.fn();
  render(form(THING, saved, refused));
  await type('Name', 'Gull');
  await type('Price', '3');
  await act(async () => {
    saved[0]?.refuse(new Error('There is a Gull already.'));
    await Promise.resolve();
  });
  expect(refused.mock.calls).toEqual([[new Error('There is a Gull already.')]]);
  expect(input('Name').value).toBe('Tern');
  expect(input('Price').value).toBe('3.00');
  expect(saved[1]?.next).toEqual({ ...THING, priceMinor: 300 });
});

test('the answer to an earlier change does not undo a later one of the same field', async () => {
  const saved: Saved[] = [];
  render(form(THING, saved, jest.fn()));
  await type('Name', 'Gull');
  await type('Name', 'Knot');
  await act(async () => {
    saved[0]?.done();
    await Promise.resolve();
  });
  expect(input('Name').value).toBe('Knot');
});

test('what others change comes in, but not into a field that is being saved', async () => {
  const saved: Saved[] = [];
  const { rerender } = render(form(THING, saved, jest.fn()));
  await type('Name', 'Gull');
  // The list is told anew before the answer: it still has the old name, and a width that another person has set.
  await act(async () => {
    rerender(form({ ...THING, size: { widthMm: 77, limitMm: 50 } }, saved, jest.fn()));
    await Promise.resolve();
  });
  expect(input('Name').value).toBe('Gull');
  expect(input('Width').value).toBe('77');
  await act(async () => {
    saved[0]?.done();
    await Promise.resolve();
  });
  expect(input('Name').value).toBe('Gull');
});

test('a row that is taken out takes its own values with it', async () => {
  const saved: Saved[] = [];
  const { rerender } = render(form(THING, saved, jest.fn()));
  await userEvent.click(screen.getByRole('button', { name: 'Without the first' }));
  expect(saved[0]).toMatchObject({ changed: 'parts', next: { parts: [{ id: 'b', count: 2, on: true }] } });
  await act(async () => {
    saved[0]?.done();
    rerender(form({ ...THING, parts: THING.parts.slice(1) }, saved, jest.fn()));
    await Promise.resolve();
  });
  expect(input('Count of b').value).toBe('2');
  expect(screen.queryByLabelText('Count of a')).toBeNull();
});

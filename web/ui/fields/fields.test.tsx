/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import fc from 'fast-check';
import { useState } from 'react';
import { Checkbox } from './Checkbox.tsx';
import { DateTimeInput } from './DateTimeInput.tsx';
import { LengthInput } from './LengthInput.tsx';
import { MoneyInput } from './MoneyInput.tsx';
import { NewName } from './NewName.tsx';
import { NumberInput } from './NumberInput.tsx';
import { Select } from './Select.tsx';
import { TextInput } from './TextInput.tsx';

afterEach(cleanup);

const field = (): HTMLInputElement => screen.getByLabelText('It');

/** A length as a page keeps it: what is committed becomes the value. */
function Kept({ firstMm = 120, told }: { readonly firstMm?: number; readonly told: (mm: number | null) => void }) {
  const [mm, setMm] = useState<number | null>(firstMm);
  return (
    <LengthInput
      label="It"
      valueMm={mm}
      empty="none"
      mostMm={10_000}
      onChange={(next) => {
        setMm(next);
        told(next);
      }}
    />
  );
}

test('a length is committed on Enter once, not again on leaving', async () => {
  const told = jest.fn();
  render(<Kept told={told} />);
  await userEvent.clear(field());
  await userEvent.type(field(), '38 in{Enter}');
  await userEvent.tab();
  expect(told.mock.calls).toEqual([[expect.closeTo(965.2, 9)]]);
  expect(field().value).toBe('965.2');
});

test('where the value follows late, leaving the field does not send it a second time', async () => {
  const told = jest.fn();
  // The page has not heard from the server yet: the value stays what it was.
  render(<LengthInput label="It" valueMm={0} onChange={told} />);
  await userEvent.clear(field());
  await userEvent.type(field(), '2{Enter}');
  await userEvent.tab();
  expect(told).toHaveBeenCalledTimes(1);
  expect(field().value).toBe('2');
});

test('what can’t be read stays with its error, and Escape puts the kept value back', async () => {
  const told = jest.fn();
  render(<Kept told={told} />);
  await userEvent.clear(field());
  await userEvent.type(field(), 'abc');
  await userEvent.tab();
  expect(screen.getByRole('alert').textContent).toMatch(/Not a length. Try 120, 38 in/);
  expect(field().value).toBe('abc');
  expect(field().getAttribute('aria-invalid')).toBe('true');
  await userEvent.click(field());
  await userEvent.keyboard('{Escape}');
  expect(field().value).toBe('120');
  expect(screen.queryByRole('alert')).toBeNull();
  expect(told).not.toHaveBeenCalled();
});

test('figures outside of the range are said with the range', async () => {
  const told = jest.fn();
  render(<Kept told={told} />);
  await userEvent.clear(field());
  await userEvent.type(field(), '11 m{Enter}');
  expect(screen.getByRole('alert').textContent).toBe('From 0 to 10,000 mm.');
  await userEvent.clear(field());
  await userEvent.type(field(), '10 m{Enter}');
  expect(told.mock.calls).toEqual([[10_000]]);
});

test('the same length written in another way is no change', async () => {
  const told = jest.fn();
  render(<Kept told={told} firstMm={25.4} />);
  await userEvent.clear(field());
  await userEvent.type(field(), '1 in{Enter}');
  expect(told).not.toHaveBeenCalled();
  expect(field().value).toBe('25.4');
});

test('an empty length means none where that is allowed, and is wrong where it is not', async () => {
  const told = jest.fn();
  const { rerender } = render(<LengthInput label="It" valueMm={5} empty="as it is" onChange={told} />);
  await userEvent.clear(field());
  await userEvent.tab();
  expect(told.mock.calls).toEqual([[null]]);
  rerender(<LengthInput key="b" label="It" valueMm={5} onChange={told} />);
  await userEvent.clear(field());
  await userEvent.tab();
  expect(screen.getByRole('alert').textContent).toMatch(/Not a length/);
  expect(told).toHaveBeenCalledTimes(1);
});

test('what another person changes comes in, but never into what is being typed', async () => {
  const told = jest.fn();
  const { rerender } = render(<NumberInput label="It" value={3} onChange={told} />);
  rerender(<NumberInput label="It" value={4} onChange={told} />);
  expect(field().value).toBe('4');
  await userEvent.clear(field());
  await userEvent.type(field(), '7');
  rerender(<NumberInput label="It" value={5} onChange={told} />);
  expect(field().value).toBe('7');
  await userEvent.tab();
  expect(told.mock.calls).toEqual([[7]]);
});

test.each([
  ['2.5', true, 1, 10, 'A whole number from 1 to 10.'],
  ['11', false, 1, 10, 'A number from 1 to 10.'],
  ['', false, 0, 5, 'A number from 0 to 5.'],
  ['x', true, 0, 10_000, 'A whole number from 0 to 10,000.'],
  ['0', true, 1, undefined, 'A whole number, 1 or more.'],
])('the number %p is refused with its range', async (typed, whole, least, most, said) => {
  const range = most === undefined ? { least } : { least, most };
  render(<NumberInput label="It" value={3} whole={whole} {...range} onChange={jest.fn()} />);
  await userEvent.clear(field());
  if (typed !== '') await userEvent.type(field(), typed);
  await userEvent.tab();
  expect(screen.getByRole('alert').textContent).toBe(said);
});

test('a number says what is wrong while it is typed, before it is committed', async () => {
  const told = jest.fn();
  render(<NumberInput label="It" value={3} whole least={1} most={10} onChange={told} />);
  await userEvent.clear(field());
  await userEvent.type(field(), '0');
  expect(screen.getByRole('alert').textContent).toBe('A whole number from 1 to 10.');
  await userEvent.clear(field());
  await userEvent.type(field(), '24');
  expect(screen.getByRole('alert').textContent).toBe('A whole number from 1 to 10.');
  await userEvent.type(field(), '{Backspace}{Enter}');
  expect(screen.queryByRole('alert')).toBeNull();
  expect(told.mock.calls).toEqual([[2]]);
});

test('money is kept in cents, a comma counts as a point', async () => {
  const told = jest.fn();
  render(<MoneyInput label="It" minor={1250} onChange={told} />);
  expect(field().value).toBe('12.50');
  await userEvent.clear(field());
  await userEvent.type(field(), '0,29{Enter}');
  expect(told.mock.calls).toEqual([[29]]);
});

test('every amount of cents that is typed is kept to the cent', async () => {
  await fc.assert(
    fc.asyncProperty(fc.integer({ min: 0, max: 1_000_000 }), async (minor) => {
      const told = jest.fn();
      render(<MoneyInput label="It" minor={undefined} onChange={told} />);
      await userEvent.click(field());
      await userEvent.paste((minor / 100).toFixed(2));
      await userEvent.tab();
      expect(told.mock.calls).toEqual([[minor]]);
      cleanup();
    }),
    { numRuns: 12, seed: 7 },
  );
});

test('a text is committed without the spaces around it; where one is wanted, empty is wrong', async () => {
  const told = jest.fn();
  render(<TextInput label="It" value="Tern" wanted="It needs a name." onChange={told} />);
  await userEvent.clear(field());
  await userEvent.tab();
  expect(screen.getByRole('alert').textContent).toBe('It needs a name.');
  await userEvent.type(field(), '  Dunlin {Enter}');
  expect(told.mock.calls).toEqual([['Dunlin']]);
});

test('a date and time are those of the shop, in summer and in winter', async () => {
  const told = jest.fn();
  const { rerender } = render(
    <DateTimeInput label="It" valueMs={Date.UTC(2026, 6, 1, 10, 0)} zone="Europe/Madrid" onChange={told} />,
  );
  expect(field().value).toBe('2026-07-01T12:00');
  rerender(<DateTimeInput label="It" valueMs={Date.UTC(2026, 11, 1, 10, 0)} zone="Europe/Madrid" onChange={told} />);
  expect(field().value).toBe('2026-12-01T11:00');
  await userEvent.clear(field());
  await userEvent.tab();
  expect(told.mock.calls).toEqual([[null]]);
});

test('a mixed value says so, and choosing one settles it', async () => {
  const told = jest.fn();
  render(
    <Select
      label="It"
      value={undefined}
      choices={['left', { value: 'right', text: 'to the right' }]}
      onChange={told}
    />,
  );
  const select = screen.getByLabelText<HTMLSelectElement>('It');
  expect(select.selectedOptions[0]?.textContent).toBe('mixed');
  await userEvent.selectOptions(select, 'to the right');
  expect(told.mock.calls).toEqual([['right']]);
});

test('a mixed box is neither on nor off; a click settles it as on', async () => {
  const told = jest.fn();
  render(<Checkbox label="It" value={undefined} onChange={told} />);
  expect(field().indeterminate).toBe(true);
  await userEvent.click(field());
  expect(told.mock.calls).toEqual([[true]]);
});

test('a new name is taken by Enter or its button, given up by Escape, and never empty', async () => {
  const [named, cancelled] = [jest.fn(), jest.fn()];
  render(<NewName label="It" action="Make" onName={named} onCancel={cancelled} />);
  await userEvent.type(field(), '   {Enter}');
  expect(screen.getByRole<HTMLButtonElement>('button').disabled).toBe(true);
  await userEvent.type(field(), 'Tram panel{Enter}');
  // It may be refused: it stays to be mended.
  expect(field().value.trim()).toBe('Tram panel');
  await userEvent.type(field(), ' 2');
  await userEvent.click(screen.getByRole('button', { name: 'Make' }));
  await userEvent.type(field(), '{Escape}');
  expect(named.mock.calls).toEqual([['Tram panel'], ['Tram panel 2']]);
  expect(cancelled).toHaveBeenCalledTimes(1);
});

test('where a button waits for the change, each letter counts, and what can’t be read yet does not', async () => {
  const told = jest.fn();
  function Figure() {
    const [value, setValue] = useState(3);
    return (
      <NumberInput
        label="It"
        value={value}
        least={1}
        atOnce
        onChange={(next) => {
          setValue(next);
          told(next);
        }}
      />
    );
  }
  render(<Figure />);
  await userEvent.clear(field());
  await userEvent.type(field(), '1.5');
  expect(told.mock.calls).toEqual([[1], [1.5]]);
  await userEvent.tab();
  expect(told).toHaveBeenCalledTimes(2);
  expect(field().value).toBe('1.5');
});

/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { FlyOut } from './FlyOut.tsx';

afterEach(cleanup);

function flyOut() {
  render(
    <>
      <FlyOut title="Columns" button="Columns" buttonClass="" panelClass="">
        {(close) => (
          <button type="button" onClick={close}>
            Done
          </button>
        )}
      </FlyOut>
      <button type="button">Beside</button>
    </>,
  );
  return screen.getByRole('button', { name: 'Columns' });
}
const panel = () => screen.queryByRole('region', { name: 'Columns' });

test('Escape and what stands in it close it, and the focus is on its button again', async () => {
  const button = flyOut();
  await userEvent.click(button);
  expect(button.getAttribute('aria-expanded')).toBe('true');
  await userEvent.tab();
  expect(document.activeElement?.textContent).toBe('Done');
  await userEvent.keyboard('{Escape}');
  expect(panel()).toBeNull();
  expect(document.activeElement).toBe(button);
  await userEvent.click(button);
  await userEvent.click(screen.getByRole('button', { name: 'Done' }));
  expect(panel()).toBeNull();
  expect(document.activeElement).toBe(button);
});

test('a click beside it and leaving it by Tab close it', async () => {
  const button = flyOut();
  await userEvent.click(button);
  await userEvent.click(document.body);
  expect(panel()).toBeNull();
  await userEvent.click(button);
  await userEvent.tab();
  await userEvent.tab();
  expect(document.activeElement?.textContent).toBe('Beside');
  expect(panel()).toBeNull();
});

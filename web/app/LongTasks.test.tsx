/** @jest-environment jsdom */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { dropTask, showTask } from '../api/longTasks.ts';
import { answering } from '../testing/answers.ts';
import { LongTasks } from './LongTasks.tsx';

afterEach(() => {
  act(() => {
    ['t1', 't2'].forEach(dropTask);
  });
});

const show = (taskId: string, title: string, progress: number | null): void => {
  act(() => {
    showTask({ taskId, title, progress });
  });
};

test('nothing is shown while nothing takes long; then each task with how far it is, the oldest first', () => {
  render(<LongTasks onError={() => undefined} />);
  expect(screen.queryByRole('status')).toBeNull();
  show('t1', 'Comparing printers', null);
  expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBeNull();
  show('t2', 'Nesting', 0.9);
  show('t1', 'Comparing printers', 0.42);
  expect(screen.getAllByRole('progressbar').map((bar) => bar.getAttribute('aria-valuenow'))).toEqual(['42', '90']);
  expect(screen.getByRole('status').textContent).toBe('Comparing printers …42 %Nesting …90 %');
});

test('a task is cancelled once; where the server does not take that, it can be cancelled again', async () => {
  const errors: unknown[] = [];
  render(<LongTasks onError={(error) => errors.push(error)} />);
  show('t1', 'Nesting', 0.1);
  const asked = answering(() => ({ status: 500, body: { error: { code: 'broken', message: 'It is broken.' } } }));
  const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Cancel: Nesting' });
  fireEvent.click(button);
  expect([screen.getByRole('status').textContent, button.disabled]).toEqual(['Cancelling …10 %', true]);
  await act(async () => {
    await new Promise((done) => setTimeout(done, 0));
  });
  expect(button.disabled).toBe(false);
  expect(errors).toMatchObject([{ code: 'broken' }]);
  expect(asked).toHaveLength(1);
});

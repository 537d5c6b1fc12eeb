/** @jest-environment jsdom */
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { HoldButton } from './HoldButton.tsx';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

function held() {
  const onHeld = jest.fn();
  render(<HoldButton text="Cancel the run" onHeld={onHeld} />);
  const pass = (ms: number): void => {
    act(() => {
      jest.advanceTimersByTime(ms);
    });
  };
  return { onHeld, pass, button: screen.getByRole('button') };
}

test('one press does nothing; held for a second it acts once', () => {
  const { onHeld, pass, button } = held();
  fireEvent.pointerDown(button, { button: 0 });
  pass(400);
  fireEvent.pointerUp(button);
  fireEvent.click(button);
  pass(5000);
  expect(onHeld).not.toHaveBeenCalled();
  fireEvent.pointerDown(button, { button: 0 });
  pass(1000);
  fireEvent.pointerUp(button);
  fireEvent.click(button);
  expect(onHeld).toHaveBeenCalledTimes(1);
});

test('a pointer that leaves lets go; a key that repeats holds once', () => {
  const { onHeld, pass, button } = held();
  fireEvent.pointerDown(button, { button: 0 });
  fireEvent.pointerLeave(button);
  pass(2000);
  expect(onHeld).not.toHaveBeenCalled();
  fireEvent.keyDown(button, { key: ' ' });
  for (let i = 0; i < 8; i += 1) {
    pass(100);
    fireEvent.keyDown(button, { key: ' ', repeat: true });
  }
  expect(onHeld).not.toHaveBeenCalled();
  pass(200);
  fireEvent.keyUp(button, { key: ' ' });
  expect(onHeld).toHaveBeenCalledTimes(1);
});

test('what can only click presses twice, and not too long apart', () => {
  const { onHeld, pass, button } = held();
  fireEvent.click(button);
  expect(button.textContent).toBe('Press once more');
  pass(7000);
  fireEvent.click(button);
  expect(onHeld).not.toHaveBeenCalled();
  fireEvent.click(button);
  expect(onHeld).toHaveBeenCalledTimes(1);
});

import { nowAndThen, untilTimeIsUp } from './progress.ts';

test('what is told comes now and then, never less than before, and never more than the whole', () => {
  let nowMs = 0;
  const told: number[] = [];
  const tell = nowAndThen(
    (share) => told.push(share),
    () => nowMs,
  );
  for (let step = 1; step <= 1000; step += 1) {
    nowMs += 1;
    tell(step / 900);
  }
  expect(told).toEqual([200 / 900, 400 / 900, 600 / 900, 800 / 900, 1]);
  nowMs += 1000;
  tell(0.3);
  expect(told).toHaveLength(5);
  // Where nobody listens, nothing happens.
  expect(() => {
    nowAndThen(undefined, () => nowMs)(0.5);
  }).not.toThrow();
});

test('a kernel with a time limit goes on until it is over, and tells which share of it is', () => {
  let nowMs = 5000;
  const told: number[] = [];
  const isUp = untilTimeIsUp(
    400,
    (share) => told.push(share),
    () => nowMs,
  );
  const answers = [0, 100, 300, 1].map((ms) => {
    nowMs += ms;
    return isUp();
  });
  expect(answers).toEqual([false, false, false, true]);
  expect(told).toEqual([0, 0.25, 1, 401 / 400]);
});

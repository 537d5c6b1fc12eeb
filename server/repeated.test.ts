import { Repeated } from './repeated.ts';
import { TestStorage } from './testing/shopFixture.ts';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

test('what throws is written down and done again; a full disk is the storage’s to say; nothing is done twice at once', async () => {
  const lines: string[] = [];
  const storage = new TestStorage();
  const repeated = new Repeated({ error: (_: unknown, text: string) => lines.push(text) } as never, storage);
  let n = 0;
  let under = 0;
  repeated.every(100, 'it could not be done', async () => {
    n += 1;
    under += 1;
    expect(under).toBe(1);
    await Promise.resolve();
    under -= 1;
    if (n === 1) throw new Error('broken');
    if (n === 2) throw Object.assign(new Error('full'), { code: 'ENOSPC' });
  });
  await jest.advanceTimersByTimeAsync(350);
  expect([n, lines, storage.errors.length]).toEqual([3, ['it could not be done'], 1]);
  repeated.stop();
  await jest.advanceTimersByTimeAsync(1000);
  expect(n).toBe(3);
});

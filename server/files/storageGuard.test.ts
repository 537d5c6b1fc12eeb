import type { StorageView } from '../../contract/api/storage.ts';
import { storageFault } from './storageFault.ts';
import { StorageGuard } from './storageGuard.ts';

const MIB = 1024 ** 2;

function guarded(startMb: number, leastMb = 100) {
  const world = { freeMb: startMb, leastMb, broken: undefined as Error | undefined, patient: true };
  const told: StorageView[] = [];
  const lines: string[] = [];
  const guard = new StorageGuard({
    freeBytes: () => Promise.resolve(world.freeMb * MIB),
    leastFreeBytes: () => world.leastMb * MIB,
    tryOut: () => (world.broken ? Promise.reject(world.broken) : Promise.resolve()),
    waitForLock: (patiently) => (world.patient = patiently),
    changed: (view) => told.push(view),
    log: {
      error: (_: unknown, text: string) => lines.push(text),
      warn: () => undefined,
      info: (text: string) => lines.push(text),
    } as never,
  });
  return { world, told, lines, guard };
}

const failed = (code: string, message = code): Error => Object.assign(new Error(message), { code });

test('room that gets short is said first, then nothing new is taken, and it goes on a little above the limit', async () => {
  const { world, told, guard } = guarded(1000);
  await guard.look();
  expect([guard.acceptsWork, guard.view().state]).toEqual([true, 'fine']);
  world.freeMb = 150;
  await guard.look();
  expect([guard.acceptsWork, guard.view().state]).toEqual([true, 'low']);
  world.freeMb = 99;
  await guard.look();
  expect([guard.acceptsWork, guard.view().text]).toEqual([
    false,
    'The disk of the data folder is full: 99 MB left, 100 MB are needed. No new files are taken and nothing new is sent; what is on the printers prints on and is booked later.',
  ]);
  world.freeMb = 103;
  await guard.look();
  expect(guard.acceptsWork).toBe(false);
  world.freeMb = 106;
  await guard.look();
  expect([guard.acceptsWork, guard.view().state]).toEqual([true, 'low']);
  world.freeMb = 900;
  await guard.look();
  expect(told.map(({ state }) => state)).toEqual(['low', 'full', 'low', 'fine']);
});

test('a write that fails stops everything new at once, and a try-out that goes through lets it go on', async () => {
  const { world, guard, lines } = guarded(1000);
  await guard.look();
  world.broken = failed('ENOSPC');
  expect(guard.noticed(world.broken)).toBe(true);
  expect(guard.acceptsWork).toBe(false);
  await guard.look();
  // There is room by what the disk says, but what is written does not go through: a quota, say.
  expect(guard.view().state).toBe('full');
  world.broken = undefined;
  await guard.look();
  expect(guard.acceptsWork).toBe(true);
  expect(lines).toHaveLength(2);
});

test('while another holds the database nobody waits for its lock; afterwards they do again', async () => {
  const { world, guard } = guarded(1000);
  world.broken = failed('SQLITE_BUSY', 'database is locked');
  expect(guard.noticed(world.broken)).toBe(true);
  expect([world.patient, guard.view().state]).toEqual([false, 'locked']);
  await guard.look();
  expect(world.patient).toBe(false);
  world.broken = undefined;
  await guard.look();
  expect([world.patient, guard.acceptsWork]).toEqual([true, true]);
});

test('much room is said in gigabytes', async () => {
  const { guard } = guarded(78_896, 900_000);
  await guard.look();
  expect(guard.view().text).toContain('full: 77.0 GB left, 878.9 GB are needed');
});

test('the limit is the one that was last read, also while the database can’t be', async () => {
  const { world, guard } = guarded(300, 100);
  await guard.look();
  const { leastFreeBytes } = guard.view();
  Object.defineProperty(world, 'leastMb', {
    get: () => {
      throw failed('SQLITE_BUSY');
    },
  });
  world.broken = failed('SQLITE_BUSY');
  await guard.look();
  expect(guard.view()).toMatchObject({ state: 'locked', leastFreeBytes });
});

test.each([
  [failed('ENOSPC'), 'full'],
  [failed('EDQUOT'), 'full'],
  [failed('SQLITE_FULL', 'database or disk is full'), 'full'],
  [failed('SQLITE_BUSY_SNAPSHOT', 'database is locked'), 'locked'],
  // From another thread: the code is lost on the way.
  [new Error('ENOSPC: no space left on device, write'), 'full'],
  [new Error('it failed', { cause: failed('ENOSPC') }), 'full'],
  [failed('ENOENT'), undefined],
  [new Error('the busy bee'), undefined],
  ['ENOSPC', undefined],
])('%s is %s', (error, fault) => {
  expect(storageFault(error)).toBe(fault);
});

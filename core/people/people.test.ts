import fc from 'fast-check';
import { exposures } from './exposure.ts';
import { RIGHTS, ROLES, allows, lesser, rightOf, roleFor } from './rights.ts';
import { attemptWaitMs } from './throttle.ts';

describe('rights', () => {
  test('each role may do what the roles before it may, and one thing more', () => {
    expect(ROLES.map((role) => RIGHTS.filter((right) => allows(rightOf(role), right)))).toEqual([
      ['see'],
      ['see', 'operate'],
      ['see', 'operate', 'coordinate'],
      ['see', 'operate', 'coordinate', 'set up'],
    ]);
    expect(RIGHTS.map(roleFor)).toEqual([...ROLES]);
  });

  test('the lesser of two rights allows nothing that either of them does not', () => {
    const right = fc.constantFrom(...RIGHTS);
    fc.assert(
      fc.property(right, right, right, (a, b, needed) => {
        expect(allows(lesser(a, b), needed)).toBe(allows(a, needed) && allows(b, needed));
      }),
    );
  });
});

test('an attempt waits 1, 2, 4 … seconds once the free ones are used up, and never more than a quarter of an hour', () => {
  expect([0, 4, 5, 6, 9, 14, 15, 400].map((failures) => attemptWaitMs(failures, 5) / 1000)).toEqual([
    0, 0, 1, 2, 16, 512, 900, 900,
  ]);
});

test('whatever lets another machine reach the shop is a reason to sign in, each by itself', () => {
  const alone = { host: '127.0.0.1', publicUrl: undefined, trustedHops: 0, hasCertificate: false, hostNames: [] };
  expect(exposures(alone)).toEqual([]);
  expect(exposures({ ...alone, host: '::1' })).toEqual([]);
  const changes = [
    { host: '0.0.0.0' },
    { host: '127.0.0.2' },
    { publicUrl: 'https://print.example' },
    { trustedHops: 1 },
    { hasCertificate: true },
    { hostNames: ['shop.local'] },
  ];
  expect(changes.map((change) => exposures({ ...alone, ...change }).length)).toEqual([1, 1, 1, 1, 1, 1]);
  expect(exposures({ ...alone, hostNames: ['a.local', 'b.local'] })).toEqual([
    'Setup lists further names: a.local, b.local',
  ]);
});

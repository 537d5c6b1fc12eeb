import { Refused } from '../../shop.ts';

/**
 * Who changes something says which version they have seen, so that nobody overwrites another's change.
 * @param ifVersion undefined: any
 * @throws Refused where it is another by now
 */
export function mustBeSameVersion(what: string, version: number, ifVersion: number | undefined): void {
  if (ifVersion === undefined || ifVersion === version) return;
  throw new Refused(
    409,
    'changed-meanwhile',
    `Somebody else has changed this ${what} meanwhile.`,
    { version },
    'Look at it again, then change it.',
  );
}

import { Refused } from '../../shop.ts';

/**
 * Who changes something says which version they have seen, so that nobody overwrites another's change.
 * @param row as it is now
 * @param ifVersion undefined: any
 * @throws Refused where it is another by now, with the name of who changed it
 */
export function mustBeSameVersion(
  what: string,
  { version, changedBy }: { readonly version: number; readonly changedBy: string | null },
  ifVersion: number | undefined,
): void {
  if (ifVersion === undefined || ifVersion === version) return;
  throw new Refused(
    409,
    'changed-meanwhile',
    `${changedBy ?? 'Somebody else'} has changed this ${what} meanwhile.`,
    { version },
    'Look at it again, then change it.',
  );
}

import { Refused } from '../shop.ts';

/** The version in an If-Match header; undefined where there is none, or any will do. */
export function versionIn(header: string | undefined): number | undefined {
  if (header === undefined || header.trim() === '*') return undefined;
  const version = Number(/^(?:W\/)?"?(\d+)"?$/.exec(header.trim())?.[1] ?? Number.NaN);
  if (Number.isInteger(version)) return version;
  throw new Refused(400, 'bad-request', `If-Match is no version: ${header.slice(0, 40)}.`);
}

import type { Right } from './rights.ts';

/** Where an undo goes to, by what it needs; everything else is daily work. */
const PATHS: readonly (readonly [right: Right, path: RegExp])[] = [
  ['set up', /^\/api\/(clock|shop|people|sign-in|rules|sizes|profiles|stocks|queues|hot-folders)(\/|$)/],
  ['set up', /^\/api\/printers(\/[^/]+)?$/],
  ['operate', /^\/api\/(next-hands|care|checks)(\/|$)/],
  ['operate', /^\/api\/runs\/[^/]+\/(cancel|pause|resume|confirm-back)$/],
  ['set up', /^\/api\/message-setup(\/|$)/],
  ['operate', /^\/api\/(away|messages)\/[^/]+\/seen$/],
  ['operate', /^\/api\/spools\/[^/]+\/(load|unload)$/],
  ['operate', /^\/api\/printers\/[^/]+\/(emptied|feed|reading|heads\/care|check-plot\/read)$/],
];

/**
 * What taking something back needs: a page offers it to those who may. The server decides by its routes, which a test holds this
 * against.
 * @param path where the undo is sent, from /api/ on
 */
export function undoRight(path: string): Right {
  return PATHS.find(([, pattern]) => pattern.test(path))?.[0] ?? 'coordinate';
}

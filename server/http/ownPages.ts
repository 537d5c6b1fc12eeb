import type { RequestHandler } from 'express';
import { foreignRequest } from '../../core/web/ownRequest.ts';
import { Refused } from '../shop.ts';

const WHY = {
  host: 'This server answers only under its own name.',
  origin: 'Pages of other sites may not ask this server for anything.',
};

/**
 * Lets in what is meant for this server and comes from its own pages, reading included: another site's page must neither
 * change anything here nor read it by having its name pointed at this machine.
 * @param ports where the server listens
 * @param names further names: of its addresses, its public one, and those from Setup
 */
export function onlyOwnPages(ports: () => readonly number[], names: () => readonly string[]): RequestHandler {
  return (req, _res, next) => {
    const { origin } = req.headers;
    // Behind a proxy whose word counts, the name that the browser asked for.
    const host = req.host as string | undefined;
    const foreign = foreignRequest({ host, origin }, ports(), names());
    if (foreign === undefined) {
      next();
      return;
    }
    next(
      new Refused(
        403,
        `foreign-${foreign}`,
        WHY[foreign],
        { host: host ?? null, origin: origin ?? null },
        `Use http://127.0.0.1:${String(ports()[0])}, or list the name in Setup, Shop hours.`,
      ),
    );
  };
}

/** Names by which a machine calls itself: nobody else can give them another address. */
const OWN_NAMES = ['127.0.0.1', 'localhost', '[::1]'];

export interface RequestFrom {
  /** As the Host header says it. */
  readonly host: string | undefined;
  /** As the Origin header says it; browsers send it with every request of a page that may change something. */
  readonly origin: string | undefined;
}

export type Foreign = 'host' | 'origin';

/**
 * Whether a request is meant for this server and comes from its own pages. A foreign Host is a page of another site that had
 * its name pointed at this machine (DNS rebinding); a foreign Origin is another site's page or form. No Origin at all is a
 * command-line client, or a browser's plain navigation.
 * @param ports where this server listens
 * @param names further names under which it may be reached, in any port: an entry `shop.example`, or `shop.example:8080`
 * @returns what is foreign; undefined where all is well
 */
export function foreignRequest(
  { host, origin }: RequestFrom,
  ports: readonly number[],
  names: readonly string[] = [],
): Foreign | undefined {
  if (host === undefined || !isOwn(host, ports, names)) return 'host';
  if (origin === undefined) return undefined;
  const from = /^https?:\/\/([^/?#@\s]+)$/i.exec(origin)?.[1];
  return from !== undefined && isOwn(from, ports, names) ? undefined : 'origin';
}

function isOwn(hostAndPort: string, ports: readonly number[], names: readonly string[]): boolean {
  const asked = hostAndPort.toLowerCase();
  const own = (name: string, port: number): boolean =>
    asked === `${name}:${String(port)}` || ((port === 80 || port === 443) && asked === name);
  if (ports.some((port) => OWN_NAMES.some((name) => own(name, port)))) return true;
  const name = asked.replace(/:\d+$/, '');
  return names.some((each) => {
    const known = each.trim().toLowerCase();
    return known !== '' && (known === asked || known === name);
  });
}

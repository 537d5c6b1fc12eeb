/** How a server can be reached, as far as it decides whether people have to sign in. */
export interface Reach {
  /** The address that it listens on. */
  readonly host: string;
  /** Under which people know it, as they type it; undefined: none is said. */
  readonly publicUrl: string | undefined;
  /** Proxies in front of it whose word counts. */
  readonly trustedHops: number;
  readonly hasCertificate: boolean;
  /** Further names from Setup. */
  readonly hostNames: readonly string[];
}

/** Addresses and names that only this machine itself can reach. */
export const LOOPBACK = ['127.0.0.1', 'localhost', '::1'] as const;

/**
 * Why people have to sign in: whatever lets anybody but this machine reach the shop.
 * @returns each reason as a sentence's end; none where only this machine can reach it
 */
export function exposures({ host, publicUrl, trustedHops, hasCertificate, hostNames }: Reach): readonly string[] {
  return [
    ...((LOOPBACK as readonly string[]).includes(host) ? [] : [`it listens on ${host}`]),
    ...(publicUrl === undefined ? [] : [`its public address is ${publicUrl}`]),
    ...(trustedHops === 0 ? [] : ['it stands behind a proxy']),
    ...(hasCertificate ? ['it has a certificate'] : []),
    ...(hostNames.length === 0 ? [] : [`Setup lists further names: ${hostNames.join(', ')}`]),
  ];
}

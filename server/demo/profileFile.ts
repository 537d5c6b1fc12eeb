import { join } from 'node:path';

/** Where the made-up profile of one of the demo's modes lies in the project. */
export function profileFile(name: string, folder = join('server', 'demo', 'profiles')): string {
  return join(folder, `${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.icc`);
}

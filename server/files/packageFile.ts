import { createRequire } from 'node:module';
import { join } from 'node:path';

let load: NodeJS.Require | undefined;

/** Where a file of an installed package lies, also for a program that has been put into one file. @param name as it is imported */
export function packageFile(name: string): string {
  load ??= createRequire(join(process.cwd(), 'package.json'));
  return load.resolve(name);
}

import { appendFileSync, mkdirSync } from 'node:fs';
import { dirname } from 'node:path';

/**
 * Writes each statement that a server runs to a file, once, without its values: `npm test` looks at how the database would find
 * the rows of each in a shop of many years.
 */
export function statementLog(file: string): (statement: string) => void {
  mkdirSync(dirname(file), { recursive: true });
  const seen = new Set<string>();
  return (statement) => {
    // Lists of values differ in length only, and rows that are inserted look nothing up.
    const shape = statement.replace(/\bin \(\?(, \?)*\)/gi, 'in (?, ?)');
    if (seen.has(shape) || /^\s*insert into [^;]* values /i.test(shape)) return;
    seen.add(shape);
    appendFileSync(file, `${JSON.stringify(shape)}\n`);
  };
}

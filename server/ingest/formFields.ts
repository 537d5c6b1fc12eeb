/** A field that came beside files; undefined: it did not come, or is empty. */
export function formField(body: unknown, name: string): string | undefined {
  const value = ((body ?? {}) as Readonly<Record<string, unknown>>)[name];
  return typeof value === 'string' && value !== '' ? value : undefined;
}

/** A file's name without any folder, and without characters that no file system takes. */
export function plainName(name: string): string {
  const last = name.split(/[\\/]/).pop() ?? '';
  const clean = Array.from(last, (char) => (char < ' ' || char === '\u007f' ? '' : char))
    .join('')
    .trim();
  return clean === '' || clean === '.' || clean === '..' ? 'unnamed' : clean.slice(0, 200);
}

import { textEncoding } from '../../files/textEncoding.ts';

const ROOT = /<((?:[\w.-]+:)?svg)(?=[\s>/])((?:[^>"']|"[^"]*"|'[^']*')*)>/;

/** The letters of an SVG, in whatever encoding its mark or its first line names. */
export function svgText(bytes: Uint8Array): string {
  const marked = textEncoding(bytes);
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 200));
  const declared = /^\s*<\?xml[^>]*?encoding\s*=\s*["']([\w-]+)["']/.exec(head)?.[1];
  const text = decoded(bytes, marked.startsWith('utf-16') ? marked : (declared ?? marked));
  // From here on it is a string: what it was written in would only mislead whoever reads it next.
  return text.replace(/^\s*<\?xml[^>]*\?>/, '');
}

function decoded(bytes: Uint8Array, encoding: string): string {
  try {
    return new TextDecoder(encoding).decode(bytes);
  } catch {
    return new TextDecoder('utf-8').decode(bytes);
  }
}

/** The same SVG in this size, so that everything that draws it agrees on how large it is. */
export function sized(
  text: string,
  { widthMm, heightMm }: { readonly widthMm: number; readonly heightMm: number },
): string {
  return text.replace(ROOT, (_whole, name: string, attributes: string) => {
    const others = attributes.replace(/\s(?:width|height)\s*=\s*(?:"[^"]*"|'[^']*')/g, '');
    const empty = others.trimEnd().endsWith('/');
    const kept = empty ? others.trimEnd().slice(0, -1) : others;
    return `<${name}${kept} width="${String(widthMm)}mm" height="${String(heightMm)}mm"${empty ? '/' : ''}>`;
  });
}

/**
 * Puts the values of CSS variables in their places, since neither drawing knows them.
 * @returns also the names of those that have several values, or none and nothing instead: they stay
 */
export function withVariables(text: string): { readonly text: string; readonly unknown: readonly string[] } {
  if (!/var\(\s*--/.test(text)) return { text, unknown: [] };
  const values = new Map<string, Set<string>>();
  for (const [, name = '', value = ''] of text.matchAll(/(--[\w-]+)\s*:\s*([^;}"'<]+)/g)) {
    values.set(name, (values.get(name) ?? new Set()).add(value.trim()));
  }
  const unknown = new Set<string>();
  let out = text;
  // A value may name another variable.
  for (let depth = 0; depth < 8 && /var\(\s*--/.test(out); depth++) {
    out = out.replace(
      /var\(\s*(--[\w-]+)\s*(?:,\s*([^()]*(?:\([^()]*\)[^()]*)*))?\)/g,
      (whole, name: string, instead?: string) => {
        const [value, ...others] = values.get(name) ?? [];
        if (value !== undefined && others.length === 0) return value;
        if (value === undefined && instead !== undefined) return instead.trim();
        unknown.add(name);
        return whole;
      },
    );
  }
  return { text: out, unknown: [...unknown] };
}

import index from './fieldIndex.json';
import { VIEWS } from '../views.ts';

/** A field, button, heading or term of the application, and how to come to it. */
export interface FieldPlace {
  readonly label: string;
  readonly path: string;
  readonly open: readonly string[];
  /** Where it is, in words. */
  readonly under: string;
}

/** What `{printer}` and the like in a path stand for; undefined where the shop has none. */
export type Firsts = Readonly<
  Record<'printer' | 'queue' | 'stock' | 'preset' | 'spool' | 'run' | 'job' | 'shelved' | 'person', string | undefined>
>;

const KINDS: Readonly<Record<string, string>> = {
  printer: 'printer',
  queue: 'queue',
  stock: 'stock',
  preset: 'preset',
  spool: 'spool',
  run: 'run',
  job: 'ticket',
  shelved: 'kept job',
  sizes: 'sizes',
  rules: 'routing rules',
  hours: 'shop hours',
  'new-printer': 'a new printer',
  'many-stocks': 'many stocks',
  people: 'people',
  person: 'a person',
  messages: 'messages',
};

/** Every label of the application, as `npm run fields` has read them. */
export function fields(firsts: Firsts): FieldPlace[] {
  return index.map(({ label, path, open }) => {
    const kind = /[?/]{?([\w-]+)(?:=|}|$)/.exec(path.replace(/^\/\w+/, ''))?.[1];
    const view = VIEWS.find((each) => path.startsWith(each.path))?.name ?? '';
    return {
      label,
      open,
      under: [view, KINDS[kind ?? ''], ...open].filter(Boolean).join(', '),
      path: pathOf(path, firsts),
    };
  });
}

/** Where the shop has nothing of that kind the view itself is opened. */
function pathOf(path: string, firsts: Firsts): string {
  const [, kind] = /\{(\w+)\}/.exec(path) ?? [];
  if (kind === undefined) return path;
  const id = firsts[kind as keyof Firsts];
  return id === undefined ? `/${path.split(/[/?]/)[1] ?? ''}` : path.replace(`{${kind}}`, id);
}

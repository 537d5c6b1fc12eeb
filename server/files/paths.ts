import type { FilePlaces } from '../ports/files.ts';
import { createHash } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';

/** Every place under the data folder. */
export class DataPaths implements FilePlaces {
  readonly root: string;

  constructor(root: string) {
    this.root = resolve(root);
  }

  get database(): string {
    return join(this.root, 'yellow-spool.db');
  }
  get hotFolders(): string {
    return join(this.root, 'hot-folders');
  }
  get uploads(): string {
    return join(this.root, 'uploads');
  }
  get refused(): string {
    return join(this.root, 'refused');
  }
  get temporary(): string {
    return join(this.root, 'temporary');
  }
  get standIns(): string {
    return join(this.root, 'stand-ins');
  }

  source(sha256: string): string {
    return join(this.root, 'files', sha256.slice(0, 2), sha256);
  }
  picture(sha256: string, page: number, size: string, look = 'as-it-came'): string {
    return join(
      this.root,
      'pictures',
      sha256.slice(0, 2),
      sha256,
      look === 'as-it-came' ? `${String(page)}-${size}.webp` : `${String(page)}-${size}-${look}.webp`,
    );
  }
  /** What an SVG is printed as; can be made again. */
  drawn(sha256: string, without?: string): string {
    const key = without === undefined ? '' : `-${createHash('sha256').update(without).digest('hex').slice(0, 16)}`;
    return join(this.root, 'drawn', sha256.slice(0, 2), `${sha256}${key}.pdf`);
  }
  /** A laid-out run, named by what it is made of: another layout is another file. */
  laidOut(key: string): string {
    return join(this.rendered.laidOut, `${key}.pdf`);
  }
  /** A laid-out run with all its colours in the wide RGB; can be made again. */
  wide(key: string): string {
    return join(this.rendered.laidOut, `${key}.wide.pdf`);
  }
  /** A profile, where threads read it. */
  profile(sha256: string): string {
    return join(this.root, 'profiles', `${sha256}.icc`);
  }
  /** A part of a coat that was rendered; can be made again. */
  coatPart(key: string, part: number, file: 'dots' | 'cells' | 'json'): string {
    return join(this.coat(key), `${String(part).padStart(5, '0')}.${file}`);
  }
  /** What lies under the pages of a coat while it is rendered: the list of its pictures, and the pages without them. */
  coatUnder(key: string, file: 'json' | 'pdf'): string {
    return join(this.coat(key), `under.${file}`);
  }
  /** A picture of a coat as inks, row by row. */
  coatPicture(key: string, picture: number): string {
    return join(this.coat(key), `picture-${String(picture)}.inks`);
  }
  coat(key: string): string {
    return join(this.rendered.coats, key);
  }
  get rendered(): { readonly laidOut: string; readonly coats: string } {
    return { laidOut: join(this.root, 'laid-out'), coats: join(this.root, 'coats') };
  }

  make(): void {
    for (const dir of [this.root, this.hotFolders, this.uploads, this.refused, this.temporary, this.standIns]) {
      mkdirSync(dir, { recursive: true });
    }
  }
}

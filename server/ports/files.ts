/** Where the shop keeps its files. Nothing from a file's own name ever becomes part of a path here. */
export interface FilePlaces {
  readonly root: string;
  readonly database: string;
  readonly hotFolders: string;
  readonly uploads: string;
  readonly refused: string;
  readonly temporary: string;
  readonly standIns: string;
  /** A file as it came, by the hash of what is in it. */
  source(sha256: string): string;
  /** A picture of a page; `look` names how its ticket makes it, left out: as the file has it. */
  picture(sha256: string, page: number, size: string, look?: string): string;
  /** What an SVG is printed as; can be made again. */
  drawn(sha256: string, without?: string): string;
  /** A laid-out run, named by what it is made of: another layout is another file. */
  laidOut(key: string): string;
  /** The same with the colours of its artwork read, so that they can be drawn; can be made again. */
  wide(key: string): string;
  /** A profile, by the hash of what is in it; the database has it, too. */
  profile(sha256: string): string;
  /** A part of a coat that was rendered: its dots, coarse pictures of them, or its index. */
  coatPart(key: string, part: number, file: 'dots' | 'cells' | 'json'): string;
  /** What lies under the pages of a coat while it is rendered. */
  coatUnder(key: string, file: 'json' | 'pdf'): string;
  coatPicture(key: string, picture: number): string;
  /** Where the parts of a coat lie. */
  coat(key: string): string;
  /** Where rendered data lies, which is kept within a bound. */
  readonly rendered: { readonly laidOut: string; readonly coats: string };
}

import { type FileHandle, open } from 'node:fs/promises';
import { Unreadable } from '../facts.ts';

/** What is wanted of one picture in a TIFF, straight from its tags: the image library leaves ink names out. */
export interface TiffPage {
  readonly width: number;
  readonly height: number;
  readonly photometric: number;
  readonly samples: number;
  readonly bits: number;
  /** 1 whole numbers, 3 floating point. */
  readonly sampleFormat: number;
  /** 1: not packed. */
  readonly compression: number;
  /** Each channel lies apart. */
  readonly planar: boolean;
  readonly inkNames: readonly string[];
  /** Meaning of the samples beyond the colours: 0 unspecified, 1 associated alpha, 2 alpha. */
  readonly extraSamples: readonly number[];
  /** 1 none, 2 inch, 3 cm. */
  readonly resolutionUnit: number;
  readonly xResolution: number | undefined;
  readonly yResolution: number | undefined;
  /** Where the picture data end; a file that is shorter is cut off. */
  readonly dataEnd: number;
  /** Length of the part of them that ends there. */
  readonly dataBytes: number;
  /** A reduced copy or a mask, no page. */
  readonly secondary: boolean;
}

const SIZES: Readonly<Record<number, number>> = {
  1: 1,
  2: 1,
  3: 2,
  4: 4,
  5: 8,
  6: 1,
  7: 1,
  8: 2,
  9: 4,
  10: 8,
  11: 4,
  12: 8,
  13: 4,
  16: 8,
  17: 8,
  18: 8,
};
/** Bounds against broken and hostile files. */
const MOST_ENTRIES = 4096;
const MOST_BYTES = 64 * 1024 * 1024;

interface Entry {
  readonly type: number;
  readonly count: number;
  readonly bytes: Buffer;
}

/** Reads the tags of up to `mostPages` + 1 pictures. @throws Unreadable where the chain of tags is broken */
export async function readTiff(path: string, mostPages: number): Promise<TiffPage[]> {
  const file = await open(path, 'r');
  try {
    const { size } = await file.stat();
    return await new TiffReader(file, size).pages(mostPages);
  } finally {
    await file.close();
  }
}

/** Reads the directories of a TIFF, also of a BigTIFF, by the tags that are wanted; never its pixels. */
class TiffReader {
  private little = true;
  private big = false;

  constructor(
    private readonly file: FileHandle,
    private readonly size: number,
  ) {}

  async pages(mostPages: number): Promise<TiffPage[]> {
    const head = await this.read(0, 16);
    this.little = head.toString('latin1', 0, 2) === 'II';
    this.big = this.u16(head, 2) === 43;
    let at = this.big ? this.u64(head, 8) : this.u32(head, 4);
    const seen = new Set<number>();
    const found: TiffPage[] = [];
    let primary = 0;
    while (at !== 0 && primary <= mostPages) {
      if (seen.has(at)) throw new Unreadable('The TIFF is damaged: its list of pictures runs in a circle.');
      seen.add(at);
      if (seen.size > mostPages * 4 + 8) throw new Unreadable('The TIFF has more pictures than can be read.');
      const { page, next } = await this.directory(at);
      found.push(page);
      if (!page.secondary) primary += 1;
      at = next;
    }
    return found;
  }

  private async directory(at: number): Promise<{ page: TiffPage; next: number }> {
    const countBytes = this.big ? 8 : 2;
    const entryBytes = this.big ? 20 : 12;
    const head = await this.read(at, countBytes);
    const count = this.big ? this.u64(head, 0) : this.u16(head, 0);
    if (count > MOST_ENTRIES) throw new Unreadable('The TIFF is damaged: a list of tags is endless.');
    const body = await this.read(at + countBytes, count * entryBytes + (this.big ? 8 : 4));
    const tags = new Map<number, Entry>();
    for (let i = 0; i < count; i++) {
      const from = i * entryBytes;
      const tag = this.u16(body, from);
      if (WANTED.has(tag)) tags.set(tag, await this.entry(body, from));
    }
    const next = this.big ? this.u64(body, count * entryBytes) : this.u32(body, count * entryBytes);
    return { page: this.page(tags), next };
  }

  private async entry(body: Buffer, from: number): Promise<Entry> {
    const type = this.u16(body, from + 2);
    const count = this.big ? this.u64(body, from + 4) : this.u32(body, from + 4);
    const bytes = count * (SIZES[type] ?? 1);
    const inline = this.big ? 8 : 4;
    const valueAt = from + (this.big ? 12 : 8);
    if (bytes <= inline) return { type, count, bytes: body.subarray(valueAt, valueAt + bytes) };
    if (bytes > MOST_BYTES) throw new Unreadable('The TIFF is damaged: a tag is larger than any tag can be.');
    return { type, count, bytes: await this.read(this.big ? this.u64(body, valueAt) : this.u32(body, valueAt), bytes) };
  }

  private page(tags: ReadonlyMap<number, Entry>): TiffPage {
    const list = (tag: number): number[] => this.numbers(tags.get(tag));
    const one = (tag: number, otherwise: number): number => list(tag)[0] ?? otherwise;
    const starts = list(TILE_OFFSETS).length > 0 ? list(TILE_OFFSETS) : list(STRIP_OFFSETS);
    const lengths = list(TILE_BYTES).length > 0 ? list(TILE_BYTES) : list(STRIP_BYTES);
    return {
      width: one(256, 0),
      height: one(257, 0),
      photometric: one(262, 1),
      samples: one(277, 1),
      bits: one(258, 1),
      sampleFormat: one(339, 1),
      compression: one(259, 1),
      planar: one(284, 1) === 2,
      inkNames: (tags.get(333)?.bytes.toString('utf8') ?? '').split('\0').filter((name) => name.trim() !== ''),
      extraSamples: list(338),
      resolutionUnit: one(296, 2),
      xResolution: list(282)[0],
      yResolution: list(283)[0],
      ...lastOf(starts, lengths),
      secondary: (one(254, 0) & 5) !== 0,
    };
  }

  private numbers(entry: Entry | undefined): number[] {
    if (!entry) return [];
    const { type, bytes } = entry;
    const size = SIZES[type] ?? 1;
    return Array.from({ length: Math.min(entry.count, Math.floor(bytes.length / size)) }, (_, i) => {
      const at = i * size;
      if (type === 3) return this.u16(bytes, at);
      if (type === 4 || type === 13) return this.u32(bytes, at);
      if (type === 5) return this.u32(bytes, at) / this.u32(bytes, at + 4);
      if (type === 16 || type === 18) return this.u64(bytes, at);
      return bytes[at] ?? 0;
    });
  }

  private async read(from: number, length: number): Promise<Buffer> {
    if (from < 0 || from + Math.min(length, 4) > this.size || length < 0) {
      throw new Unreadable('The TIFF is damaged: its tags point beyond its end. Export it again.');
    }
    const buffer = Buffer.alloc(length);
    await this.file.read(buffer, 0, length, from);
    return buffer;
  }

  private u16(b: Buffer, at: number): number {
    return this.little ? b.readUInt16LE(at) : b.readUInt16BE(at);
  }
  private u32(b: Buffer, at: number): number {
    return this.little ? b.readUInt32LE(at) : b.readUInt32BE(at);
  }
  private u64(b: Buffer, at: number): number {
    return Number(this.little ? b.readBigUInt64LE(at) : b.readBigUInt64BE(at));
  }
}

function lastOf(starts: readonly number[], lengths: readonly number[]): Pick<TiffPage, 'dataEnd' | 'dataBytes'> {
  let last = { dataEnd: 0, dataBytes: 0 };
  starts.forEach((start, i) => {
    const dataBytes = lengths[i] ?? 0;
    if (start + dataBytes > last.dataEnd) last = { dataEnd: start + dataBytes, dataBytes };
  });
  return last;
}

const STRIP_OFFSETS = 273;
const STRIP_BYTES = 279;
const TILE_OFFSETS = 324;
const TILE_BYTES = 325;
const WANTED = new Set([254, 256, 257, 258, 259, 262, 273, 277, 279, 282, 283, 284, 296, 324, 325, 333, 338, 339]);

/** Names of the channels beyond the process colours, alpha left out. */
export function spotNames(page: TiffPage): string[] {
  const base = { 0: 1, 1: 1, 2: 3, 3: 1, 5: 4, 6: 3, 8: 3 }[page.photometric] ?? 1;
  const extra = page.samples - base;
  const names = page.photometric === 5 && page.inkNames.length > base ? page.inkNames.slice(base) : page.inkNames;
  const spots: string[] = [];
  for (let i = 0; i < extra; i++) {
    const kind = page.extraSamples[i] ?? 0;
    if (kind === 1 || kind === 2) continue;
    spots.push(names[spots.length] ?? `Channel ${String(base + i + 1)}`);
  }
  return spots;
}

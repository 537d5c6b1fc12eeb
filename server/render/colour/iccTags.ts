/*
 * ICC profiles as files, version 2.4: what all of them have, whatever they describe. Source: ICC.1:2001-04.
 */

type Triple = readonly [number, number, number];

export function textTag(value: string): Buffer {
  return Buffer.concat([Buffer.from('text\0\0\0\0', 'latin1'), Buffer.from(`${value}\0`, 'latin1')]);
}

export function descriptionTag(value: string): Buffer {
  const ascii = Buffer.from(`${value}\0`, 'latin1');
  const head = Buffer.alloc(12);
  head.write('desc', 0, 'latin1');
  head.writeUInt32BE(ascii.length, 8);
  // Neither Unicode nor a script code: fields of a fixed size.
  return Buffer.concat([head, ascii, Buffer.alloc(8 + 3 + 67)]);
}

function fixed(value: number): Buffer {
  const bytes = Buffer.alloc(4);
  bytes.writeInt32BE(Math.round(value * 65_536));
  return bytes;
}

export function xyzTag(values: Triple): Buffer {
  return Buffer.concat([Buffer.from('XYZ \0\0\0\0', 'latin1'), ...values.map(fixed)]);
}

/** What a profile says of itself before its tags; each of four letters. */
export interface IccKind {
  readonly deviceClass: string;
  readonly space: string;
  /** Of the space that it leads to and from. */
  readonly connection: string;
}

/** A profile of its tags; tags that are the same are written once. */
export function iccOfTags(kind: IccKind, tags: readonly (readonly [string, Buffer])[]): Buffer {
  const places = new Map<Buffer, number>();
  const parts: Buffer[] = [];
  let at = 128 + 4 + tags.length * 12;
  for (const [, data] of tags) {
    if (places.has(data)) continue;
    places.set(data, at);
    const padded = Buffer.concat([data, Buffer.alloc((4 - (data.length % 4)) % 4)]);
    parts.push(padded);
    at += padded.length;
  }
  const header = Buffer.alloc(128);
  header.writeUInt32BE(at, 0);
  header.writeUInt32BE(0x02400000, 8);
  header.write(kind.deviceClass, 12, 'latin1');
  header.write(kind.space, 16, 'latin1');
  header.write(kind.connection, 20, 'latin1');
  [2026, 1, 1, 0, 0, 0].forEach((value, i) => header.writeUInt16BE(value, 24 + i * 2));
  header.write('acsp', 36, 'latin1');
  [0.9642, 1, 0.8249].forEach((value, i) => {
    fixed(value).copy(header, 68 + i * 4);
  });
  const list = Buffer.alloc(4 + tags.length * 12);
  list.writeUInt32BE(tags.length, 0);
  tags.forEach(([signature, data], i) => {
    list.write(signature, 4 + i * 12, 'latin1');
    list.writeUInt32BE(places.get(data) ?? 0, 8 + i * 12);
    list.writeUInt32BE(data.length, 12 + i * 12);
  });
  return Buffer.concat([header, list, ...parts]);
}

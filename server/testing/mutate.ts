/** A file with one to six wounds: bytes changed, cut out, doubled, counts made absurd. */
export function mutate(original: Buffer, random: () => number): Buffer {
  let bytes = Buffer.from(original);
  const pick = (most: number): number => Math.floor(random() * most);
  for (let n = 1 + pick(6); n > 0; n--) {
    const at = pick(bytes.length);
    switch (pick(6)) {
      case 0:
        bytes[at] = pick(256);
        break;
      case 1:
        bytes.fill(pick(256), at, Math.min(bytes.length, at + pick(40)));
        break;
      case 2:
        bytes = Buffer.concat([bytes.subarray(0, at), bytes.subarray(pick(bytes.length))]);
        break;
      case 3:
        bytes = Buffer.concat([bytes.subarray(0, at), bytes.subarray(at, at + pick(400)), bytes.subarray(at)]);
        break;
      case 4:
        if (at + 4 <= bytes.length) bytes.writeUInt32BE([0, 1, 0x7fffffff, 0xffffffff][pick(4)] ?? 0, at);
        break;
      case 5:
        bytes = Buffer.concat([bytes.subarray(0, Math.max(1, at)), Buffer.from(original.subarray(at))]);
        break;
    }
    if (bytes.length === 0) bytes = Buffer.from(original);
  }
  return bytes;
}

/*
 * Kernels that work on all channels of a pixel at once: eight lanes of 16 bits. AssemblyScript, compiled by `npm run kernels` into
 * server/render/channels/inkKernels.ts. Each has its reference in core/coats, and gives the same bit for bit.
 * Memory is laid out by the caller; all places are byte offsets.
 */

/** Fraction of a step and byte offset of its lower node, for each of 256 values of one axis. */
const STEP_BYTES: usize = 8;
const AXIS_BYTES: usize = 256 * STEP_BYTES;

function walked(p: usize, ea: usize, eb: usize, ec: usize, fa: i32, fb: i32, fc: i32): v128 {
  const v0 = v128.load(p);
  const v1 = v128.load(p + ea);
  const v2 = v128.load(p + ea + eb);
  const v3 = v128.load(p + ea + eb + ec);
  let sum = i16x8.add(v0, i16x8.q15mulr_sat_s(i16x8.sub(v1, v0), i16x8.splat(<i16>fa)));
  sum = i16x8.add(sum, i16x8.q15mulr_sat_s(i16x8.sub(v2, v1), i16x8.splat(<i16>fb)));
  return i16x8.add(sum, i16x8.q15mulr_sat_s(i16x8.sub(v3, v2), i16x8.splat(<i16>fc)));
}

/**
 * Inks of pixels by a table, times alpha.
 * @param over they lie over what is in `out` already; else that is thrown away
 * @param src RGBA, `count` pixels
 * @param steps of the three axes, one behind the other
 * @param out `count` pixels of 8 bytes
 */
export function convert(
  src: usize,
  count: i32,
  table: usize,
  steps: usize,
  e0: usize,
  e1: usize,
  e2: usize,
  out: usize,
  over: bool,
): void {
  const zero = i16x8.splat(0);
  let known: u32 = 0;
  let inks = zero;
  for (let i = 0; i < count; i++) {
    const rgba = load<u32>(src + ((<usize>i) << 2));
    const alpha = rgba >>> 24;
    if (alpha == 0) {
      // Over a picture what is there already stays.
      if (!over) store<u64>(out + ((<usize>i) << 3), 0);
      continue;
    }
    // Pixels like the one before them, as in flat art, take its result.
    if (rgba != known) {
      known = rgba;
      const s0 = steps + <usize>(rgba & 255) * STEP_BYTES;
      const s1 = steps + AXIS_BYTES + <usize>((rgba >>> 8) & 255) * STEP_BYTES;
      const s2 = steps + 2 * AXIS_BYTES + <usize>((rgba >>> 16) & 255) * STEP_BYTES;
      const f0 = load<i32>(s0, 4);
      const f1 = load<i32>(s1, 4);
      const f2 = load<i32>(s2, 4);
      const p = table + load<u32>(s0) + load<u32>(s1) + load<u32>(s2);
      let sum: v128;
      if (f0 >= f1) {
        if (f1 >= f2) sum = walked(p, e0, e1, e2, f0, f1, f2);
        else if (f0 >= f2) sum = walked(p, e0, e2, e1, f0, f2, f1);
        else sum = walked(p, e2, e0, e1, f2, f0, f1);
      } else if (f0 >= f2) sum = walked(p, e1, e0, e2, f1, f0, f2);
      else if (f1 >= f2) sum = walked(p, e1, e2, e0, f1, f2, f0);
      else sum = walked(p, e2, e1, e0, f2, f1, f0);
      const narrow = i8x16.narrow_i16x8_u(i16x8.shr_s(i16x8.add(sum, i16x8.splat(64)), 7), zero);
      const wide = i16x8.extend_low_i8x16_u(narrow);
      const product = i16x8.add(i16x8.mul(wide, i16x8.splat(<i16>alpha)), i16x8.splat(128));
      inks = i16x8.shr_u(i16x8.add(product, i16x8.shr_u(product, 8)), 8);
    }
    let laid = inks;
    if (over && alpha < 255) {
      const under = i16x8.extend_low_i8x16_u(v128.load64_zero(out + ((<usize>i) << 3)));
      const product = i16x8.add(i16x8.mul(under, i16x8.splat(<i16>(255 - alpha))), i16x8.splat(128));
      laid = i16x8.add(inks, i16x8.shr_u(i16x8.add(product, i16x8.shr_u(product, 8)), 8));
    }
    v128.store64_lane(out + ((<usize>i) << 3), i8x16.narrow_i16x8_u(laid, zero), 0);
  }
}

/**
 * A row between two rows of a picture that is inks already.
 * @param above and `below`: rows of `count` pixels of 8 bytes
 * @param share of the way from one to the other, 0 … 32,767
 * @param out `count` pixels of 16 bytes, 32,640 in full
 */
export function between(above: usize, below: usize, share: i32, count: i32, out: usize): void {
  const part = i16x8.splat(<i16>share);
  for (let i = 0; i < count; i++) {
    const at = (<usize>i) << 3;
    const a = i16x8.shl(i16x8.extend_low_i8x16_u(v128.load64_zero(above + at)), 7);
    const b = i16x8.shl(i16x8.extend_low_i8x16_u(v128.load64_zero(below + at)), 7);
    v128.store(out + ((<usize>i) << 4), i16x8.add(a, i16x8.q15mulr_sat_s(i16x8.sub(b, a), part)));
  }
}

/**
 * A row of a picture enlarged to dots.
 * @param row as {@link between} makes it, with a pixel more behind its end
 * @param steps of each dot: byte offset of the pixel left of it, and the share of the way to the next, 0 … 32,767
 * @param out `count` dots of 8 bytes
 */
export function enlarge(row: usize, steps: usize, count: i32, out: usize): void {
  const half = i16x8.splat(64);
  const zero = i16x8.splat(0);
  for (let i = 0; i < count; i++) {
    const p = row + <usize>load<u32>(steps + ((<usize>i) << 3));
    const part = i16x8.splat(<i16>load<i32>(steps + ((<usize>i) << 3), 4));
    const left = v128.load(p);
    const ink = i16x8.add(left, i16x8.q15mulr_sat_s(i16x8.sub(v128.load(p, 16), left), part));
    v128.store64_lane(out + ((<usize>i) << 3), i8x16.narrow_i16x8_u(i16x8.shr_s(i16x8.add(ink, half), 7), zero), 0);
  }
}

/** Adds what was counted in lanes to three numbers a channel: dots of at least each level. */
function addCounts(counts: usize, c1: v128, c2: v128, c3: v128): void {
  addLanes(counts, c1);
  addLanes(counts + 32, c2);
  addLanes(counts + 64, c3);
}

function addLanes(at: usize, c: v128): void {
  v128.store(at, i32x4.add(v128.load(at), i32x4.extend_low_i16x8_u(c)));
  v128.store(at + 16, i32x4.add(v128.load(at + 16), i32x4.extend_high_i16x8_u(c)));
}

/** Writes eight dots of each channel, as they shall lie in bytes. */
function writeWord(out: usize, plane: usize, word: v128): void {
  v128.store16_lane(out, word, 0);
  v128.store16_lane(out + plane, word, 1);
  v128.store16_lane(out + plane * 2, word, 2);
  v128.store16_lane(out + plane * 3, word, 3);
  v128.store16_lane(out + plane * 4, word, 4);
  v128.store16_lane(out + plane * 5, word, 5);
  v128.store16_lane(out + plane * 6, word, 6);
  v128.store16_lane(out + plane * 7, word, 7);
}

/** The two bytes of each lane change places. */
function swapped(word: v128): v128 {
  return v128.or(i16x8.shl(word, 8), i16x8.shr_u(word, 8));
}

/** Of eight dots in each lane, those that came last come first; then the two bytes change places. */
function turned(word: v128): v128 {
  const pairs = i16x8.splat(0x3333);
  const fours = i16x8.splat(0x0f0f);
  const two = v128.or(i16x8.shl(v128.and(word, pairs), 2), v128.and(i16x8.shr_u(word, 2), pairs));
  return v128.or(i16x8.shl(v128.and(two, fours), 4), v128.and(i16x8.shr_u(two, 4), fours));
}

/** Whether eight pixels have no ink. */
function isBare(inks: usize): bool {
  const one = v128.or(v128.load(inks), v128.load(inks, 16));
  return !v128.any_true(v128.or(one, v128.or(v128.load(inks, 32), v128.load(inks, 48))));
}

/** Adds the ink of eight dots in each lane to their cell of sixteen. */
function addInk(cell: usize, ink: v128): void {
  v128.store(cell, i32x4.add(v128.load(cell), i32x4.extend_low_i16x8_u(ink)));
  v128.store(cell + 16, i32x4.add(v128.load(cell + 16), i32x4.extend_high_i16x8_u(ink)));
}

/** Bits that are set in each lane of 16. */
function bitsSet(word: v128): v128 {
  return i16x8.extadd_pairwise_i8x16_u(i8x16.popcnt(word));
}

/**
 * Screens a row by error diffusion.
 * @param inks 8 bytes a pixel, eight pixels a word; those behind the end of the row are 0
 * @param words of eight pixels in the row
 * @param errors (8 · words + 2) · 16 bytes
 * @param maskRow 64 places of 16 bytes
 * @param screen thresholds t1, t2, t3, then the levels v1, v2 − v1, v3 − v2: six numbers of 16 bits
 * @param out eight planes `plane` bytes apart, two bits a dot; 0: nothing is written, nor counted (warming up)
 * @param counts three times eight numbers of 32 bits: dots of at least level 1, 2, 3
 * @param cells eight numbers of 32 bits for each sixteen dots of the row: ink is added to them, 4,080 a full drop
 */
export function diffuse(
  inks: usize,
  words: i32,
  back: bool,
  errors: usize,
  maskRow: usize,
  screen: usize,
  out: usize,
  plane: usize,
  counts: usize,
  cells: usize,
): void {
  const t1 = i16x8.splat(load<i16>(screen));
  const t2 = i16x8.splat(load<i16>(screen, 2));
  const t3 = i16x8.splat(load<i16>(screen, 4));
  const s1 = i16x8.splat(load<i16>(screen, 6));
  const s2 = i16x8.splat(load<i16>(screen, 8));
  const s3 = i16x8.splat(load<i16>(screen, 10));
  const zero = i16x8.splat(0);
  const low = i16x8.splat(0x5555);
  const width = words << 3;
  let right = zero;
  let below = zero;
  let ahead = zero;
  let c1 = zero;
  let c2 = zero;
  let c3 = zero;
  const step: i32 = back ? -1 : 1;
  let x: i32 = back ? width - 1 : 0;
  for (let word = 0; word < words; word++) {
    let acc = zero;
    const place = x >> 3;
    if (isBare(inks + ((<usize>place) << 6))) {
      // As below with no ink: what was handed on to here is dropped, what was on its way to the next row arrives there.
      v128.store(errors + ((<usize>(x + 1 - step)) << 4), below);
      v128.store(errors + ((<usize>(x + 1)) << 4), ahead);
      for (let i = 1; i < 7; i++) v128.store(errors + ((<usize>(x + 1 + step * i)) << 4), zero);
      right = zero;
      below = zero;
      ahead = zero;
      x += step << 3;
      continue;
    }
    for (let i = 0; i < 8; i++) {
      const ink = i16x8.extend_low_i8x16_u(v128.load64_zero(inks + ((<usize>x) << 3)));
      const own = errors + ((<usize>(x + 1)) << 4);
      const handed = i16x8.add(i16x8.shl(ink, 4), v128.load(own));
      // Without ink nothing is wanted, and the mask alone is too little for a drop.
      const wanted = v128.and(i16x8.gt_s(ink, zero), i16x8.add(handed, right));
      const seen = i16x8.add(wanted, v128.load(maskRow + ((<usize>(x & 63)) << 4)));
      const m1 = i16x8.gt_s(seen, t1);
      const m2 = i16x8.gt_s(seen, t2);
      const m3 = i16x8.gt_s(seen, t3);
      const rest = i16x8.sub(i16x8.sub(wanted, v128.and(m1, s1)), i16x8.add(v128.and(m2, s2), v128.and(m3, s3)));
      acc = i16x8.sub(i16x8.shl(acc, 2), i16x8.add(i16x8.add(m1, m2), m3));
      const one = i16x8.shr_s(rest, 4);
      // Sums in place of products: the next pixel waits for them.
      const q3 = i16x8.shr_s(i16x8.add(rest, i16x8.shl(rest, 1)), 4);
      const q5 = i16x8.shr_s(i16x8.add(rest, i16x8.shl(rest, 2)), 4);
      right = i16x8.sub(i16x8.sub(rest, one), i16x8.add(q3, q5));
      v128.store(errors + ((<usize>(x + 1 - step)) << 4), i16x8.add(below, q3));
      below = i16x8.add(ahead, q5);
      ahead = one;
      x += step;
    }
    if (out != 0) {
      writeWord(out + ((<usize>place) << 1), plane, back ? turned(acc) : swapped(acc));
      const odd = v128.and(acc, low);
      const even = v128.and(i16x8.shr_u(acc, 1), low);
      const n1 = bitsSet(v128.or(odd, even));
      const n2 = bitsSet(even);
      const n3 = bitsSet(v128.and(odd, even));
      c1 = i16x8.add(c1, n1);
      c2 = i16x8.add(c2, n2);
      c3 = i16x8.add(c3, n3);
      const ink = i16x8.add(i16x8.add(i16x8.mul(n1, s1), i16x8.mul(n2, s2)), i16x8.mul(n3, s3));
      addInk(cells + ((<usize>(place >> 1)) << 5), ink);
      // Lanes count to 65,535.
      if ((word & 4095) == 4095) {
        addCounts(counts, c1, c2, c3);
        c1 = zero;
        c2 = zero;
        c3 = zero;
      }
    }
  }
  if (out != 0) addCounts(counts, c1, c2, c3);
  // What goes beyond the ends of a row is not handed on.
  v128.store(errors + ((<usize>(back ? 1 : width)) << 4), below);
  v128.store(errors + ((<usize>(back ? width + 1 : 0)) << 4), zero);
}

/**
 * Screens a row by a mask. Parameters as of {@link diffuse}.
 * @param screen v1, v2 − v1, v3 − v2, v2: four numbers of 16 bits, full ink being 32,640
 */
export function ordered(
  inks: usize,
  words: i32,
  maskRow: usize,
  screen: usize,
  out: usize,
  plane: usize,
  counts: usize,
  cells: usize,
): void {
  const s1 = i16x8.splat(load<i16>(screen));
  const s2 = i16x8.splat(load<i16>(screen, 2));
  const s3 = i16x8.splat(load<i16>(screen, 4));
  const v2 = i16x8.splat(load<i16>(screen, 6));
  const zero = i16x8.splat(0);
  const low = i16x8.splat(0x5555);
  let c1 = zero;
  let c2 = zero;
  let c3 = zero;
  let x = 0;
  for (let word = 0; word < words; word++) {
    let acc = zero;
    for (let i = 0; i < 8; i++) {
      const ink = i16x8.shl(i16x8.extend_low_i8x16_u(v128.load64_zero(inks + ((<usize>x) << 3))), 7);
      const threshold = v128.load(maskRow + ((<usize>(x & 63)) << 4));
      const m1 = i16x8.gt_s(ink, i16x8.q15mulr_sat_s(s1, threshold));
      const m2 = i16x8.gt_s(ink, i16x8.add(s1, i16x8.q15mulr_sat_s(s2, threshold)));
      const m3 = i16x8.gt_s(ink, i16x8.add(v2, i16x8.q15mulr_sat_s(s3, threshold)));
      acc = i16x8.sub(i16x8.shl(acc, 2), i16x8.add(i16x8.add(m1, m2), m3));
      x++;
    }
    writeWord(out + ((<usize>word) << 1), plane, swapped(acc));
    const odd = v128.and(acc, low);
    const even = v128.and(i16x8.shr_u(acc, 1), low);
    const n1 = bitsSet(v128.or(odd, even));
    const n2 = bitsSet(even);
    const n3 = bitsSet(v128.and(odd, even));
    c1 = i16x8.add(c1, n1);
    c2 = i16x8.add(c2, n2);
    c3 = i16x8.add(c3, n3);
    // In the same parts as of error diffusion: an eighth.
    const ink = i16x8.add(
      i16x8.add(i16x8.mul(n1, i16x8.shr_s(s1, 3)), i16x8.mul(n2, i16x8.shr_s(s2, 3))),
      i16x8.mul(n3, i16x8.shr_s(s3, 3)),
    );
    addInk(cells + ((<usize>(word >> 1)) << 5), ink);
    if ((word & 4095) == 4095) {
      addCounts(counts, c1, c2, c3);
      c1 = zero;
      c2 = zero;
      c3 = zero;
    }
  }
  addCounts(counts, c1, c2, c3);
}

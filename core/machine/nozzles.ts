import { DOSE_WINDOW } from '../care/exercise.ts';
import { type ChannelFaults, NOZZLE_FAULTS, type NozzleFault } from '../heads/nozzleFaults.ts';
import type { Random } from '../random.ts';

/** What ink does in the nozzles of one channel while it is not fired. Instants in ms. */
export interface ChannelWear {
  /** When it was last fired. */
  readonly firedMs: number;
  /** Up to when its idle time is counted. */
  readonly wornMs: number;
  /** Expected clogs gathered since it was last clean … */
  readonly strain: number;
  /** … and at how many of them the next nozzle clogs. */
  readonly nextAt: number;
  /** Numbers of clogged nozzles, in the order in which they clogged. */
  readonly clogged: readonly number[];
  /** Since when each of them is; missing in what an earlier version has noted. */
  readonly cloggedMs?: readonly number[];
  /** What each of them does instead of firing well; missing in what an earlier version has noted: nothing. */
  readonly kinds?: readonly NozzleFault[];
  /** What it fired lately, by slots of time: small doses add up to one that exercises it. */
  readonly lately?: readonly { readonly slot: number; readonly ml: number }[];
  /** When its pigment was last stirred. */
  readonly stirredMs?: number;
}

export interface ChannelBuild {
  readonly nozzles: number;
  /** How long it may stand (ms). */
  readonly idleLimitMs: number;
  /** Pigment that sinks: it clogs twice as fast. */
  readonly settles: boolean;
  /** Ink that exercises it within a tenth of its idle limit (ml). */
  readonly exerciseMl: number;
}

/** Share of the nozzles that clog within one idle limit, per square of idle limits beyond the first half of one. */
const CLOG_SHARE = 0.01;
const FRESH_SHARE = 0.5;
const SETTLING_FACTOR = 2;

/** A channel that has just fired: nothing is clogged, and the first clog is drawn by chance. */
export function freshWear(firedMs: number, random: Random): ChannelWear {
  return { firedMs, wornMs: firedMs, strain: 0, nextAt: gap(random), clogged: [] };
}

/** Exponential: clogs come singly, at any time, as likely after one as before it. */
function gap(random: Random): number {
  return -Math.log(1 - random());
}

/**
 * Lets time pass without the channel being fired. Nothing clogs while it is fresh; from half of its idle limit on the chance
 * grows with the square of the time beyond. The same seed clogs the same nozzles at the same instants, however the time is sliced.
 * @param nowMs not before `wornMs`
 */
export function idle(wear: ChannelWear, build: ChannelBuild, nowMs: number, random: Random): ChannelWear {
  if (nowMs <= wear.wornMs) return wear;
  const beyond = (ms: number): number => Math.max(0, (ms - wear.firedMs) / build.idleLimitMs - FRESH_SHARE) ** 3 / 3;
  const factor = CLOG_SHARE * build.nozzles * (build.settles ? SETTLING_FACTOR : 1);
  const strain = wear.strain + factor * (beyond(nowMs) - beyond(wear.wornMs));
  let { nextAt } = wear;
  const clogged = [...wear.clogged];
  const cloggedMs = [...(wear.cloggedMs ?? wear.clogged.map(() => wear.wornMs))];
  const kinds = [...kindsOf(wear)];
  while (strain >= nextAt && clogged.length < build.nozzles) {
    let nozzle = Math.floor(random() * build.nozzles);
    while (clogged.includes(nozzle)) nozzle = (nozzle + 1) % build.nozzles;
    clogged.push(nozzle);
    cloggedMs.push(nowMs);
    kinds.push(kindOf(random()));
    nextAt += gap(random);
  }
  return { ...wear, wornMs: nowMs, strain, nextAt, clogged, cloggedMs, kinds };
}

/** Of ten nozzles that dry up, seven fire nothing any more, two too little, and one beside its place. */
function kindOf(drawn: number): NozzleFault {
  return drawn < 0.7 ? 'missing' : drawn < 0.9 ? 'weak' : 'crooked';
}

function kindsOf({ clogged, kinds }: ChannelWear): readonly NozzleFault[] {
  return kinds ?? clogged.map(() => 'missing' as const);
}

/** What is wrong with its nozzles, by their numbers. */
export function faultsOf(wear: ChannelWear): ChannelFaults {
  const kinds = kindsOf(wear);
  const of = (fault: NozzleFault): number[] => wear.clogged.filter((_, i) => kinds[i] === fault).sort((a, b) => a - b);
  return { missing: of('missing'), weak: of('weak'), crooked: of('crooked') };
}

/** The same channel with nozzles that are not well already. */
export function withFaults(wear: ChannelWear, faults: ChannelFaults): ChannelWear {
  const all = NOZZLE_FAULTS.flatMap((fault) => faults[fault].map((n) => ({ n, fault })));
  return {
    ...wear,
    clogged: all.map(({ n }) => n),
    cloggedMs: all.map(() => wear.wornMs),
    kinds: all.map(({ fault }) => fault),
  };
}

/** The channel was exercised until now: its idle time begins anew; what is clogged stays so until it is cleaned. */
export function fired(wear: ChannelWear, nowMs: number): ChannelWear {
  return { ...wear, firedMs: nowMs, wornMs: nowMs };
}

/** A thorough clean by hand opens every nozzle. */
export function cleaned(wear: ChannelWear, nowMs: number): ChannelWear {
  return { ...fired(wear, nowMs), clogged: [], cloggedMs: [], kinds: [] };
}

/** Slots in which doses are kept, in one window of them. */
const SLOTS = 20;

/**
 * The channel fires some ink. Only doses that add up to its exercise dose within a tenth of its idle limit make it fresh: a
 * few drops do not.
 */
export function dosed(wear: ChannelWear, build: ChannelBuild, ml: number, nowMs: number): ChannelWear {
  const slotMs = (build.idleLimitMs * DOSE_WINDOW) / SLOTS;
  const slot = Math.floor(nowMs / slotMs);
  const kept = (wear.lately ?? []).filter((each) => each.slot > slot - SLOTS);
  const last = kept.at(-1);
  const lately = last?.slot === slot ? [...kept.slice(0, -1), { slot, ml: last.ml + ml }] : [...kept, { slot, ml }];
  const sum = lately.reduce((total, each) => total + each.ml, 0);
  return { ...(sum >= build.exerciseMl ? fired(wear, nowMs) : wear), lately };
}

/** How likely a clean opens a nozzle that has just clogged … */
const OPENS = { light: 0.75, deep: 0.93 } as const;
/** … and draws air in where everything was well. */
const AIR = { light: 0.02, deep: 0.06 } as const;

/**
 * A clean by the device: each clogged nozzle opens by chance, the less likely the longer it has been clogged (by idle limits);
 * now and then air is drawn in and a few others fail.
 */
export function machineCleaned(
  wear: ChannelWear,
  build: ChannelBuild,
  strength: keyof typeof OPENS,
  nowMs: number,
  random: Random,
): ChannelWear {
  const since = wear.cloggedMs ?? wear.clogged.map(() => wear.wornMs);
  const stays = wear.clogged.map((_, i) => {
    const age = (nowMs - (since[i] ?? nowMs)) / build.idleLimitMs;
    return random() >= OPENS[strength] * Math.exp(-age / 2);
  });
  const clogged = wear.clogged.filter((_, i) => stays[i]);
  const cloggedMs = since.filter((_, i) => stays[i]);
  const kinds = kindsOf(wear).filter((_, i) => stays[i]);
  if (random() < AIR[strength]) {
    for (let i = 0; i < 3 && clogged.length < build.nozzles; i += 1) {
      let nozzle = Math.floor(random() * build.nozzles);
      while (clogged.includes(nozzle)) nozzle = (nozzle + 1) % build.nozzles;
      clogged.push(nozzle);
      cloggedMs.push(nowMs);
      kinds.push('missing');
    }
  }
  return { ...fired(wear, nowMs), clogged, cloggedMs, kinds };
}

/** The pigment is in motion again. */
export function stirred(wear: ChannelWear, nowMs: number): ChannelWear {
  return { ...wear, stirredMs: nowMs };
}

/** How much of a settling pigment has sunk, 0 … 1: all of it after its idle limit. */
export function settledShare(wear: ChannelWear, build: ChannelBuild, nowMs: number): number {
  return build.settles
    ? Math.min(1, Math.max(0, (nowMs - Math.max(wear.firedMs, wear.stirredMs ?? 0)) / build.idleLimitMs))
    : 0;
}

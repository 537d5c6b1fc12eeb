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
}

export interface ChannelBuild {
  readonly nozzles: number;
  /** How long it may stand (ms). */
  readonly idleLimitMs: number;
  /** Pigment that sinks: it clogs twice as fast. */
  readonly settles: boolean;
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
  while (strain >= nextAt && clogged.length < build.nozzles) {
    let nozzle = Math.floor(random() * build.nozzles);
    while (clogged.includes(nozzle)) nozzle = (nozzle + 1) % build.nozzles;
    clogged.push(nozzle);
    nextAt += gap(random);
  }
  return { ...wear, wornMs: nowMs, strain, nextAt, clogged };
}

/** The channel has fired until now: its idle time begins anew; what is clogged stays so until it is cleaned. */
export function fired(wear: ChannelWear, nowMs: number): ChannelWear {
  return { ...wear, firedMs: nowMs, wornMs: nowMs };
}

/** A thorough clean by hand opens every nozzle. */
export function cleaned(wear: ChannelWear, nowMs: number): ChannelWear {
  return { ...fired(wear, nowMs), clogged: [] };
}

/** How much of a settling pigment has sunk, 0 … 1: all of it after its idle limit. */
export function settledShare(wear: ChannelWear, build: ChannelBuild, nowMs: number): number {
  return build.settles ? Math.min(1, Math.max(0, (nowMs - wear.firedMs) / build.idleLimitMs)) : 0;
}

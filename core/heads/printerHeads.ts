import { type ChannelHeads, type Fitness, type ModeAsks, modeFitness } from './fitness.ts';
import type { PlotPrinter } from './checkPlot.ts';
import { brightnessOf } from './grounds.ts';
import { type ChannelFaults, NO_FAULTS, faultsText } from './nozzleFaults.ts';

/** What is asked of nozzles where nobody has said anything else of a printer or mode. */
export const PLAIN_FITNESS = { classShare: 0.5, channelShare: 0.95, mostColumns: 2, mostBadShare: 0.005 } as const;

interface ModeLike {
  readonly id: string;
  readonly name: string;
  readonly dpiX: number;
  readonly dpiY: number;
  readonly passes: number;
  readonly classShare: number;
  readonly mostColumns: number;
  readonly mostBadShare: number;
}

interface ChannelLike {
  readonly id: string;
  readonly name: string;
  readonly heads: number;
  readonly colour: string;
}

/** A printer as far as its nozzles go. */
export interface HeadsConfig {
  readonly head: 'carriage' | 'page-wide';
  readonly printableWidthMm: number;
  readonly channels: readonly ChannelLike[];
  readonly modes: readonly ModeLike[];
  readonly machine: { readonly nozzlesPerChannel: number; readonly nozzlesPerInch: number; readonly bars: number };
  readonly care: { readonly channelShare: number };
}

/** Faults of a printer's nozzles by channel; a channel that is left out prints well, or was never looked at. */
export type FaultsByChannel = Readonly<Record<string, ChannelFaults>>;

/** The nozzles of a channel. */
export function channelHeads({ head, machine }: HeadsConfig, { heads }: Pick<ChannelLike, 'heads'>): ChannelHeads {
  const { nozzlesPerChannel: nozzles, nozzlesPerInch, bars } = machine;
  return { head, heads, nozzles, nozzlesPerInch, bars };
}

/** What a mode of a printer asks of nozzles. */
export function modeAsks({ care }: HeadsConfig, mode: ModeLike): ModeAsks {
  const { dpiX, dpiY, passes, classShare, mostColumns, mostBadShare: mostShare } = mode;
  return { dpiX, dpiY, passes, classShare, mostColumns, mostShare, channelShare: care.channelShare };
}

/** Why channels can't print in each mode of a printer, by mode and channel; what is left out can. */
export type UnfitModes = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** Which channels are not fit for which modes, with the figure that decides. */
export function unfitModes(config: HeadsConfig, faults: FaultsByChannel): UnfitModes {
  const unfit: Record<string, Record<string, string>> = {};
  for (const mode of config.modes) {
    for (const channel of config.channels) {
      const own = faults[channel.id];
      if (!own) continue;
      const fitness = modeFitness(channelHeads(config, channel), modeAsks(config, mode), own);
      if (!fitness.fit) (unfit[mode.id] ??= {})[channel.id] = `${faultsText(own)}; ${unfitText(fitness)}`;
    }
  }
  return unfit;
}

/** Channels that a run fires and that are not fit for its mode, with the reason. */
export function unfitFor(
  unfit: UnfitModes,
  { modeId, inkMl }: { readonly modeId: string; readonly inkMl: Readonly<Record<string, number>> },
): { readonly channelId: string; readonly text: string }[] {
  return Object.entries(unfit[modeId] ?? {}).flatMap(([channelId, text]) =>
    (inkMl[channelId] ?? 0) > 0 ? [{ channelId, text }] : [],
  );
}

function percent(share: number): string {
  return `${String(Math.round(share * 10_000) / 100)} %`;
}

/** The figure that makes a channel unfit, in words. */
export function unfitText({ why }: Extract<Fitness, { fit: false }>): string {
  switch (why.code) {
    case 'class':
      return `of the ${String(why.of)} nozzles for one line ${String(why.kept)} are left, ${String(Math.round(why.needs * 100) / 100)} needed`;
    case 'channel':
      return `${percent(why.share)} of it fires, ${percent(why.needs)} needed`;
    case 'streak':
      return `${String(why.columns)} columns side by side are missing at ${String(Math.round(why.fromMm))} mm, in bar ${String(why.bar + 1)}: a streak`;
    case 'share':
      return `${percent(why.share)} of the columns near ${String(Math.round(why.fromMm))} mm are missing, ${percent(why.most)} at most`;
  }
}

/** Ink that shows on dark media only: as bright as paper. */
const PALE_FROM = 0.85;
/** Media that is darker shows pale ink only. */
const DARK_BELOW = 0.4;

/** Whether an ink shows on dark media only. */
export function isPale({ colour }: Pick<ChannelLike, 'colour'>): boolean {
  return brightnessOf(colour) >= PALE_FROM;
}

/** Channels whose check shows on a stock: clear media is held against light or dark. */
export function channelsThatShow(
  channels: readonly ChannelLike[],
  stock: { readonly colour: string; readonly clear: boolean },
): string[] {
  const dark = brightnessOf(stock.colour) < DARK_BELOW;
  return channels.filter((channel) => stock.clear || isPale(channel) === dark).map(({ id }) => id);
}

/** A printer as its check plot needs it. @param only channels that are printed; left out: all */
export function plotPrinter(
  id: string,
  config: Pick<HeadsConfig, 'head' | 'printableWidthMm' | 'channels' | 'machine'>,
  only?: readonly string[],
): PlotPrinter {
  const { nozzlesPerChannel: nozzles, nozzlesPerInch, bars } = config.machine;
  return {
    id,
    head: config.head,
    printableWidthMm: config.printableWidthMm,
    nozzles,
    nozzlesPerInch,
    bars,
    channels: config.channels.map((channel) => ({
      id: channel.id,
      heads: channel.heads,
      colour: channel.colour,
      pale: isPale(channel),
    })),
    ...(only ? { only } : {}),
  };
}

/** The ink that marks are printed with: the darkest. */
export function markInk(config: Pick<HeadsConfig, 'channels'>): string {
  const [darkest] = [...config.channels].sort((a, b) => brightnessOf(a.colour) - brightnessOf(b.colour));
  return darkest?.colour ?? '#000000';
}

/** The head, or the bar of an array, that a nozzle belongs to. */
export function headOf(config: HeadsConfig, n: number): number {
  const { nozzlesPerChannel, bars } = config.machine;
  if (config.head === 'carriage') return Math.floor(n / nozzlesPerChannel);
  return Math.min(bars - 1, Math.floor((n / nozzlesPerChannel) * bars));
}

/** The faults of a channel after a check: nozzles of which it says nothing stay as they were known. */
export function afterCheck(
  before: ChannelFaults | undefined,
  found: ChannelFaults & { readonly unjudged: readonly number[] },
): ChannelFaults {
  const old = before ?? NO_FAULTS;
  const kept = new Set(found.unjudged);
  const of = (fault: 'missing' | 'weak' | 'crooked'): number[] =>
    [...found[fault].filter((n) => !kept.has(n)), ...old[fault].filter((n) => kept.has(n))].sort((a, b) => a - b);
  return { missing: of('missing'), weak: of('weak'), crooked: of('crooked') };
}

/** Nozzles that print less than they did: missing or weak now, and neither before. */
export function newClogs(before: ChannelFaults | undefined, now: ChannelFaults): number {
  const known = new Set([...(before?.missing ?? []), ...(before?.weak ?? [])]);
  return [...now.missing, ...now.weak].filter((n) => !known.has(n)).length;
}

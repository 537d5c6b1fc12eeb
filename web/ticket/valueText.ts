import { exactText as mm } from '../ui/text/lengths.ts';
import { counted } from '../ui/text/counted.ts';
import { dayText } from '../app/shopTime.ts';
import { type ContourRule, cutLineText } from '../../core/contour/contourRule.ts';
import type { ChannelCurve } from '../../core/coats/curves.ts';
import type { ArtworkRule } from '../../core/coats/artworkProfiles.ts';
import { PLAIN_TONE, type Tone } from '../../core/coats/tone.ts';
import type { TileRule } from '../../core/layout/arrange/tiles.ts';
import type { TicketKey } from '../../core/ticket/ticket.ts';

/** What a person calls modes and stocks. */
export interface Names {
  readonly modes: ReadonlyMap<string, string>;
  readonly stocks: ReadonlyMap<string, string>;
  readonly zone: string;
}

interface Shape {
  readonly kind?: string;
  readonly widthMm?: number | null;
  readonly heightMm?: number | null;
  readonly lengthMm?: number;
  readonly mm?: number;
  readonly days?: number;
  readonly x?: number;
  readonly y?: number;
  readonly name?: string;
  readonly names?: readonly string[];
}

/** What holds where a value is left open. */
const UNSAID: Readonly<Partial<Record<TicketKey, string>>> = {
  bleedMm: 'as in the file',
  contour: 'its rectangle',
  heaterC: 'as it stands',
  profile: 'that of the mode',
};

/** A ticket value in words. */
export function valueText(key: TicketKey, value: unknown, names: Names): string {
  if (value === null || value === undefined) return UNSAID[key] ?? 'none';
  if (key === 'tone') return toneText(value as Tone);
  if (key === 'artwork') return artworkText(value as ArtworkRule);
  if (key === 'curves') return (value as ChannelCurve[]).map(({ channel }) => channel).join(', ') || 'none';
  if (key === 'tiles') return tilesText(value as TileRule);
  if (key === 'contour') return contourText(value as ContourRule);
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (typeof value === 'string') {
    if (key === 'modeId') return names.modes.get(value) ?? value;
    return key === 'stockId' ? (names.stocks.get(value) ?? value) : value;
  }
  if (typeof value === 'number') {
    if (key === 'dueMs') return dayText(value, names.zone);
    if (key === 'bleedMm') return mm(value);
    if (key === 'latePerHMinor') return `${(value / 100).toFixed(2)} an hour`;
    if (key === 'dryMin') return `${String(value)} min`;
    if (key === 'heaterC') return `${String(value)} °C`;
    if (key === 'inkLimit') return `${String(Math.round(value * 100))} %`;
    return key === 'turn' ? `${String(value)}°` : String(value);
  }
  if (Array.isArray(value)) return value.length === 0 ? 'none' : String(value.length);
  return shapeText(value);
}

/** What of the profiles of artwork is not as it would be. */
function artworkText({ embedded, rgb, cmyk }: ArtworkRule): string {
  const parts = [
    embedded ? '' : 'not those of files',
    rgb === null ? '' : `RGB ${rgb}`,
    cmyk === null ? '' : `CMYK ${cmyk}`,
  ];
  return parts.filter((part) => part !== '').join(', ') || 'those of files';
}

/** What of a tone is not as it came. */
function toneText(tone: Tone): string {
  const parts = (['brightness', 'contrast', 'gamma', 'saturation'] as const).filter(
    (key) => tone[key] !== PLAIN_TONE[key],
  );
  return parts.map((key) => `${key} ${String(tone[key])}`).join(', ') || 'as it came';
}

function contourText(rule: ContourRule): string {
  const { offsetMm } = rule;
  const off = offsetMm === 0 ? '' : `, ${mm(Math.abs(offsetMm))} ${offsetMm < 0 ? 'inside' : 'outside'}`;
  return `${cutLineText(rule)}${off}`;
}

function tilesText({ cut, panels, joinMm }: TileRule): string {
  const join = joinMm < 0 ? `${mm(-joinMm)} left out` : `${mm(joinMm)} overlap`;
  return `${panels} panels ${cut === 'upright' ? 'side by side' : 'on each other'}, ${join}`;
}

/** A size rule in the words of the ticket. */
function shapeText(shape: Shape): string {
  switch (shape.kind) {
    case 'percent':
      return shape.x === shape.y ? `${String(shape.x)} %` : `${String(shape.x)} × ${String(shape.y)} %`;
    case 'exact':
      return `${shape.widthMm == null ? 'in proportion' : mm(shape.widthMm)} × ${shape.heightMm == null ? 'in proportion' : mm(shape.heightMm)}`;
    case 'within':
      return shape.name ?? 'named size';
    case 'length':
      return `${mm(shape.lengthMm ?? 0)} long`;
    case 'from edge':
    case 'below collar':
      return `${mm(shape.mm ?? 0)} ${shape.kind}`;
    case 'days':
      return `dropped after ${counted(shape.days ?? 0, 'day')}`;
    case 'named':
      return (shape.names ?? []).join(', ');
    case undefined: {
      const sides = Object.values(shape as Record<string, number>);
      return sides.every((side) => side === 0) ? 'none' : sides.map(mm).join(', ');
    }
    default:
      return shape.kind;
  }
}

import type { RectMm } from '../geometry/frame.ts';
import type { Outline } from '../geometry/polygon.ts';
import { turnedSize, wrapDeg } from '../geometry/turn.ts';
import type { Result } from '../result.ts';
import type { PlaceRule } from '../ticket/ticket.ts';
import type { SheetPlaces } from './sheets/sheetPlaces.ts';
import { type LaidOutWith, layoutSpace } from './marks/markSettings.ts';
import type { NestPiece } from './nestPiece.ts';
import { type NestInput, type NestRefusal, type PrintOrder, parseNestRequest } from './nestInput.ts';
import type { Placement } from './nestLayout.ts';
import { type Grain, orientationsOf } from './orientations.ts';
import { behindEdge, placeAcross } from './sheets/placeAcross.ts';
import type { RegisteredEdge, SideReach } from './usableWidth.ts';

/** What may come first on the media, as a person chooses it on the Bench. */
export const RUN_ORDERS = [
  'free',
  'due date first',
  'customer by customer',
  'order by order',
  'job by job',
  'as listed',
] as const;
export type RunOrder = (typeof RUN_ORDERS)[number];

/** A piece as a run holds it, with what its job says of how it may be nested. */
export interface RunNestPiece {
  readonly pieceId: string;
  readonly jobId: string;
  readonly page: number;
  readonly part: string | null;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly quarterTurn: boolean;
  /** Whether it may lie upside down; counts for contours. */
  readonly halfTurn: boolean;
  /** What is printed of it, where it is cut along a contour. */
  readonly outline?: Outline | undefined;
  readonly grain: Grain;
  readonly together: boolean;
  readonly place: PlaceRule;
  readonly dueMs: number | null;
  readonly customer: string | null;
  readonly orderNo: string | null;
  readonly panel: { readonly no: number } | null;
  /** Every second panel lies turned by half. */
  readonly turnEverySecond: boolean;
}

export interface NestRules extends LaidOutWith {
  readonly quarterTurns: boolean;
  readonly order?: RunOrder | undefined;
  /** Jobs as a person put them in order; those not named come behind, as they came. Counts where rows or places are filled. */
  readonly jobOrder?: readonly string[] | undefined;
  /** Pieces with a contour are nested by it. */
  readonly byContour?: boolean | undefined;
  readonly turnStepDeg?: number | null | undefined;
  /** Below zero: printed over the edge of the media. Counted in the usable width already. */
  readonly leftMm?: number | undefined;
  readonly rightMm?: number | undefined;
  readonly straightCuts?: boolean | undefined;
  readonly sheetMm?: number | null | undefined;
  /** Sheets are filled place by place. */
  readonly places?: SheetPlaces | null | undefined;
}

export interface RunNest {
  readonly input: NestInput;
  /** The piece of the run that a placement of the nest stands for, as it lies. */
  readonly place: (placement: Placement) => RunPlace;
}

export interface RunPlace {
  readonly pieceId: string;
  readonly xMm: number;
  readonly yMm: number;
  readonly angleDeg: number;
}

/**
 * A run as a nesting problem. Equal pieces of one page are copies of one, so that they can be kept together.
 * @param usableWidthMm x counts from its left end, so that side margins are in it already
 * @param fixed what is locked, as it lies; not among `pieces`
 */
export function runNest(
  pieces: readonly RunNestPiece[],
  rules: NestRules,
  usableWidthMm: number,
  registeredEdge: RegisteredEdge,
  fixed: readonly RectMm[] = [],
): Result<RunNest, NestRefusal> {
  const { gapXMm, gapYMm, ...space } = layoutSpace(rules);
  const edges = edgesOf(rules, space, usableWidthMm);
  // What is as wide as the media lies over its edges, everything else on it.
  const marginMm = { ...space, leftMm: space.leftMm + edges.leftMm, rightMm: space.rightMm + edges.rightMm };
  const byPage = new Map<string, RunNestPiece[]>();
  for (const piece of inJobOrder(pieces, rules.jobOrder ?? [])) {
    const key = `${piece.jobId}/${String(piece.page)}/${piece.part ?? ''}/${String(piece.widthMm)}/${String(piece.heightMm)}`;
    const same = byPage.get(key);
    if (same) same.push(piece);
    else byPage.set(key, [piece]);
  }
  const shaped = (fixed.length === 0 || rules.sheetMm == null) && pieces.every(({ place }) => place.kind === 'nested');
  const members = new Map<string, readonly RunNestPiece[]>();
  const groups = groupsOf(pieces, rules.order ?? 'free');
  const nestPieces = [...byPage.values()].flatMap((same): NestPiece[] => {
    const [first] = same;
    if (!first) return [];
    members.set(first.pieceId, same);
    const { pieceId: id, widthMm, heightMm, grain, together } = first;
    const held = placeAcross(first.place, registeredEdge, usableWidthMm, widthMm);
    return [
      {
        id,
        widthMm,
        heightMm,
        copies: same.length,
        quarterTurn: first.quarterTurn && rules.quarterTurns,
        grain,
        together,
        // Where pieces are held, and around what is locked on sheets, rectangles are packed.
        ...(shaped ? byContour(first, rules) : {}),
        group: groups.get(first.jobId) ?? 0,
        ...(held ? { held: behindEdge(held, marginMm.leftMm) } : {}),
        ...(held ? {} : acrossEdges(first, rules, edges)),
      },
    ];
  });
  const parsed = parseNestRequest({
    widthMm: usableWidthMm,
    gapMm: { x: gapXMm, y: gapYMm },
    marginMm,
    fixed,
    pieces: nestPieces,
    order: printOrder(rules.order ?? 'free'),
    straightCuts: rules.straightCuts ?? false,
    ...(rules.sheetMm == null ? {} : { sheetMm: rules.sheetMm, ...(rules.places ? { places: rules.places } : {}) }),
  });
  if (!parsed.ok) return parsed;
  return {
    ok: true,
    value: {
      input: parsed.value,
      place: ({ id, copy, xMm, yMm, angleDeg }) => {
        const piece = members.get(id)?.[copy];
        if (!piece) throw new Error(`copy ${String(copy)} of ${id} was never given`);
        const half = piece.turnEverySecond && piece.panel !== null && piece.panel.no % 2 === 0;
        const { widthMm } = turnedSize(piece.widthMm, piece.heightMm, angleDeg);
        const spans = edges.over && widthMm > edges.roomMm + 1e-6;
        return {
          pieceId: piece.pieceId,
          xMm: spans ? (usableWidthMm - widthMm) / 2 : xMm,
          yMm,
          angleDeg: wrapDeg(angleDeg + (half ? 180 : 0)),
        };
      },
    },
  };
}

/** The media between its edges, and what may be printed over them. */
interface Edges extends SideReach {
  /** Whether anything may. */
  readonly over: boolean;
  readonly roomMm: number;
}

function edgesOf({ leftMm = 0, rightMm = 0 }: NestRules, space: SideReach, usableWidthMm: number): Edges {
  const [left, right] = [Math.max(0, -leftMm), Math.max(0, -rightMm)];
  return {
    leftMm: left,
    rightMm: right,
    // Marks along the sides need an edge that is not printed over.
    over: left + right > 0 && space.leftMm + space.rightMm === 0,
    roomMm: usableWidthMm - left - right,
  };
}

/** A piece that spans the media and its edges lies across it, and is nested as wide as the media. */
function acrossEdges(
  piece: RunNestPiece,
  { quarterTurns }: NestRules,
  { over, roomMm, leftMm, rightMm }: Edges,
): Partial<NestPiece> {
  const spanning = orientationsOf({ ...piece, quarterTurn: piece.quarterTurn && quarterTurns }).find(
    ({ widthMm }) => widthMm > roomMm + 1e-6 && widthMm <= roomMm + leftMm + rightMm + 1e-6,
  );
  if (!over || !spanning) return {};
  return spanning.angleDeg === 0
    ? { widthMm: roomMm, quarterTurn: false, grain: 'free', outline: undefined }
    : { heightMm: roomMm, grain: 'across', outline: undefined };
}

function byContour(
  { outline, halfTurn }: RunNestPiece,
  rules: NestRules,
): Pick<NestPiece, 'outline' | 'halfTurn' | 'turnStepDeg'> {
  if (rules.byContour !== true || rules.places || !outline) return {};
  return { outline, halfTurn, ...(rules.turnStepDeg == null ? {} : { turnStepDeg: rules.turnStepDeg }) };
}

function printOrder(order: RunOrder): PrintOrder {
  if (order === 'free') return 'free';
  return order === 'as listed' ? 'given' : 'groups';
}

/** Pieces by the order of their jobs; those of one job stay as they are. */
export function inJobOrder<P extends { readonly jobId: string }>(
  pieces: readonly P[],
  jobOrder: readonly string[],
): readonly P[] {
  if (jobOrder.length === 0) return pieces;
  const rank = new Map(jobOrder.map((jobId, i) => [jobId, i]));
  const rankOf = ({ jobId }: P): number => rank.get(jobId) ?? jobOrder.length;
  return [...pieces].sort((a, b) => rankOf(a) - rankOf(b));
}

/** Number of each job's group; what has no due date, customer or order comes last. */
function groupsOf(pieces: readonly RunNestPiece[], order: RunOrder): Map<string, number> {
  const value: Partial<Record<RunOrder, (piece: RunNestPiece) => string | number | null>> = {
    'due date first': ({ dueMs }) => dueMs,
    'customer by customer': ({ customer }) => customer,
    'order by order': ({ orderNo }) => orderNo,
    'job by job': ({ jobId }) => jobId,
  };
  const of = value[order];
  if (!of) return new Map();
  const values = [...new Set(pieces.map(of))];
  if (order === 'due date first') values.sort((a, b) => Number(a ?? Infinity) - Number(b ?? Infinity));
  const known = [...values.filter((each) => each !== null), null];
  return new Map(pieces.map((piece) => [piece.jobId, known.indexOf(of(piece))]));
}

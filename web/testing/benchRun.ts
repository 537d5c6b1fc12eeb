import type { RunPiece } from '../../contract/api/run.ts';
import type { RunDetail } from '../api/data.ts';

export const BENCH_SETTINGS = { gapMm: 5, leftMm: 10, rightMm: 10, leadMm: 20, trailMm: 20, quarterTurns: true };

/** A piece of a draft, for tests of the Bench. */
export function benchPiece(id: string, widthMm: number, heightMm: number, change: Partial<RunPiece> = {}): RunPiece {
  return {
    pieceId: id,
    jobId: 'job-1',
    sourceName: `${id}.pdf`,
    page: 0,
    copy: 0,
    part: null,
    panel: null,
    turnEverySecond: false,
    place: { kind: 'nested' },
    look: '',
    widthMm,
    heightMm,
    bleed: { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 },
    quarterTurn: true,
    halfTurn: true,
    contour: null,
    grain: 'free',
    together: false,
    dueMs: null,
    customer: null,
    orderNo: null,
    xMm: 0,
    yMm: 0,
    angleDeg: 0,
    placed: false,
    locked: false,
    state: 'placed',
    ...change,
  };
}

/** A draft on media of one metre. */
export function benchRun(pieces: RunPiece[]): RunDetail {
  return {
    id: 'run-1',
    state: 'draft',
    settings: BENCH_SETTINGS,
    mediaWidthMm: 1000,
    usableWidthMm: 980,
    usableFromMm: 10,
    pieces,
  } as unknown as RunDetail;
}

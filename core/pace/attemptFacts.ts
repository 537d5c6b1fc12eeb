import { shareOut } from '../estimate/money.ts';
import { type Amounts, type Fact, NL_PER_ML, type Quantity } from './quantities.ts';

/** A piece of an attempt and what became of it. Lengths mm. */
export interface AttemptPiece {
  readonly jobId: string;
  readonly areaMm2: number;
  /** How far along the run it reaches. */
  readonly endMm: number;
  readonly outcome: 'good' | 'spoiled' | 'not whole';
}

/** A job with pieces in the attempt, and what of its cost and ink it bears. */
export interface AttemptJob {
  readonly id: string;
  readonly customer: string;
  /** Of media and time: the area of its pieces. */
  readonly areaMm2: number;
  /** Of ink: what its pieces ask for. */
  readonly inkWeight: number;
  /** What each of its pieces brings (micro-units); null: nobody has said. */
  readonly pieceMicro: number | null;
}

/** One time that a run was on a printer, as it was written down. */
export interface AttemptRecord {
  readonly runId: string;
  readonly attempt: number;
  readonly coat: number;
  readonly printerId: string;
  readonly stockId: string;
  readonly queueId: string;
  readonly modeId: string;
  readonly outcome: 'printed' | 'failed' | 'cancelled';
  readonly startedMs: number;
  readonly endedMs: number;
  readonly pausedMs: number;
  readonly aloneMs: number;
  readonly estimateMs: number;
  readonly mediaWidthMm: number;
  readonly leadMm: number;
  readonly trailMm: number;
  /** Printed, and fed with the trailer. */
  readonly lengthMm: number;
  readonly fedMm: number;
  /** Fired, and estimated for all pieces when it was laid out. */
  readonly inkMl: number;
  readonly plannedInkMl: number;
  readonly inkMicro: number;
  readonly mediaMicroPerMm2: number;
  readonly microPerMs: number;
  readonly isChangeOver: boolean;
  readonly pieces: readonly AttemptPiece[];
  readonly jobs: readonly AttemptJob[];
}

/** Media of an attempt by what it was fed for; the parts bring exactly what was fed. All mm². */
export function mediaParts(
  record: AttemptRecord,
): Pick<
  Record<Quantity, number>,
  'goodMm2' | 'wholeMm2' | 'fedMm2' | 'leadMm2' | 'nestMm2' | 'faultMm2' | 'spoiledMm2'
> {
  const { outcome, mediaWidthMm: width, leadMm, trailMm, lengthMm, fedMm, pieces } = record;
  const areaOf = (which: AttemptPiece['outcome']): number =>
    Math.round(pieces.reduce((sum, piece) => (piece.outcome === which ? sum + piece.areaMm2 : sum), 0));
  const fedMm2 = Math.round(fedMm * width);
  const goodMm2 = Math.min(fedMm2, areaOf('good'));
  const spoiledMm2 = Math.min(fedMm2 - goodMm2, areaOf('spoiled'));
  const whole = goodMm2 + spoiledMm2;
  // Of a run that failed, nothing is owed beyond its last whole piece; of one that was printed, its trail and its trailer.
  const lastMm = Math.max(0, ...pieces.map((piece) => (piece.outcome === 'not whole' ? 0 : piece.endMm)));
  const trailerMm = Math.max(0, fedMm - lengthMm);
  const wanted = outcome === 'printed' ? (leadMm + trailMm + trailerMm) * width : Math.min(leadMm, lastMm) * width;
  const leadMm2 = Math.round(Math.min(Math.max(0, fedMm2 - whole), wanted));
  const beyond = outcome === 'printed' ? 0 : Math.round(Math.max(0, fedMm - lastMm) * width);
  const faultMm2 = Math.min(fedMm2 - whole - leadMm2, beyond);
  return {
    fedMm2,
    goodMm2,
    spoiledMm2,
    wholeMm2: whole,
    leadMm2,
    faultMm2,
    nestMm2: fedMm2 - whole - leadMm2 - faultMm2,
  };
}

/**
 * Ink of work in pieces that are not good (nl): the share of spoiled ones; of a run that ended early all that was fired beyond what its
 * good pieces were estimated to take.
 */
function lostNl({ pieces, outcome, inkMl, plannedInkMl }: AttemptRecord): number {
  const areaOf = (which: AttemptPiece['outcome']): number =>
    pieces.reduce((sum, piece) => (piece.outcome === which ? sum + piece.areaMm2 : sum), 0);
  const all = pieces.reduce((sum, { areaMm2 }) => sum + areaMm2, 0);
  if (all <= 0) return Math.round(inkMl * NL_PER_ML);
  const lostMl =
    outcome === 'printed' ? inkMl * (areaOf('spoiled') / all) : inkMl - plannedInkMl * (areaOf('good') / all);
  return Math.round(Math.min(inkMl, Math.max(0, lostMl)) * NL_PER_ML);
}

/**
 * The facts of one attempt, one for each job with pieces in it: what is of the run as a whole is shared out by area, ink by what each
 * job's pieces ask for, cost by what it bears, so that the shares bring exactly the whole. A run of no known job has one fact.
 */
export function attemptFacts(record: AttemptRecord): Fact[] {
  const { runId, attempt, coat, startedMs, endedMs, pausedMs, outcome, inkMl, inkMicro } = record;
  const runMs = Math.max(0, endedMs - startedMs - pausedMs);
  const media = mediaParts(record);
  const printed = outcome === 'printed';
  const mediaMicro = media.fedMm2 * record.mediaMicroPerMm2;
  const timeMicro = runMs * record.microPerMs;
  const byArea: Amounts = {
    runMs,
    runAloneMs: Math.min(runMs, Math.round(record.aloneMs)),
    estimateMs: printed ? Math.round(record.estimateMs) : 0,
    actualMs: printed ? runMs : 0,
    fedMm2: media.fedMm2,
    leadMm2: media.leadMm2,
    nestMm2: media.nestMm2,
    faultMm2: media.faultMm2,
    lostNl: lostNl(record),
  };
  const byInk: Amounts = { workNl: Math.round(inkMl * NL_PER_ML) };
  const costMicro = Math.round(mediaMicro + timeMicro + inkMicro);
  const jobs =
    record.jobs.length > 0
      ? [...record.jobs].sort((a, b) => (a.id < b.id ? -1 : 1))
      : [{ id: '', customer: '', areaMm2: 1, inkWeight: 1, pieceMicro: null }];
  const areas = jobs.reduce((sum, { areaMm2 }) => sum + areaMm2, 0);
  const inks = jobs.reduce((sum, { inkWeight }) => sum + inkWeight, 0);
  const shares = (total: number, weight: (job: AttemptJob) => number): Map<string, number> =>
    shareOut(
      total,
      jobs.map((job) => ({ id: job.id, weight: weight(job) })),
    );
  const areaShare = (job: AttemptJob): number => (areas > 0 ? job.areaMm2 / areas : 1 / jobs.length);
  const inkShare = (job: AttemptJob): number => (inks > 0 ? job.inkWeight / inks : areaShare(job));
  const parted = new Map<Quantity, Map<string, number>>();
  for (const [name, total] of Object.entries(byArea)) parted.set(name as Quantity, shares(total, areaShare));
  for (const [name, total] of Object.entries(byInk)) parted.set(name as Quantity, shares(total, inkShare));
  const bears = (job: AttemptJob): number => (mediaMicro + timeMicro) * areaShare(job) + inkMicro * inkShare(job);
  parted.set('costMicro', shares(costMicro, bears));
  // Areas of pieces are the jobs' own, brought to the whole of the attempt.
  const own =
    (which: AttemptPiece['outcome']) =>
    (job: AttemptJob): number =>
      record.pieces.reduce(
        (sum, each) => (each.jobId === job.id && each.outcome === which ? sum + each.areaMm2 : sum),
        0,
      );
  parted.set('goodMm2', shares(media.goodMm2, own('good')));
  parted.set('spoiledMm2', shares(media.spoiledMm2, own('spoiled')));
  return jobs.map((job, i): Fact => {
    const amounts: Amounts = {};
    for (const [name, by] of parted) amounts[name] = by.get(job.id) ?? 0;
    const pieces = record.pieces.filter(({ jobId, outcome: came }) => jobId === job.id && came === 'good').length;
    amounts.wholeMm2 = (amounts.goodMm2 ?? 0) + (amounts.spoiledMm2 ?? 0);
    amounts.pieces = pieces;
    if (job.pieceMicro !== null) {
      amounts.priceMicro = Math.round(job.pieceMicro * pieces);
      amounts.pricedCostMicro = amounts.costMicro ?? 0;
    }
    // A run counts once, with the first of its jobs.
    if (i === 0) {
      amounts.runs = 1;
      amounts.failedRuns = printed ? 0 : 1;
      amounts.changeOvers = record.isChangeOver ? 1 : 0;
    }
    return {
      id: `attempt/${runId}/${String(attempt)}/${String(coat)}/${job.id}`,
      kind: 'attempt',
      fromMs: startedMs,
      toMs: endedMs,
      printerId: record.printerId,
      stockId: record.stockId,
      queueId: record.queueId,
      modeId: record.modeId,
      customer: job.customer,
      runId,
      jobId: job.id,
      amounts,
    };
  });
}

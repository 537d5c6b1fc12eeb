import type { MachineRun } from '../../contract/machine/protocol.ts';
import { BAND_ROWS, partCount, partRows } from '../../core/raster/bands.ts';
import { type RenderingWay, mayPrintWhileRendering } from '../../core/raster/whilePrinting.ts';
import { findRun } from '../db/findRows.ts';
import { deviceLink } from '../usecases/device/deviceLink.ts';
import { laidPieces, timeOfRun } from '../usecases/layout/measureRun.ts';
import { type CoatProgress, notedOrder, progressOf, renderParts } from '../usecases/output/coatParts.ts';
import { coatProgress, ensureCoat, renderedCoat } from '../usecases/output/runChannels.ts';
import { printerOf } from '../usecases/run/runRows.ts';
import type { RunRow } from '../usecases/run/transitionRun.ts';
import type { RunHow } from '../ports/work.ts';
import type { CoatOrder } from '../render/channels/renderPart.ts';
import type { RunRendering, RunRenderings } from '../ports/runRenderings.ts';
import { Refused, type Shop } from '../shop.ts';

/** What could not be rendered is tried again so much later (real time). */
const AGAIN_MS = 10_000;
/** A rendering that a printer prints from is looked after so often: room may have been made of it meanwhile. */
const LOOK_AFTER_MS = 5_000;
const HOW = { priority: 'the shop waits' } as const;

/** What a run is sent with in place of its PDF. */
export interface SentDots {
  /** Names the rendering. */
  readonly rendering: string;
  readonly dots: NonNullable<MachineRun['dots']>;
}

interface Rendering {
  readonly order: CoatOrder;
  readonly begunAt: number;
  /** Share that had been made of it before. */
  readonly from: number;
  share: number;
}

/**
 * Renders runs for the printers that fire what they are told dot by dot: before they are sent, or while they print. All that it goes by lies in
 * the database and on the disk: after a crash the next one goes on with the first part that is missing.
 */
export class RunRenderer implements RunRenderings {
  private readonly underWay = new Map<string, Rendering>();
  private readonly notBefore = new Map<string, number>();
  /** What could not be rendered, and why. */
  private readonly faults = new Map<string, { readonly until: number; readonly why: string }>();

  /** @param rendered told when there is news of a run */
  constructor(
    private readonly shop: Shop,
    private readonly rendered: () => void,
  ) {}

  get isBusy(): boolean {
    return this.underWay.size > 0;
  }

  /**
   * What a queued run is sent with. Null: with its PDF alone. Undefined: not yet, it is being rendered.
   */
  async dotsFor(run: RunRow): Promise<SentDots | null | undefined> {
    const way = this.wayOf(run);
    if (way === 'by the printer') return null;
    const rendering = this.underWay.get(run.id);
    if (rendering) return way === 'while printing' ? this.soon(run, rendering) : undefined;
    if (this.isFaulty(run.id)) return undefined;
    try {
      const { order, parts, made, leading } = await coatProgress(this.shop, run.id, HOW);
      if (made === parts) {
        // It may have been rendered for another run: what was counted then holds for this one.
        if (run.inkRendering !== order.key) await renderedCoat(this.shop, run.id, HOW);
        return this.dotsOf(order);
      }
      this.begin(run, { order, parts, made, leading }, (how) => ensureCoat(this.shop, run.id, how));
    } catch (error) {
      this.failed(run, error);
    }
    return undefined;
  }

  /** What a run was sent with; it is the same when it is sent again because no answer came. */
  async sentDots({ sentRendering }: RunRow): Promise<SentDots | null> {
    const order = sentRendering === null ? undefined : await notedOrder(this.shop, sentRendering);
    return order ? this.dotsOf(order) : null;
  }

  /** Renders what a run on a printer, or the next in its line, still lacks. What was sent is rendered as it was ordered, whatever has changed since. */
  lookAfter(run: RunRow): void {
    if (this.underWay.has(run.id) || this.isFaulty(run.id)) return;
    const isNext = run.state === 'queued';
    if (isNext ? this.wayOf(run) === 'by the printer' : run.sentRendering === null) return;
    const place = `${run.printerId} ${isNext ? 'next' : 'present'}`;
    const now = performance.now();
    if (now < (this.notBefore.get(place) ?? 0)) return;
    this.notBefore.set(place, now + LOOK_AFTER_MS);
    (isNext ? this.renderNext(run) : this.renderSent(run)).catch((error: unknown) => {
      this.failed(run, error);
    });
  }

  of(runId: string): RunRendering | undefined {
    const rendering = this.underWay.get(runId);
    if (rendering) return { kind: 'under way', share: rendering.share };
    const fault = this.faults.get(runId);
    return fault && { kind: 'failed', why: fault.why };
  }

  /** Who renders what this run's printer prints. */
  private wayOf(run: RunRow): RenderingWay {
    return printerOf(this.shop.db, run).config.rendering ?? 'by the printer';
  }

  private isFaulty(runId: string): boolean {
    return performance.now() < (this.faults.get(runId)?.until ?? 0);
  }

  private async renderNext(run: RunRow): Promise<void> {
    const progress = await coatProgress(this.shop, run.id, HOW);
    if (progress.made < progress.parts) this.begin(run, progress, (how) => ensureCoat(this.shop, run.id, how));
  }

  private async renderSent(run: RunRow): Promise<void> {
    const order = await notedOrder(this.shop, run.sentRendering ?? '');
    if (!order) return;
    const progress = await progressOf(this.shop, order);
    if (progress.made < progress.parts) this.begin(run, progress, (how) => renderParts(this.shop, order, how));
  }

  private begin(run: RunRow, { order, made, parts }: CoatProgress, render: (how: RunHow) => Promise<unknown>): void {
    if (this.underWay.has(run.id)) return;
    const rendering: Rendering = { order, begunAt: performance.now(), from: made / parts, share: made / parts };
    this.underWay.set(run.id, rendering);
    let told = rendering.share;
    this.tell(run);
    render({
      ...HOW,
      progress: (share) => {
        rendering.share = share;
        // A printer may be waiting for the first parts alone.
        if (share - told < 1 / parts) return;
        told = share;
        this.tell(run);
        this.rendered();
      },
    })
      .then(
        () => this.faults.delete(run.id),
        (error: unknown) => {
          this.failed(run, error);
        },
      )
      .finally(() => {
        this.underWay.delete(run.id);
        this.tell(run);
        this.rendered();
      });
  }

  private failed(run: RunRow, error: unknown): void {
    const isGone = !findRun(this.shop.db, run.id);
    if (isGone) this.faults.delete(run.id);
    if (isGone || this.shop.storage.noticed(error)) return;
    const why = error instanceof Refused ? error.message : 'the log says more.';
    this.faults.set(run.id, { until: performance.now() + AGAIN_MS, why });
    this.tell(run);
    this.shop.log.warn({ err: error, run: run.id }, 'a run could not be rendered for its printer; it is tried again');
  }

  /** Open pages see how far it is. */
  private tell({ id, printerId }: RunRow): void {
    this.shop.bus.committed(
      [],
      [
        { type: 'run', id },
        { type: 'printer', id: printerId },
      ],
    );
  }

  /** The dots of a run that is still being rendered, where its first rows are there and rendering, as fast as it goes now, keeps ahead. */
  private async soon(run: RunRow, { order, begunAt, from, share }: Rendering): Promise<SentDots | undefined> {
    const bands = Math.ceil(order.height / BAND_ROWS);
    const made = (share - from) * bands;
    if (made < 1 || (await progressOf(this.shop, order)).leading === 0) return undefined;
    const { config } = printerOf(this.shop.db, run);
    const { strokesMs } = timeOfRun(run, config, laidPieces(this.shop.db, run.id));
    const printMs = strokesMs.reduce((sum, ms) => sum + ms, 0) / bands;
    const keepsAhead = mayPrintWhileRendering((performance.now() - begunAt) / made, printMs, this.shop.clock.rate);
    return keepsAhead ? this.dotsOf(order) : undefined;
  }

  private dotsOf({ key, height, drops }: CoatOrder): SentDots {
    const parts = Array.from({ length: partCount(height) }, (_, part) => {
      const { from, to } = partRows(height, part);
      return { url: deviceLink(this.shop, `/api/coats/${key}/parts/${String(part)}.tif`), rows: to - from };
    });
    return { rendering: key, dots: { parts, dropsPl: [...drops] } };
  }
}

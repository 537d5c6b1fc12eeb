import type { MachineRun } from '../../contract/machine/protocol.ts';
import { BAND_ROWS, partCount, partRows } from '../../core/raster/bands.ts';
import { type RenderingWay, mayPrintWhileRendering } from '../../core/raster/whilePrinting.ts';
import { findRun } from '../db/findRows.ts';
import { deviceLink } from '../usecases/device/deviceLink.ts';
import { laidPieces, timeOfRun } from '../usecases/layout/measureRun.ts';
import { type CoatProgress, coatProgress, ensureCoat, renderedCoat } from '../usecases/output/runChannels.ts';
import { printerOf } from '../usecases/run/runRows.ts';
import type { RunRow } from '../usecases/run/transitionRun.ts';
import type { RunRendering, RunRenderings } from '../ports/runRenderings.ts';
import { Refused, type Shop } from '../shop.ts';

/** What could not be rendered is tried again so much later (real time). */
const AGAIN_MS = 10_000;
/** A rendering that a printer prints from is looked after so often: room may have been made of it meanwhile. */
const LOOK_AFTER_MS = 5_000;

type Dots = NonNullable<MachineRun['dots']>;

interface Rendering {
  readonly begunAt: number;
  /** What had been made of it before. */
  readonly from: number;
  share: number;
}

/**
 * Renders runs for the printers that fire what they are told dot by dot: before they are sent, or while they print. All that it knows is what
 * lies on the disk: after a crash the next one goes on with the first part that is missing.
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

  /** Who renders what this printer prints. */
  static wayOf(shop: Shop, run: RunRow): RenderingWay {
    return printerOf(shop.db, run).config.rendering ?? 'by the printer';
  }

  /**
   * What a run is sent with. Null: with its PDF alone. Undefined: not yet, it is being rendered.
   */
  async dotsFor(run: RunRow): Promise<Dots | null | undefined> {
    const way = RunRenderer.wayOf(this.shop, run);
    if (way === 'by the printer') return null;
    if (performance.now() < (this.faults.get(run.id)?.until ?? 0)) return undefined;
    let progress: CoatProgress;
    try {
      progress = await coatProgress(this.shop, run.id, { priority: 'the shop waits' });
    } catch (error) {
      this.failed(run, error);
      return undefined;
    }
    const { order, parts, leading } = progress;
    if (leading === parts) {
      // It may have been rendered for another run: what was counted then holds for this one.
      await renderedCoat(this.shop, run.id, { priority: 'the shop waits' });
      return this.dotsOf(order.key, order.height, order.drops);
    }
    this.begin(run, progress);
    const soon = way === 'while printing' && leading > 0 && this.keepsAhead(run, progress);
    return soon ? this.dotsOf(order.key, order.height, order.drops) : undefined;
  }

  /** Renders what a run on a printer, or the next in its line, still lacks. */
  lookAfter(run: RunRow): void {
    if (RunRenderer.wayOf(this.shop, run) === 'by the printer' || this.underWay.has(run.id)) return;
    const now = performance.now();
    const place = `${run.printerId} ${run.state === 'queued' ? 'next' : 'present'}`;
    if (now < (this.notBefore.get(place) ?? 0)) return;
    this.notBefore.set(place, now + LOOK_AFTER_MS);
    coatProgress(this.shop, run.id, { priority: 'the shop waits' }).then(
      (progress) => {
        if (progress.leading < progress.parts) this.begin(run, progress);
      },
      (error: unknown) => {
        this.failed(run, error);
      },
    );
  }

  private begin(run: RunRow, { made, parts }: CoatProgress): void {
    if (this.underWay.has(run.id)) return;
    const rendering: Rendering = { begunAt: performance.now(), from: made / parts, share: made / parts };
    this.underWay.set(run.id, rendering);
    let told = rendering.share;
    this.tell(run);
    ensureCoat(this.shop, run.id, {
      priority: 'the shop waits',
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
    if (!findRun(this.shop.db, run.id)) this.faults.delete(run.id);
    if (this.shop.storage.noticed(error) || !findRun(this.shop.db, run.id)) return;
    const why = error instanceof Refused ? error.message : 'the log says more.';
    this.faults.set(run.id, { until: performance.now() + AGAIN_MS, why });
    this.tell(run);
    this.shop.log.warn({ err: error, run: run.id }, 'a run could not be rendered for its printer; it is tried again');
  }

  of(runId: string): RunRendering | undefined {
    const rendering = this.underWay.get(runId);
    if (rendering) return { kind: 'under way', share: rendering.share };
    const fault = this.faults.get(runId);
    return fault && { kind: 'failed', why: fault.why };
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

  /** Whether this machine, as it is loaded now, renders well ahead of what the printer prints. */
  private keepsAhead(run: RunRow, { order }: CoatProgress): boolean {
    const rendering = this.underWay.get(run.id);
    const bands = Math.ceil(order.height / BAND_ROWS);
    const made = rendering ? (rendering.share - rendering.from) * bands : 0;
    if (!rendering || made < 1) return false;
    const { config } = printerOf(this.shop.db, run);
    const { strokesMs } = timeOfRun(run, config, laidPieces(this.shop.db, run.id));
    const printMs = strokesMs.reduce((sum, ms) => sum + ms, 0) / bands;
    return mayPrintWhileRendering((performance.now() - rendering.begunAt) / made, printMs, this.shop.clock.rate);
  }

  private dotsOf(key: string, height: number, drops: readonly number[]): Dots {
    return {
      parts: Array.from({ length: partCount(height) }, (_, part) => {
        const { from, to } = partRows(height, part);
        return { url: deviceLink(this.shop, `/api/coats/${key}/parts/${String(part)}.tif`), rows: to - from };
      }),
      dropsPl: [...drops],
    };
  }
}

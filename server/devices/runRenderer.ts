import type { MachineRun } from '../../contract/machine/protocol.ts';
import { BAND_ROWS, partCount, partRows } from '../../core/raster/bands.ts';
import { type RenderingWay, mayPrintWhileRendering } from '../../core/raster/whilePrinting.ts';
import { findRun } from '../db/findRows.ts';
import { deviceLink } from '../usecases/device/deviceLink.ts';
import { laidPieces, timeOfRun } from '../usecases/layout/measureRun.ts';
import { type CoatProgress, coatProgress, ensureCoat } from '../usecases/output/runChannels.ts';
import { printerOf } from '../usecases/run/runRows.ts';
import type { RunRow } from '../usecases/run/transitionRun.ts';
import type { Shop } from '../shop.ts';

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
export class RunRenderer {
  private readonly underWay = new Map<string, Rendering>();
  private readonly notBefore = new Map<string, number>();

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
    const progress = await coatProgress(this.shop, run.id, { priority: 'the shop waits' });
    const { order, parts, leading } = progress;
    if (leading === parts) return this.dotsOf(order.key, order.height, order.drops);
    this.begin(run, progress);
    const soon = way === 'while printing' && leading > 0 && this.keepsAhead(run, progress);
    return soon ? this.dotsOf(order.key, order.height, order.drops) : undefined;
  }

  /** Renders what a run on a printer, or the next in its line, still lacks. */
  lookAfter(run: RunRow): void {
    if (RunRenderer.wayOf(this.shop, run) === 'by the printer' || this.underWay.has(run.id)) return;
    const now = performance.now();
    if (now < (this.notBefore.get(run.id) ?? 0)) return;
    this.notBefore.set(run.id, now + LOOK_AFTER_MS);
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
    if (this.underWay.has(run.id) || performance.now() < (this.failedUntil.get(run.id) ?? 0)) return;
    const rendering: Rendering = { begunAt: performance.now(), from: made / parts, share: made / parts };
    this.underWay.set(run.id, rendering);
    let tell = rendering.share;
    ensureCoat(this.shop, run.id, {
      priority: 'the shop waits',
      progress: (share) => {
        rendering.share = share;
        // A printer may be waiting for the first parts alone.
        if (share - tell < 1 / parts) return;
        tell = share;
        this.rendered();
      },
    })
      .catch((error: unknown) => {
        this.failed(run, error);
      })
      .finally(() => {
        this.underWay.delete(run.id);
        this.rendered();
      });
  }

  private readonly failedUntil = new Map<string, number>();

  private failed(run: RunRow, error: unknown): void {
    this.failedUntil.set(run.id, performance.now() + AGAIN_MS);
    if (this.shop.storage.noticed(error) || !findRun(this.shop.db, run.id)) return;
    this.shop.log.warn({ err: error, run: run.id }, 'a run could not be rendered for its printer; it is tried again');
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

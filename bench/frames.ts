import type { Page } from '@playwright/test';

export interface FrameReport {
  readonly frames: number;
  readonly p95Ms: number;
  readonly worstMs: number;
  /** Tasks over 50 ms, as the browser's own long-task observer saw them. */
  readonly longTasks: number;
}

/** Runs a step on every frame for a while and reports the gaps between frames. The step is page code as text. */
export async function watchFrames(page: Page, step: string, forMs: number): Promise<FrameReport> {
  // As text: what a transpiler adds to functions is not there in the page.
  return page.evaluate<FrameReport>(`(async () => {
    const act = (t) => { ${step} };
    let longTasks = 0;
    const observer = new PerformanceObserver((list) => { longTasks += list.getEntries().length; });
    observer.observe({ type: 'longtask' });
    const gaps = [];
    const start = performance.now();
    let last = start;
    await new Promise((done) => {
      const frame = (now) => {
        gaps.push(now - last);
        last = now;
        act((now - start) / ${String(forMs)});
        if (now - start < ${String(forMs)}) requestAnimationFrame(frame);
        else done();
      };
      requestAnimationFrame(frame);
    });
    observer.disconnect();
    gaps.shift();
    gaps.sort((a, b) => a - b);
    return { frames: gaps.length, p95Ms: gaps[Math.floor(gaps.length * 0.95)] ?? 0, worstMs: gaps[gaps.length - 1] ?? 0, longTasks };
  })()`);
}

export function frameLine(name: string, report: FrameReport): string {
  return `${name}: ${String(report.frames)} frames, 95 % of gaps ≤ ${report.p95Ms.toFixed(1)} ms, worst ${report.worstMs.toFixed(1)} ms, tasks over 50 ms: ${String(report.longTasks)}\n`;
}

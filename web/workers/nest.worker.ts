import type { NestLayout } from '../../core/layout/nestLayout.ts';
import { nest } from '../../core/layout/nest.ts';
import type { NestInput } from '../../core/layout/nestInput.ts';

export interface NestOrder {
  readonly input: NestInput;
  readonly seed: number;
  readonly timeLimitMs: number;
}

export type NestNews = { readonly done: boolean; readonly layout: NestLayout };

/** Better layouts in between are told at most so often: drawing them costs more than finding them. */
const TELL_MS = 60;

/** The page hands over one nest and hears of each better layout; it ends the whole worker to stop it. */
self.onmessage = (message: MessageEvent<NestOrder>) => {
  const { input, seed, timeLimitMs } = message.data;
  const start = performance.now();
  const end = start + timeLimitMs;
  let told = 0;
  const layout = nest(input, {
    seed,
    stepBudget: Number.MAX_SAFE_INTEGER,
    shouldStop: () => performance.now() > end,
    spentShare: () => (performance.now() - start) / timeLimitMs,
    onBetter: (better) => {
      if (performance.now() - told < TELL_MS) return;
      told = performance.now();
      self.postMessage({ done: false, layout: better } satisfies NestNews);
    },
  });
  self.postMessage({ done: true, layout } satisfies NestNews);
};

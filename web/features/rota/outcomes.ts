import type { RotaItem } from '../../../contract/api/care.ts';

/** How an outcome is drawn and said. Line and fill tell them apart, not colour alone. */
export const OUTCOMES: Readonly<Record<RotaItem['outcome'], { readonly word: string; readonly look: string }>> = {
  planned: { word: 'planned', look: 'border-tide bg-card text-tide' },
  done: { word: 'done', look: 'border-go bg-go/15 text-go' },
  skipped: { word: 'skipped', look: 'border-dashed border-soft bg-card text-soft' },
  holiday: { word: 'skipped', look: 'border-dashed border-soft bg-card text-soft' },
  late: { word: 'late', look: 'border-wait bg-wait/15 text-wait' },
  conflict: { word: 'conflict', look: 'border-2 border-stop bg-stop/10 text-stop' },
  failed: { word: 'failed', look: 'border-stop bg-card text-stop' },
  impossible: { word: 'not done', look: 'border-stop bg-card text-stop' },
  cancelled: { word: 'taken out', look: 'border-dashed border-soft bg-card text-soft' },
};

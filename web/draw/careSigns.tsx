import { Brush, Droplets, LockOpen, RotateCw, Ruler, ScanLine, type LucideIcon } from 'lucide-react';
import type { RotaItem } from '../../contract/api/care.ts';

export type CareKind = Exclude<RotaItem['kind'], 'run'>;

/** Each kind of care by its sign and its word. */
export const CARE_SIGNS: Readonly<Record<CareKind, { readonly icon: LucideIcon; readonly word: string }>> = {
  purge: { icon: Droplets, word: 'purge' },
  check: { icon: ScanLine, word: 'nozzle check' },
  clean: { icon: Brush, word: 'head clean' },
  stir: { icon: RotateCw, word: 'stir' },
  feed: { icon: Ruler, word: 'feed check' },
  release: { icon: LockOpen, word: 'release' },
};

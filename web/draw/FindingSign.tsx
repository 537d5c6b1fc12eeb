import { CircleAlert, Info, TriangleAlert } from 'lucide-react';

const SIGNS = {
  block: { icon: CircleAlert, tone: 'text-stop', word: 'Blocks' },
  warn: { icon: TriangleAlert, tone: 'text-wait', word: 'Warns' },
  note: { icon: Info, tone: 'text-soft', word: 'Note' },
} as const;

export type Severity = keyof typeof SIGNS;

/** The word beside the sign: nothing is said by colour alone. */
export function findingWord(severity: Severity): string {
  return SIGNS[severity].word;
}

/** How bad a finding is, by shape; the word stands beside it or in its name. */
export function FindingSign({ severity, size = 15 }: { readonly severity: Severity; readonly size?: number }) {
  const { icon: Icon, tone, word } = SIGNS[severity];
  return <Icon size={size} strokeWidth={2.2} aria-label={word} role="img" className={`shrink-0 ${tone}`} />;
}

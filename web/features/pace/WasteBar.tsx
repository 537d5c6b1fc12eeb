import type { PaceAnswer } from '../../../contract/api/pace/pace.ts';
import { number } from '../../ui/text/number.ts';

const CAUSES = [
  ['waste-nest', 'var(--soft)'],
  ['waste-lead', 'var(--tide)'],
  ['waste-purge', 'var(--go)'],
  ['waste-check', 'var(--run, var(--go))'],
  ['waste-fault', 'var(--stop)'],
  ['waste-spoiled', 'var(--wait)'],
  ['waste-stub', 'var(--ink)'],
] as const;

/** Where media went: good pieces, and every cause of waste, at one scale. */
export function WasteBar({ answer }: { readonly answer: PaceAnswer }) {
  const all = answer.total['waste']?.denominator ?? 0;
  const good = all - (answer.total['waste']?.numerator ?? 0);
  const m2 = (mm2: number): string => `${number(mm2 / 1e6, 2)} m²`;
  const causes = CAUSES.flatMap(([id, fill]) => {
    const measure = answer.measures.find((each) => each.id === id);
    const mm2 = answer.total[id]?.numerator ?? 0;
    return measure && mm2 > 0 ? [{ id, fill, name: measure.name, words: measure.words, mm2 }] : [];
  });
  return (
    <section aria-label="Where media went">
      <h2 className="mb-1 font-semibold">Where media went</h2>
      {all === 0 ? (
        <p className="text-soft">Nothing was fed in this time.</p>
      ) : (
        <>
          <div className="flex h-6 overflow-hidden rounded-[3px] border border-soft" aria-hidden="true">
            <span className="bg-spool" style={{ width: `${String((good / all) * 100)}%` }} />
            {causes.map(({ id, fill, mm2 }) => (
              <span key={id} style={{ width: `${String((mm2 / all) * 100)}%`, background: fill }} />
            ))}
          </div>
          <ul className="mt-1.5 grid gap-x-4">
            <li className="flex items-baseline gap-2">
              <span className="size-2.5 shrink-0 rounded-sm bg-spool" aria-hidden="true" />
              <span className="flex-1">Good pieces</span>
              <span>{m2(good)}</span>
              <span className="w-14 text-right text-soft">{number((good / all) * 100, 1)} %</span>
            </li>
            {causes.map(({ id, fill, name, words, mm2 }) => (
              <li key={id} className="flex items-baseline gap-2" title={words}>
                <span className="size-2.5 shrink-0 rounded-sm" style={{ background: fill }} aria-hidden="true" />
                <span className="flex-1">{name}</span>
                <span>{m2(mm2)}</span>
                <span className="w-14 text-right text-soft">{number((mm2 / all) * 100, 1)} %</span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

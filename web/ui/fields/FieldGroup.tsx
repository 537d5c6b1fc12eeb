import { createContext, useCallback, useContext, useEffect, useId, useMemo, useState, type ReactNode } from 'react';

type Report = (id: string, wrong: boolean) => void;

const ReportContext = createContext<Report | undefined>(undefined);

/** Fields whose values one button takes: it must not act on the last good value while a wrong one stands in a field. */
export function useFieldGroup(): { readonly anyWrong: boolean; readonly report: Report } {
  const [wrong, setWrong] = useState<ReadonlySet<string>>(new Set());
  const report = useCallback<Report>((id, isWrong) => {
    setWrong((old) => {
      if (old.has(id) === isWrong) return old;
      const next = new Set(old);
      if (isWrong) next.add(id);
      else next.delete(id);
      return next;
    });
  }, []);
  return useMemo(() => ({ anyWrong: wrong.size > 0, report }), [wrong, report]);
}

export function FieldGroup({ report, children }: { readonly report: Report; readonly children: ReactNode }) {
  return <ReportContext value={report}>{children}</ReportContext>;
}

/** Tells the group around a field, if there is one, whether what stands in it is wrong. */
export function useReportWrong(wrong: boolean): void {
  const report = useContext(ReportContext);
  const id = useId();
  useEffect(() => {
    report?.(id, wrong);
    return () => report?.(id, false);
  }, [report, id, wrong]);
}

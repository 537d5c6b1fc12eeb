import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from 'react';
import { errorText, wasCancelled } from '../api/client.ts';

export interface Notice {
  readonly text: string;
  readonly wrong: boolean;
}

interface Notices {
  readonly notice: Notice | undefined;
  /** Says on the wire why something did not happen. */
  readonly tell: (error: unknown) => void;
  readonly say: (text: string) => void;
  readonly clear: () => void;
}

const NoticeContext = createContext<Notices | undefined>(undefined);

/** Holds the one thing that is said on the wire at a time; a newer one takes its place. */
export function NoticeProvider({ children }: { readonly children: ReactNode }) {
  const [notice, setNotice] = useState<Notice>();
  const tell = useCallback((error: unknown) => {
    setNotice({ text: errorText(error), wrong: !wasCancelled(error) });
  }, []);
  const say = useCallback((text: string) => {
    setNotice({ text, wrong: false });
  }, []);
  const clear = useCallback(() => {
    setNotice(undefined);
  }, []);
  const value = useMemo(() => ({ notice, tell, say, clear }), [notice, tell, say, clear]);
  return <NoticeContext.Provider value={value}>{children}</NoticeContext.Provider>;
}

/** Says something on the wire. */
export function useNotice(): Notices {
  const notices = useContext(NoticeContext);
  if (!notices) throw new Error('used outside NoticeProvider');
  return notices;
}

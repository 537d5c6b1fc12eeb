import { useRef } from 'react';
import { useSearchParams } from 'react-router';
import { errorText } from '../../api/client.ts';
import { PageError } from '../../ui/PageError.tsx';
import { useRoving } from '../../ui/useRoving.ts';
import { useMay } from '../../people/May.tsx';
import { HeadRow } from './HeadRow.tsx';
import { HeadSheet } from './HeadSheet.tsx';
import { PlotReader } from './reader/PlotReader.tsx';
import { PlotWipe } from './reader/PlotWipe.tsx';
import { useHeads } from './useHeads.ts';

/** Whether each printer can print well right now: its nozzles, what to do for them, and their checks. */
export function HeadsPage() {
  const { data: all, error } = useHeads();
  const [params, setParams] = useSearchParams();
  const list = useRef<HTMLDivElement>(null);
  const onKeyDown = useRoving(list, false);
  const open = (change: Readonly<Record<string, string>>): void => {
    setParams(change, { replace: true });
  };
  // An address can be typed: whoever may not keep what they read is shown the heads.
  const mayRead = useMay('operate');
  if (error) return <PageError>{errorText(error)}</PageError>;
  const chosen = all?.find(({ printerId }) => printerId === params.get('printer'));
  const reading = mayRead ? params.get('read') : null;
  const wiping = params.get('compare');
  const back = (): void => {
    if (chosen) open({ printer: chosen.printerId });
  };
  if (chosen && reading !== null) {
    return <PlotReader heads={chosen} checkId={reading === 'loose' ? null : reading} onDone={back} />;
  }
  if (chosen && wiping !== null) return <PlotWipe heads={chosen} checkId={wiping} onDone={back} />;
  return (
    <div className="flex h-full min-h-0">
      <section className="flex min-w-0 flex-1 flex-col">
        <header className="flex flex-wrap items-center gap-x-5 gap-y-1 px-5 pt-3 pb-2.5">
          <h1 className="text-lg font-semibold">Heads</h1>
          {all && <Legend />}
        </header>
        <div ref={list} onKeyDown={onKeyDown} className="@container/list min-h-0 flex-1 overflow-y-auto">
          {all?.map((heads) => (
            <HeadRow
              key={heads.printerId}
              heads={heads}
              chosen={heads === chosen}
              onChoose={() => {
                open(heads === chosen ? {} : { printer: heads.printerId });
              }}
            />
          ))}
        </div>
      </section>
      {chosen && (
        <HeadSheet
          key={chosen.printerId}
          heads={chosen}
          onClose={() => {
            open({});
          }}
          onRead={(checkId) => {
            open({ printer: chosen.printerId, read: checkId ?? 'loose' });
          }}
          onCompare={(checkId) => {
            open({ printer: chosen.printerId, compare: checkId });
          }}
        />
      )}
    </div>
  );
}

function Legend() {
  return (
    <p className="dense flex flex-wrap items-center gap-x-4 gap-y-1 text-soft">
      <Sign text="missing">
        <rect x="3" y="1" width="2.5" height="10" fill="var(--stop)" />
      </Sign>
      <Sign text="weak">
        <rect x="3" y="1" width="2.5" height="5" fill="var(--wait)" />
      </Sign>
      <Sign text="crooked">
        <line x1="2" y1="11" x2="7" y2="2" stroke="var(--ink)" strokeWidth="1.5" />
      </Sign>
      <span>Clock: idle time of the idle limit</span>
    </p>
  );
}

function Sign({ text, children }: { readonly text: string; readonly children: React.ReactNode }) {
  return (
    <span className="inline-flex items-center gap-1">
      <svg width="9" height="12" aria-hidden="true">
        {children}
      </svg>
      {text}
    </span>
  );
}

import { usePrinters } from '../../../api/data.ts';
import { Button } from '../../../ui/Button.tsx';
import { useCareRules } from '../useRota.ts';
import { May } from '../../../people/May.tsx';

/** Rules that put care before runs. */
export function RuleList({ onOpen }: { readonly onOpen: (id: string) => void }) {
  const { data: rules } = useCareRules();
  const { data: printers = [] } = usePrinters();
  const nameOf = (id: string): string => printers.find((printer) => printer.id === id)?.name ?? id;
  return (
    <section aria-label="Rules" className="mt-3">
      <div className="mb-1 flex items-center justify-between gap-3">
        <h2 className="font-semibold">Rules</h2>
        <May right="coordinate">
          <Button
            kind="quiet"
            onClick={() => {
              onOpen('new');
            }}
          >
            New rule
          </Button>
        </May>
      </div>
      {rules?.length === 0 && <p className="text-soft">None yet: care can come before long or important runs.</p>}
      {rules?.map(({ id, text, printerIds, paused }) => (
        <button
          key={id}
          type="button"
          onClick={() => {
            onOpen(id);
          }}
          className="flex w-full items-baseline gap-2 border-t border-rule px-1 py-1.5 text-left first-of-type:border-0 hover:bg-rule/50"
        >
          <span className="min-w-0 flex-1">
            {text.charAt(0).toUpperCase() + text.slice(1)}{' '}
            <span className="text-soft">{printerIds ? printerIds.map(nameOf).join(', ') : 'all printers'}</span>
          </span>
          {paused && <span className="dense text-soft">paused</span>}
        </button>
      ))}
    </section>
  );
}

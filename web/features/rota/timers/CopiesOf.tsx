import useSWR from 'swr';
import type { DesignCopyView, PurgeDesignView } from '../../../../contract/api/care.ts';
import type { Printer } from '../../../api/data.ts';
import { errorText } from '../../../api/client.ts';

/** What a purge becomes on the other printers that it is to be printed on, before its timers are made. */
export function CopiesOf({
  design,
  printers,
}: {
  readonly design: PurgeDesignView;
  readonly printers: readonly Printer[];
}) {
  const others = printers.filter(({ id }) => id !== design.printerId);
  if (others.length === 0) return null;
  return (
    <div className="mt-2 border-t border-rule pt-2">
      {others.map((printer) => (
        <CopyOf key={printer.id} design={design} printer={printer} />
      ))}
    </div>
  );
}

function CopyOf({ design, printer }: { readonly design: PurgeDesignView; readonly printer: Printer }) {
  const { data: copy, error } = useSWR<DesignCopyView, Error>(`/api/purges/${design.id}/for/${printer.id}`);
  const lines = error
    ? [errorText(error)]
    : !copy
      ? ['Reading …']
      : copy.ownId !== null
        ? [`Its own purge ${design.name} is printed.`]
        : copy.differences.length === 0
          ? ['Copied; nothing differs.']
          : ['Copied.', ...copy.differences];
  return (
    <p className="mb-1">
      <span className="font-medium">{printer.name}.</span>{' '}
      <span className={error ? 'text-stop' : 'text-soft'}>{lines.join(' ')}</span>
    </p>
  );
}

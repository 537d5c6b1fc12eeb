import { Tag } from 'lucide-react';
import { getFile, keepFile } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';

/** Labels with a trace code, as a PDF to print and stick on. */
export function LabelButton({ spoolIds, text }: { readonly spoolIds: readonly string[]; readonly text: string }) {
  const { tell } = useNotice();
  return (
    <Button
      disabled={spoolIds.length === 0}
      onClick={() => {
        getFile('/api/spools/labels', { spoolIds }).then(keepFile).catch(tell);
      }}
    >
      <Tag size={15} aria-hidden="true" /> {text}
    </Button>
  );
}

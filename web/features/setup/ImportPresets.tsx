import { Upload } from 'lucide-react';
import { useRef } from 'react';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';

/** Presets from a file that another shop, or this one, has exported. */
export function ImportPresets() {
  const input = useRef<HTMLInputElement>(null);
  const { tell, say } = useNotice();
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      const { ids } = await sendJson<{ ids: string[] }>('POST', '/api/presets/import', JSON.parse(await file.text()));
      say(`${String(ids.length)} ${ids.length === 1 ? 'preset' : 'presets'} imported`);
    } catch (error) {
      tell(error instanceof SyntaxError ? new Error(`${file.name} is not JSON: nothing was imported.`) : error);
    }
  };
  return (
    <>
      <button
        type="button"
        className="inline-flex items-center gap-1 rounded px-1 py-1 text-tide hover:bg-rule/50"
        onClick={() => input.current?.click()}
      >
        <Upload size={15} aria-hidden="true" /> Import
      </button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".json"
        aria-label="Presets to import"
        onChange={(event) => {
          void take(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
    </>
  );
}

import { useRef } from 'react';
import useSWR from 'swr';
import type { DeviceView, PrinterFile } from '../../../contract/api/setup.ts';
import { getJson, sendJson } from '../../api/client.ts';
import type { Printer } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';

/** A new printer: as a device describes itself, from a file, or as a copy (from the one that it is like). */
export function NewPrinter({ onOpen }: { readonly onOpen: (id: string) => void }) {
  const { data: devices, isLoading } = useSWR<DeviceView[], Error>('/api/devices', getJson<DeviceView[]>);
  const input = useRef<HTMLInputElement>(null);
  const { tell } = useNotice();
  const make = (name: string, from: unknown): void => {
    sendJson<Printer>('POST', '/api/printers', { name, from })
      .then((made) => {
        onOpen(made.id);
      })
      .catch(tell);
  };
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      const read = JSON.parse(await file.text()) as Partial<PrinterFile>;
      make(read.name ?? file.name.replace(/\..*$/, ''), { kind: 'file', config: read.config });
    } catch (error) {
      tell(error instanceof SyntaxError ? new Error(`${file.name} is not JSON: nothing was imported.`) : error);
    }
  };
  const fresh = (devices ?? []).filter(({ printerId }) => printerId === null);
  return (
    <div className="max-w-xl">
      <h2 className="text-lg font-semibold">A new printer</h2>
      <p className="mt-1 mb-3 text-soft">
        A device on the line describes itself. Otherwise import a printer file, or open a similar printer and copy it.
      </p>
      <h3 className="mb-1 font-semibold">Devices that answer and are not on the floor yet</h3>
      {isLoading && <p className="text-soft">Asking …</p>}
      {devices && fresh.length === 0 && <p className="text-soft">None: every device that answers is on the floor.</p>}
      <ul>
        {fresh.map((device) => (
          <li key={device.id} className="flex items-center justify-between gap-3 border-b border-rule py-1.5">
            <span>
              <span className="font-medium">{device.name}</span> <span className="text-soft">{device.form}</span>
            </span>
            <Button
              kind="main"
              onClick={() => {
                make(device.name, { kind: 'device', deviceId: device.id });
              }}
            >
              Ask {device.name} and add it
            </Button>
          </li>
        ))}
      </ul>
      <h3 className="mt-4 mb-1 font-semibold">From a file</h3>
      <Button onClick={() => input.current?.click()}>Import a printer file</Button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".json"
        aria-label="Printer to take in"
        onChange={(event) => {
          void take(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
    </div>
  );
}

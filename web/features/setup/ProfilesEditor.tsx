import { Upload } from 'lucide-react';
import { type ReactNode, useRef } from 'react';
import type { ProfileView } from '../../../contract/api/colour/profile.ts';
import { sendForm } from '../../api/client.ts';
import { usePrinters, useProfiles } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { number } from '../../ui/text/number.ts';

/** Profiles by which modes print: what is here, which modes ask for each, and what is asked for and is not here. */
export function ProfilesEditor() {
  const { data: profiles = [], mutate } = useProfiles();
  const { data: printers = [] } = usePrinters();
  const { tell, say } = useNotice();
  const bring = (name: string, file: File): void => {
    const form = new FormData();
    form.append('file', file, file.name);
    sendForm<ProfileView>(`/api/profiles/${encodeURIComponent(name)}`, form, 'PUT')
      .then(({ name: called, channels }) => {
        say(`Profile ${called} is here, for ${String(channels)} inks`);
        return mutate();
      })
      .catch(tell);
  };
  const here = new Set(profiles.map(({ name }) => name));
  const missing = new Map<string, string[]>();
  for (const { name: printer, config } of printers) {
    for (const { profile, name } of config.modes) {
      if (!here.has(profile)) missing.set(profile, [...(missing.get(profile) ?? []), `${printer} ${name}`]);
    }
  }
  return (
    <div className="max-w-3xl">
      <h2 className="text-lg font-semibold">Profiles</h2>
      <p className="mt-1 mb-4 text-soft">
        What colours become on each printer, as ICC files. A mode asks for its profile by name: set it in the printer’s
        modes. One that is replaced is kept as <em>before</em>, and can be put back.
      </p>
      <table className="w-full">
        <thead className="dense text-left text-soft">
          <tr>
            <th scope="col" className="py-1 font-normal">
              Name
            </th>
            <th scope="col" className="font-normal">
              Inks
            </th>
            <th scope="col" className="font-normal">
              Asked for by
            </th>
            <th scope="col" className="text-right font-normal">
              Size
            </th>
            <td />
          </tr>
        </thead>
        <tbody>
          {[...missing].map(([name, modes]) => (
            <tr key={name} className="border-t border-rule">
              <th scope="row" className="py-1.5 text-left font-medium">
                {name}
              </th>
              <td className="text-stop">not here</td>
              <td className="pr-2">{modes.join(', ')}</td>
              <td />
              <td className="text-right">
                <Pick label={`Bring in ${name}`} onPick={(file) => bring(name, file)}>
                  Bring in
                </Pick>
              </td>
            </tr>
          ))}
          {profiles.map(({ name, space, channels, modes, bytes }) => (
            <tr key={name} className="border-t border-rule">
              <th scope="row" className="py-1.5 text-left font-medium">
                {name}
              </th>
              <td className="whitespace-nowrap">
                {channels} <span className="text-soft">{space}</span>
              </td>
              <td className="pr-2">
                {modes.length === 0 ? <span className="text-soft">no mode</span> : modes.join(', ')}
              </td>
              <td className="text-right whitespace-nowrap">{number(bytes / 1024)} kB</td>
              <td className="text-right">
                <Pick label={`Replace ${name}`} onPick={(file) => bring(name, file)}>
                  Replace
                </Pick>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-3">
        <Pick label="Bring in another profile" onPick={(file) => bring(file.name.replace(/\.icc$|\.icm$/i, ''), file)}>
          <Upload size={15} aria-hidden="true" /> Bring in another, by the name of its file
        </Pick>
      </div>
    </div>
  );
}

/** A button that asks for a file. */
function Pick({
  label,
  onPick,
  children,
}: {
  readonly label: string;
  readonly onPick: (file: File) => void;
  readonly children: ReactNode;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button kind="quiet" aria-label={label} onClick={() => input.current?.click()}>
        {children}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".icc,.icm"
        aria-label={`${label}, file`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onPick(file);
          event.target.value = '';
        }}
      />
    </>
  );
}

import { Upload } from 'lucide-react';
import { type ReactNode, useRef } from 'react';
import type { ProfileView } from '../../../contract/api/colour/profile.ts';
import { sendForm, sendJson } from '../../api/client.ts';
import { usePrinters, useProfiles } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { number } from '../../ui/text/number.ts';

interface ProfileRow {
  readonly name: string;
  /** Modes that ask for it, as people read them. */
  readonly modes: readonly string[];
  /** Missing: it is asked for and is not here. */
  readonly here: ProfileView | undefined;
}

/** Profiles by which modes print: what is here, which modes ask for each, and what is asked for and is not here. */
export function ProfilesEditor() {
  const { data: profiles = [], mutate } = useProfiles();
  const { data: printers = [] } = usePrinters();
  const { tell, say } = useNotice();
  const bring = (name: string, file: File): void => {
    const form = new FormData();
    form.append('file', file, file.name);
    sendForm<ProfileView>(`/api/profiles/${encodeURIComponent(name)}`, form, 'PUT')
      .then(({ name: called, channels, space }) => {
        say(`Profile ${called} is here, for ${space === 'RGB' ? 'RGB artwork' : `${String(channels)} inks`}`);
        return mutate();
      })
      .catch(tell);
  };
  const putBack = (name: string): void => {
    sendJson('POST', `/api/profiles/${encodeURIComponent(name)}/put-back`)
      .then(() => {
        say(`${name} is again what it was before`);
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
  const rows: readonly ProfileRow[] = [
    ...[...missing].map(([name, modes]) => ({ name, modes, here: undefined })),
    ...profiles.map((here) => ({ name: here.name, modes: here.modes, here })),
  ];
  const columns: readonly Column<ProfileRow>[] = [
    {
      id: 'name',
      title: 'Name',
      sortBy: ({ name }) => name,
      cell: ({ name }) => <b className="font-medium">{name}</b>,
    },
    {
      id: 'inks',
      title: 'Inks',
      className: 'whitespace-nowrap',
      sortBy: ({ here }) => here?.channels ?? 0,
      cell: ({ here }) =>
        here ? (
          <>
            {here.channels} <span className="text-soft">{here.space}</span>
          </>
        ) : (
          <span className="text-stop">not here</span>
        ),
    },
    {
      id: 'modes',
      title: 'Asked for by',
      sortBy: ({ modes }) => modes.join(', '),
      cell: ({ modes }) => (modes.length === 0 ? <span className="text-soft">no mode</span> : modes.join(', ')),
    },
    {
      id: 'size',
      title: 'Size',
      right: true,
      className: 'whitespace-nowrap',
      sortBy: ({ here }) => here?.bytes ?? 0,
      cell: ({ here }) => (here ? `${number(here.bytes / 1024)} kB` : ''),
    },
    {
      id: 'changes',
      title: '',
      right: true,
      className: 'whitespace-nowrap',
      cell: ({ name, here }) => (
        <>
          {here?.hasReplaced === true && (
            <Button kind="quiet" aria-label={`Put back what ${name} was before`} onClick={() => putBack(name)}>
              Put back
            </Button>
          )}
          <Pick label={`${here ? 'Replace' : 'Bring in'} ${name}`} onPick={(file) => bring(name, file)}>
            {here ? 'Replace' : 'Bring in'}
          </Pick>
        </>
      ),
    },
  ];
  return (
    <div className="max-w-3xl">
      <h2 className="text-lg font-semibold">Profiles</h2>
      <p className="mt-1 mb-4 text-soft">
        What colours become on each printer, and by what those of artwork are read, as ICC files. A mode asks for its
        profile by name: set it in the printer’s modes. The one before is kept, and can be put back.
      </p>
      <DataTable
        label="Profiles"
        columns={columns}
        rows={rows}
        rowId={({ name }) => name}
        empty={<p className="text-soft">No mode asks for a profile yet.</p>}
      />
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

import { useState } from 'react';
import type { SpoolImportAnswer } from '../../../../contract/api/media/supply.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { useNotice } from '../../../app/notice.tsx';
import { leftText } from '../../../media/spoolText.ts';
import { Button } from '../../../ui/Button.tsx';
import { FieldError } from '../../../ui/fields/FieldError.tsx';
import { FIELD } from '../../../ui/fields/look.ts';
import { Section } from '../../../ui/Sheet.tsx';
import { counted } from '../../../ui/text/counted.ts';

const EXAMPLE = 'stock,label,lot,length\nMesh banner 1600,SP-90,L77,50';

/** A delivery as a list: looked at row by row first, then received; rows that can't be are said and stay in the field. */
export function ImportList({ onDone }: { readonly onDone: () => void }) {
  const [csv, setCsv] = useState('');
  const [seen, setSeen] = useState<SpoolImportAnswer>();
  const [wrong, setWrong] = useState<string>();
  const { say } = useNotice();
  const send = (preview: boolean): void => {
    sendJson<SpoolImportAnswer>('POST', '/api/spools/import', { csv, preview })
      .then((answer) => {
        setWrong(undefined);
        if (preview) {
          setSeen(answer);
          return;
        }
        say(`${counted(answer.received, 'spool')} received`);
        onDone();
      })
      .catch((error: unknown) => {
        setSeen(undefined);
        setWrong(errorText(error));
      });
  };
  const sound = seen?.rows.filter(({ trouble }) => trouble === null).length ?? 0;
  return (
    <Section title="Or a whole delivery as a list">
      <p className="mb-1 text-soft">
        CSV with the columns stock, label and length (metres, or sheets); lot, width (mm), place and kind if you like.
      </p>
      <textarea
        aria-label="List of what came in"
        rows={4}
        placeholder={EXAMPLE}
        value={csv}
        onChange={(event) => {
          setCsv(event.target.value);
          setSeen(undefined);
        }}
        className={`${FIELD} h-auto! w-full font-mono`}
      />
      <input
        type="file"
        aria-label="List as a file"
        accept=".csv,text/csv"
        className="my-1 block w-full"
        onChange={(event) => {
          void event.target.files?.[0]?.text().then((text) => {
            setCsv(text);
            setSeen(undefined);
          });
        }}
      />
      <FieldError text={wrong} />
      {seen && (
        <ul aria-label="Rows of the list">
          {seen.rows.map(({ row, stock, sheetMm, label, lengthMm, trouble }) => (
            <li key={row} className="flex justify-between gap-2 border-t border-rule py-0.5">
              <span className="min-w-0 truncate">
                <span className="font-medium">{label}</span> <span className="text-soft">{stock}</span>
              </span>
              <span className={trouble === null ? '' : 'text-stop'}>
                {trouble === null ? leftText({ leftMm: lengthMm ?? 0, sheetMm }) : `row ${String(row)}: ${trouble}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      <div className="mt-1 flex gap-2">
        <Button
          disabled={csv.trim() === ''}
          onClick={() => {
            send(true);
          }}
        >
          Look at it
        </Button>
        {seen && sound > 0 && (
          <Button
            kind="main"
            onClick={() => {
              send(false);
            }}
          >
            Receive {counted(sound, 'spool')}
          </Button>
        )}
      </div>
    </Section>
  );
}

import { number } from '../../../ui/text/number.ts';
import { FlyOut } from '../../../ui/FlyOut.tsx';
import { QrCode } from 'lucide-react';
import { useState } from 'react';
import { CODE_KINDS, type CodeKind } from '../../../../core/layout/marks/markSettings.ts';
import { getFile, keepFile } from '../../../api/client.ts';
import type { JobItem } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { CODE_NAMES } from '../../../draw/codeNames.ts';
import { Button } from '../../../ui/Button.tsx';
import { Row } from '../../../ui/Sheet.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';

/** Sheets of codes for the chosen jobs, to be hung up on the floor and scanned. */
export function WorksheetButton({ jobs }: { readonly jobs: readonly JobItem[] }) {
  const { tell } = useNotice();
  const [columns, setColumns] = useState(3);
  const [rows, setRows] = useState(6);
  const [kind, setKind] = useState<CodeKind>('qr');
  const sheets = Math.ceil(jobs.length / (columns * rows));
  return (
    <FlyOut
      title="Worksheet"
      up
      button={
        <>
          <QrCode size={15} aria-hidden="true" /> Worksheet
        </>
      }
      buttonClass="inline-flex h-8 items-center gap-1.5 rounded-md border border-rule px-3 font-medium hover:border-soft"
      panelClass="w-80 p-3"
    >
      {(close) => (
        <div className="flex flex-col gap-1">
          <Row label="Places a sheet">
            <span className="inline-flex items-center gap-1">
              <NumberInput
                label="Columns of the worksheet"
                value={columns}
                whole
                least={1}
                most={12}
                onChange={setColumns}
              />
              <span className="text-soft">×</span>
              <NumberInput label="Rows of the worksheet" value={rows} whole least={1} most={30} onChange={setRows} />
            </span>
          </Row>
          <Row label="Code">
            <Select
              label="Code of the worksheet"
              value={kind}
              choices={CODE_KINDS.map((value) => ({ value, text: CODE_NAMES[value] }))}
              onChange={setKind}
            />
          </Row>
          <Button
            className="mt-2"
            onClick={() => {
              getFile('/api/worksheets', { jobIds: jobs.map((job) => job.id), columns, rows, kind })
                .then(keepFile)
                .then(() => {
                  close();
                })
                .catch(tell);
            }}
          >
            Take {number(sheets)} {sheets === 1 ? 'sheet' : 'sheets'} as PDF
          </Button>
        </div>
      )}
    </FlyOut>
  );
}

import { useEffect, useRef, useState } from 'react';
import type { PurgeDesignBody, PurgeDesignView } from '../../../../contract/api/care.ts';
import { getJson, sendJson } from '../../../api/client.ts';
import { type Printer, useDesigns } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { Section } from '../../../ui/Sheet.tsx';

/** The same design on another printer, with what differs said before it is kept. */
export function CopyTo({
  design,
  printers,
  onKept,
  onClose,
}: {
  readonly design: PurgeDesignView;
  readonly printers: readonly Printer[];
  readonly onKept: (id: string) => void;
  readonly onClose: () => void;
}) {
  const [copy, setCopy] = useState<{ readonly body: PurgeDesignBody; readonly differences: readonly string[] }>();
  const { mutate } = useDesigns();
  const { tell } = useNotice();
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  const others = printers.filter(({ id }) => id !== design.printerId);
  return (
    <Section title="Copy to another printer">
      <Select
        label="Copy to another printer"
        value={copy?.body.printerId}
        unchosen="which?"
        choices={others.map(({ id, name }) => ({ value: id, text: name }))}
        onChange={(id) => {
          getJson<typeof copy>(`/api/purges/${design.id}/for/${id}`).then(setCopy, tell);
        }}
      />
      {copy && (
        <>
          <ul className="my-2 list-disc pl-5">
            {copy.differences.length === 0 && <li>Nothing differs.</li>}
            {copy.differences.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
          <Button
            onClick={() => {
              sendJson<PurgeDesignView>('POST', '/api/purges', copy.body)
                .then(async ({ id }) => {
                  await mutate();
                  // Who has opened something else meanwhile is left there.
                  if (here.current) onKept(id);
                })
                .catch(tell);
            }}
          >
            Keep the copy
          </Button>
        </>
      )}
      <div className="mt-3 flex justify-end">
        <Button
          kind="danger"
          onClick={() => {
            sendJson('DELETE', `/api/purges/${design.id}`)
              .then(() => mutate())
              .then(onClose)
              .catch(tell);
          }}
        >
          Remove the design
        </Button>
      </div>
    </Section>
  );
}

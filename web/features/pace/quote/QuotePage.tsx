import { ArrowLeft, Upload } from 'lucide-react';
import { type ReactNode, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import type { UploadResult } from '../../../../contract/api/job.ts';
import type { QuoteView } from '../../../../contract/api/pace/quote.ts';
import { errorText, sendForm } from '../../../api/client.ts';
import { useQueues, useStocks } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { May } from '../../../people/May.tsx';
import { Button } from '../../../ui/Button.tsx';
import { PageError } from '../../../ui/PageError.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { TextInput } from '../../../ui/fields/TextInput.tsx';
import { useWindowDrop } from '../../../ui/useWindowDrop.ts';
import { QuoteFigures } from './QuoteFigures.tsx';

const ACCEPTED = '.pdf,.png,.jpg,.jpeg,.tif,.tiff,.svg';

/** What a file would cost, in so many copies, on each printer, by when. Nothing is kept unless it is brought in. */
export function QuotePage() {
  const { data: queues = [], error } = useQueues();
  const { data: stocks = [] } = useStocks();
  const [queueId, setQueueId] = useState('');
  const [stockId, setStockId] = useState('');
  const [copies, setCopies] = useState('1, 10, 100');
  const [file, setFile] = useState<{ readonly file: File; readonly no: number }>();
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const { tell, say } = useNotice();
  const go = useNavigate();
  const queue = queues.find(({ id }) => id === queueId) ?? queues[0];
  const take = ([first]: readonly File[]): void => {
    if (first) setFile((before) => ({ file: first, no: (before?.no ?? 0) + 1 }));
  };
  useWindowDrop(setOver, take);
  const formOf = (field: string, more: Readonly<Record<string, string>>, ticket: object): FormData => {
    const form = new FormData();
    form.append('queueId', queue?.id ?? '');
    for (const [key, value] of Object.entries(more)) form.append(key, value);
    const stock = stocks.find(({ id }) => id === stockId);
    form.append('ticket', JSON.stringify({ ...(stock ? { stock: stock.name } : {}), ...ticket }));
    if (file) form.append(field, file.file, file.file.name);
    return form;
  };
  const asked = useSWR<QuoteView, Error>(
    file && queue ? ['quote', file.no, queue.id, stockId, copies] : null,
    () => sendForm<QuoteView>('/api/quote', formOf('file', { copies }, {})),
    { revalidateOnFocus: false, shouldRetryOnError: false, keepPreviousData: false },
  );
  const bringIn = (count: number): void => {
    sendForm<UploadResult>('/api/jobs', formOf('files', {}, { copies: count }))
      .then(({ accepted, refused }) => {
        if (accepted.length === 0) throw new Error(refused[0]?.reason ?? 'It was not taken in.');
        say(`${file?.file.name ?? 'The file'} is in ${queue?.name ?? 'its queue'}`);
        return go('/intake');
      })
      .catch(tell);
  };
  if (error && queues.length === 0) return <PageError>{errorText(error)}</PageError>;
  return (
    <section className="h-full overflow-y-auto px-5 py-3">
      <header
        className={`mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 ${over ? 'rounded bg-spool text-on-spool' : ''}`}
      >
        <Link to="/pace" className="inline-flex items-center gap-1 text-tide underline">
          <ArrowLeft size={16} aria-hidden="true" /> Pace
        </Link>
        <h1 className="text-lg font-semibold">Quote</h1>
        <span className="flex items-center gap-2">
          <Upload size={18} aria-hidden="true" className={over ? '' : 'text-soft'} />
          {over ? 'Drop the file here' : 'Drop a file anywhere, or'}
          <button type="button" className="font-medium text-tide underline" onClick={() => input.current?.click()}>
            choose it
          </button>
          <input
            ref={input}
            type="file"
            hidden
            aria-label="File"
            accept={ACCEPTED}
            onChange={(event) => {
              take([...(event.target.files ?? [])]);
              event.target.value = '';
            }}
          />
        </span>
      </header>
      <div className="mb-4 flex flex-wrap items-end gap-x-4 gap-y-2">
        <Labelled text="As work of">
          <Select
            label="Queue"
            value={queue?.id}
            unchosen="no queue"
            choices={queues.map(({ id, name }) => ({ value: id, text: name }))}
            onChange={setQueueId}
          />
        </Labelled>
        <Labelled text="On">
          <Select
            label="Stock"
            value={stockId}
            choices={[
              { value: '', text: 'the queue’s stock' },
              ...stocks.map(({ id, name }) => ({ value: id, text: name })),
            ]}
            onChange={setStockId}
          />
        </Labelled>
        <Labelled text="Copies">
          <TextInput label="Copies" value={copies} most={60} className="w-36" onChange={setCopies} />
        </Labelled>
      </div>
      <div aria-live="polite" aria-busy={asked.isLoading}>
        {!file && (
          <p className="text-soft">
            The file is read, checked, laid out and planned as a job would be. It is not kept, and nothing is printed.
          </p>
        )}
        {file && asked.isLoading && <p className="text-soft">Working out what {file.file.name} costs …</p>}
        {asked.error && <p className="text-stop">{errorText(asked.error)}</p>}
        {file && asked.data && (
          <QuoteFigures
            quote={asked.data}
            action={(count) => (
              <May right="coordinate">
                <Button
                  kind="quiet"
                  onClick={() => {
                    bringIn(count);
                  }}
                >
                  Bring it in
                </Button>
              </May>
            )}
          />
        )}
      </div>
    </section>
  );
}

function Labelled({ text, children }: { readonly text: string; readonly children: ReactNode }) {
  return (
    <span className="block">
      <span className="dense block text-soft">{text}</span>
      {children}
    </span>
  );
}

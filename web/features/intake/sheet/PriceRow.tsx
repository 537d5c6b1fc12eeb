import type { JobDetail } from '../../../../contract/api/job.ts';
import { sendJson } from '../../../api/client.ts';
import { useNotice } from '../../../app/notice.tsx';
import { useMay } from '../../../people/May.tsx';
import { Button } from '../../../ui/Button.tsx';
import { MoneyInput } from '../../../ui/fields/MoneyInput.tsx';
import { number } from '../../../ui/text/number.ts';
import { Section } from '../../../ui/Sheet.tsx';

/** What all pieces of a job bring: nights are proposed by what they are worth. */
export function PriceRow({ job }: { readonly job: JobDetail }) {
  const { tell } = useNotice();
  const may = useMay('coordinate');
  const { priceMinor } = job;
  const set = (minor: number | null): void => {
    sendJson('PUT', `/api/jobs/${job.id}/price`, { priceMinor: minor }).catch(tell);
  };
  return (
    <Section title="Price">
      <p className="flex flex-wrap items-center gap-2">
        {may ? (
          <MoneyInput label="Price of the job" minor={priceMinor ?? undefined} placeholder="none" onChange={set} />
        ) : (
          <span>{priceMinor === null ? 'none' : number(priceMinor / 100, 2)}</span>
        )}
        <span className="text-soft">
          {priceMinor === null ? 'None: a night counts it by its cost.' : 'For all of its pieces.'}
        </span>
        {priceMinor !== null && may && (
          <Button
            kind="quiet"
            onClick={() => {
              set(null);
            }}
          >
            No price
          </Button>
        )}
      </p>
    </Section>
  );
}

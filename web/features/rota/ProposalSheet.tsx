import useSWR from 'swr';
import type { TimerProposals } from '../../../contract/api/care.ts';
import { sendJson } from '../../api/client.ts';
import { usePrinters } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { moneyText } from '../../draw/money.ts';
import { Button } from '../../ui/Button.tsx';
import { number } from '../../ui/text/number.ts';
import { Row, Section, Sheet } from '../../ui/Sheet.tsx';
import { useTimers } from './useRota.ts';
import { Changeable } from '../../people/May.tsx';

const PROPOSALS = '/api/timers/proposals';

/** Timers that would keep nozzles from clogging, beside what is planned: each with its ink and what it prevents. */
export function ProposalSheet({ onClose, onDesign }: { readonly onClose: () => void; readonly onDesign: () => void }) {
  const { data: proposals, mutate } = useSWR<TimerProposals, Error>(PROPOSALS);
  const { data: printers = [] } = usePrinters();
  const { mutate: timersAnew } = useTimers();
  const { tell } = useNotice();
  const make = ({ printerId, designId, rrule, startLocal }: TimerProposals[number]): void => {
    const what = { kind: 'purge' as const, designId };
    const how = { untilLocal: null, skipHolidays: false, missed: 'catch-up' as const, slackMin: 60, paused: false };
    sendJson('POST', '/api/timers', { printerIds: [printerId], what, rrule, startLocal, ...how })
      .then(() => Promise.all([timersAnew(), mutate()]))
      .catch(tell);
  };
  return (
    <Sheet title="Timers proposed" onClose={onClose} wide>
      <Changeable right="coordinate" what="what is proposed">
        <p className="mb-3 text-soft">
          For each purge the rarest rhythm with which hardly a nozzle clogs in a week, beside the work that is planned
          and the timers that are there.
        </p>
        {proposals?.length === 0 && (
          <>
            <p>What is planned is enough for every purge that is designed: nothing is proposed.</p>
            <Button className="mt-3" onClick={onDesign}>
              Design a purge
            </Button>
          </>
        )}
        {proposals?.map((proposal) => (
          <Section
            key={proposal.designId}
            title={`${printers.find(({ id }) => id === proposal.printerId)?.name ?? ''}: ${proposal.title}`}
          >
            <p className="mb-1">{proposal.text}</p>
            <Row label="Clogs in a week, now">{number(proposal.clogsBefore, 1)}</Row>
            <Row label="Prevented by it">{number(proposal.clogsBefore - proposal.clogs, 1)}</Row>
            <Row label="Ink in a week">{number(proposal.inkMl, 2)} ml</Row>
            <Row label="Ink and media in a week">{moneyText(proposal.costMinor, proposal.currency)}</Row>
            <Button
              className="mt-2 w-full"
              onClick={() => {
                make(proposal);
              }}
            >
              Make this timer
            </Button>
          </Section>
        ))}
      </Changeable>
    </Sheet>
  );
}

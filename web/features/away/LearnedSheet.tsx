import { Link } from 'react-router';
import type { AwayLearned } from '../../../contract/api/away.ts';
import { errorText } from '../../api/client.ts';
import { useLearned } from '../../api/away.ts';
import { dateText, useZone } from '../../app/shopTime.ts';
import { Row, Section, Sheet } from '../../ui/Sheet.tsx';
import { counted } from '../../ui/text/counted.ts';
import { number } from '../../ui/text/number.ts';

/** From what the odds are reckoned: this shop's own log, printer by printer and stock by stock. */
export function LearnedSheet({ onClose }: { readonly onClose: () => void }) {
  const { data, error } = useLearned(true);
  return (
    <Sheet
      title="From what the odds are reckoned"
      under={<p className="text-soft">The log of the last year. A shop with little in it has wide odds, not none.</p>}
      onClose={onClose}
      wide
    >
      {error && <p className="text-stop">{errorText(error)}</p>}
      {!data && !error && <p className="text-soft">Reading …</p>}
      {data?.printers.map((printer) => (
        <PrinterLearned key={printer.printerId} printer={printer} />
      ))}
      {data && (
        <Section title="Media">
          {data.stocks.map(({ stockId, name, jams, flaws, metres }) => (
            <Row key={stockId} label={name}>
              {counted(jams, 'jam')}, {counted(flaws, 'flaw')} in {number(metres)} m
            </Row>
          ))}
        </Section>
      )}
      {data && (
        <Section title="Repairs">
          <Row label="Typical, once somebody is there">
            {number(data.repair.minutes)} min, from {counted(data.repair.seen, 'repair')}
          </Row>
        </Section>
      )}
    </Sheet>
  );
}

/** Faults in a hundred hours are easier to think of than in one. */
const PER = 100;

function PrinterLearned({ printer }: { readonly printer: AwayLearned['printers'][number] }) {
  const zone = useZone();
  const { faults, hours, othersFaults, othersHours, rate, low, high, worst, timeFactor, timeRuns } = printer;
  return (
    <Section
      title={printer.name}
      aside={
        <Link to={`/heads?printer=${printer.printerId}`} className="text-tide underline">
          Its heads
        </Link>
      }
    >
      <Row label="Seen here">
        {counted(faults, 'fault')} in {number(hours, hours < 10 ? 1 : 0)} h
      </Row>
      <Row label="On the others">
        {counted(othersFaults, 'fault')} in {number(othersHours, 0)} h
      </Row>
      <Row label={`Faults in ${String(PER)} h`}>
        {number(rate * PER, 2)}{' '}
        <span className="text-soft">
          ({number(low * PER, 2)} to {number(high * PER, 2)})
        </span>
      </Row>
      {worst && (
        <Row label={`Without ${dateText(worst.fromMs, zone)}`}>
          {number(worst.rateWithout * PER, 2)}{' '}
          <span className="text-soft">
            ({counted(worst.faults, 'fault')}: {worst.causes.join(', ')})
          </span>
        </Row>
      )}
      <Row label="Time, actual to planned">
        {number(timeFactor * 100, 1)} % <span className="text-soft">from {counted(timeRuns, 'run')}</span>
      </Row>
    </Section>
  );
}

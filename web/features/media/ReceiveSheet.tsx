import { useState } from 'react';
import { errorText, sendJson } from '../../api/client.ts';
import { type SpoolView, useStocks } from '../../api/data.ts';
import { Button } from '../../ui/Button.tsx';
import { Row, Sheet } from '../../ui/Sheet.tsx';
import { amountOf } from './SpoolSheet.tsx';

const FIELD = 'h-8 w-40 rounded border border-rule bg-card px-2';

/** A roll or a pack that has come in. */
export function ReceiveSheet({ onClose }: { readonly onClose: (id?: string) => void }) {
  const { data: stocks = [] } = useStocks();
  const [stockId, setStockId] = useState('');
  const [label, setLabel] = useState('');
  const [lot, setLot] = useState('');
  const [amount, setAmount] = useState('');
  const [place, setPlace] = useState('rack');
  const [problem, setProblem] = useState<string>();
  const stock = stocks.find(({ id }) => id === stockId);
  const lengthMm = stock && amountOf(amount, stock);
  const take = (): void => {
    sendJson<SpoolView>('POST', '/api/spools', { stockId, label, lot, lengthMm, place })
      .then((made) => {
        onClose(made.id);
      })
      .catch((error: unknown) => {
        setProblem(errorText(error));
      });
  };
  return (
    <Sheet
      title="Something has come in"
      onClose={() => {
        onClose();
      }}
    >
      <Row label="Stock">
        <select
          aria-label="Stock"
          value={stockId}
          onChange={(event) => {
            setStockId(event.target.value);
          }}
          className={FIELD}
        >
          <option value="" disabled>
            which?
          </option>
          {stocks.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </Row>
      <Row label="Label">
        <input
          aria-label="Label"
          value={label}
          placeholder="SP-47"
          maxLength={40}
          onChange={(event) => {
            setLabel(event.target.value);
          }}
          className={FIELD}
        />
      </Row>
      <Row label="Lot">
        <input
          aria-label="Lot"
          value={lot}
          maxLength={60}
          onChange={(event) => {
            setLot(event.target.value);
          }}
          className={FIELD}
        />
      </Row>
      <Row label={stock?.sheetMm == null ? 'Length' : 'Sheets'}>
        <input
          aria-label="How much"
          value={amount}
          placeholder={stock?.sheetMm == null ? '50 m' : '100'}
          onChange={(event) => {
            setAmount(event.target.value);
          }}
          className={FIELD}
        />
      </Row>
      <Row label="Stands">
        <input
          aria-label="Stands"
          value={place}
          maxLength={60}
          onChange={(event) => {
            setPlace(event.target.value);
          }}
          className={FIELD}
        />
      </Row>
      {problem !== undefined && (
        <p role="alert" className="mt-2 text-stop">
          {problem}
        </p>
      )}
      <Button
        kind="main"
        className="mt-3 w-full"
        disabled={lengthMm === undefined || lengthMm <= 0 || label.trim() === ''}
        onClick={take}
      >
        Put it on the rack
      </Button>
    </Sheet>
  );
}

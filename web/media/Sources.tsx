import { Figure } from '../ui/Figure.tsx';
import { acrossText } from '../ui/text/lengths.ts';
import { useState } from 'react';
import { sendJson } from '../api/client.ts';
import type { Printer } from '../api/data.ts';
import { useNotice } from '../app/notice.tsx';
import { SpoolSign } from '../draw/SpoolSign.tsx';
import { Button } from '../ui/Button.tsx';
import { LoadPanel } from './LoadPanel.tsx';
import { leftFigure } from './spoolText.ts';
import { useMay } from '../people/May.tsx';

/** What stands in each source of a printer, and the way to change it. */
export function Sources({
  printer,
  wantedStockId,
  offered,
}: {
  readonly printer: Printer;
  readonly wantedStockId: string | null;
  /** A spool that was brought to one of its sources: loading it begins at once. */
  readonly offered?: { readonly sourceId: string; readonly spoolId: string } | undefined;
}) {
  const [loading, setLoading] = useState(offered?.sourceId);
  const { tell } = useNotice();
  const mayLoad = useMay('operate');
  return (
    <>
      {printer.config.sources.map((source) => {
        const spool = printer.spools.find((each) => each.sourceId === source.id);
        const told = printer.measured.find((media) => media.sourceId === source.id && media.tag === spool?.id);
        return (
          <div key={source.id} className="mb-3 last:mb-0">
            <div className="flex items-center gap-3">
              {spool && <SpoolSign {...spool} size={44} label={`${spool.label} on ${source.name}`} />}
              <div className="min-w-0 flex-1">
                <p className="text-soft">{source.name}</p>
                {spool ? (
                  <>
                    <p>
                      {spool.label} {spool.stockName},{' '}
                      <Figure value={leftFigure(spool).value} unit={`${leftFigure(spool).unit} left`} />
                    </p>
                    {spool.sheetMm === null && (
                      <p className="dense text-soft">
                        {told ? `measures ${acrossText(told.widthMm)}` : `${acrossText(spool.widthMm)}, as booked`}
                        {spool.takeUp ? `, taken up ${spool.takeUp.winding}, ${spool.takeUp.tension}` : ''}
                      </p>
                    )}
                  </>
                ) : (
                  <p>empty</p>
                )}
              </div>
            </div>
            {!mayLoad ? null : loading === source.id ? (
              <div className="mt-2">
                <LoadPanel
                  printer={printer}
                  sourceId={source.id}
                  wantedStockId={wantedStockId}
                  spoolId={offered?.sourceId === source.id ? offered.spoolId : undefined}
                  onDone={() => {
                    setLoading(undefined);
                  }}
                />
              </div>
            ) : (
              <div className="mt-1.5 flex gap-2">
                <Button
                  aria-label={`Load another spool on ${source.name}`}
                  onClick={() => {
                    setLoading(source.id);
                  }}
                >
                  {spool ? 'Load another' : 'Load'}
                </Button>
                {spool && (
                  <Button
                    kind="quiet"
                    onClick={() => {
                      sendJson('POST', `/api/spools/${spool.id}/unload`).catch(tell);
                    }}
                  >
                    Take out
                  </Button>
                )}
              </div>
            )}
          </div>
        );
      })}
    </>
  );
}

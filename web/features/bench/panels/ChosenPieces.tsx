import { sizeText } from '../../../ui/text/lengths.ts';
import { counted } from '../../../ui/text/counted.ts';
import { type Alignment, aligned, distributed } from '../../../../core/layout/arrange/byHand.ts';
import type { RunDetail } from '../../../api/data.ts';
import { Button } from '../../../ui/Button.tsx';
import { Section } from '../../../ui/Sheet.tsx';
import { angleText, atCorners, laidPieces, turnedPlaces, withLock } from '../state/layoutState.ts';
import type { Bench } from '../state/useBench.ts';
import { LengthRow } from '../../../ui/fields/LengthRow.tsx';

interface ChosenPiecesProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly selected: ReadonlySet<string>;
}

/** What can be done with the chosen pieces, and the place of a single one in figures. */
export function ChosenPieces({ run, bench, selected }: ChosenPiecesProps) {
  return (
    <Section title="Chosen">
      {selected.size === 1 ? (
        <OnePiece run={run} bench={bench} selected={selected} />
      ) : (
        <p className="mb-1">{counted(selected.size, 'piece')}</p>
      )}
      {bench.editable && <Hands run={run} bench={bench} selected={selected} />}
    </Section>
  );
}

/** Place and turn of the one piece that is chosen, to be typed. A locked one shows them only. */
function OnePiece({ run, bench, selected }: ChosenPiecesProps) {
  const [key] = selected;
  const piece = run.pieces.find((each) => each.pieceId === key);
  const place = key === undefined ? undefined : bench.layout.places.get(key);
  if (!piece || !place || key === undefined) return null;
  const put = (change: Partial<typeof place>): void => {
    bench.settle(bench.layout, new Map(bench.layout.places).set(key, { ...place, ...change }));
  };
  const fixed = !bench.editable || place.locked === true;
  return (
    <>
      <p className="truncate" title={piece.sourceName}>
        {piece.sourceName}
      </p>
      <p className="mb-1 text-soft">
        copy {piece.copy + 1}, {sizeText(piece.widthMm, piece.heightMm)}
        {angleText(place.angleDeg)}
      </p>
      <LengthRow
        label="Along the feed"
        valueMm={place.yMm}
        mostMm={1e6}
        disabled={fixed}
        onChange={(yMm) => {
          put({ yMm });
        }}
      />
      <LengthRow
        label="From the left"
        valueMm={place.xMm}
        mostMm={run.mediaWidthMm}
        disabled={fixed}
        onChange={(xMm) => {
          put({ xMm });
        }}
      />
    </>
  );
}

const ALIGNMENTS: readonly (readonly [how: Alignment, text: string])[] = [
  ['left', 'left'],
  ['middle', 'middle'],
  ['right', 'right'],
  ['lead', 'lead'],
  ['centre', 'centre'],
  ['trail', 'trail'],
];

/** What can be done with the chosen pieces by one press: turn, lock, align, spread. Locked ones stay where they are. */
function Hands({ run, bench, selected }: ChosenPiecesProps) {
  const { places } = bench.layout;
  const keys = [...selected];
  const free = new Set(keys.filter((key) => places.get(key)?.locked !== true));
  const allLocked = free.size === 0;
  const chosen = laidPieces(run, places).filter((piece) => free.has(piece.key));
  const settle = (next: typeof places): void => {
    bench.settle(bench.layout, next);
  };
  return (
    <div className="mt-2 flex flex-col gap-2">
      <div className="flex gap-2">
        <Button
          className="flex-1"
          title="k"
          onClick={() => {
            settle(withLock(places, keys, !allLocked));
          }}
        >
          {allLocked ? 'Unlock' : 'Lock'}
        </Button>
        <Button
          className="flex-1"
          title="r"
          disabled={allLocked}
          onClick={() => {
            settle(turnedPlaces(run, places, free));
          }}
        >
          Turn
        </Button>
      </div>
      {chosen.length > 1 && (
        <>
          <span className="-mb-1 text-soft">Align</span>
          <div className="grid grid-cols-3 gap-1" role="group" aria-label="Align">
            {ALIGNMENTS.map(([how, text]) => (
              <Button
                key={how}
                className="justify-center"
                title={`Align by ${text}`}
                onClick={() => {
                  settle(atCorners(places, aligned(chosen, how)));
                }}
              >
                {text}
              </Button>
            ))}
          </div>
          <div className="grid grid-cols-2 gap-1" role="group" aria-label="Equal gaps">
            {(['across', 'feed'] as const).map((along) => (
              <Button
                key={along}
                className="justify-center"
                disabled={chosen.length < 3}
                title={`Equal gaps ${along === 'across' ? 'across the media' : 'along the feed'}`}
                onClick={() => {
                  settle(atCorners(places, distributed(chosen, along)));
                }}
              >
                spread {along === 'across' ? 'across' : 'along'}
              </Button>
            ))}
          </div>
        </>
      )}
    </div>
  );
}

import type { RunDetail } from '../../api/data.ts';
import { sizeText } from '../../ui/Figure.tsx';
import { LengthField } from '../../ui/LengthField.tsx';
import { Section } from '../../ui/Sheet.tsx';
import type { Bench } from './useBench.ts';

/** Place of the chosen piece in figures. */
export function ChosenPieces({
  run,
  bench,
  selected,
}: {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly selected: ReadonlySet<string>;
}) {
  const [key] = selected;
  const piece = run.pieces.find((each) => each.pieceId === key);
  const place = key === undefined ? undefined : bench.layout.places.get(key);
  if (selected.size > 1)
    return (
      <Section title="Chosen">
        <p>{selected.size} pieces. Arrows move them, r turns them.</p>
      </Section>
    );
  if (!piece || !place || key === undefined) return null;
  const put = (change: Partial<typeof place>): void => {
    bench.settle(bench.layout, new Map(bench.layout.places).set(key, { ...place, ...change }));
  };
  return (
    <Section title="Chosen">
      <p className="truncate" title={piece.sourceName}>
        {piece.sourceName}
      </p>
      <p className="mb-1 text-soft">
        copy {piece.copy + 1}, {sizeText(piece.widthMm, piece.heightMm)} mm{place.turned ? ', turned' : ''}
      </p>
      <LengthField
        label="Along the feed"
        valueMm={place.yMm}
        mostMm={1e6}
        disabled={!bench.editable}
        onChange={(yMm) => {
          put({ yMm });
        }}
      />
      <LengthField
        label="From the left"
        valueMm={place.xMm}
        mostMm={run.mediaWidthMm}
        disabled={!bench.editable}
        onChange={(xMm) => {
          put({ xMm });
        }}
      />
    </Section>
  );
}

import {
  CODE_KINDS,
  type CodeKind,
  MARK_AT,
  MARK_PER,
  type MarkAt,
  type MarkPer,
  type MarkSettings,
} from '../../../../core/layout/marks/markSettings.ts';
import { CODE_NAMES } from '../../../draw/codeNames.ts';
import { ChoiceField, YesField } from '../../../ticket/fields.tsx';
import { LengthField } from '../../../ui/LengthField.tsx';
import { Row } from '../../../ui/Sheet.tsx';
import { MarkGroup } from './MarkGroup.tsx';
import { PatternInput } from './PatternInput.tsx';
import type { Bench } from '../state/useBench.ts';

const PIECE_WORDS = '{job} {order} {customer} {copy} {of} {page} {part} {panel}';
const PER_NAMES: Readonly<Record<MarkPer, string>> = { piece: 'each piece', job: 'the first piece of each job' };

export type SetMark = <K extends keyof MarkSettings>(key: K, change: Partial<MarkSettings[K]>) => void;

/** What is written at pieces: labels and codes. */
export function PieceTexts({
  marks: { label, pieceCode },
  set,
  bench,
  white,
}: {
  readonly marks: MarkSettings;
  readonly set: SetMark;
  readonly bench: Bench;
  readonly white: boolean;
}) {
  return (
    <>
      <MarkGroup
        title="Labels"
        on={label.on}
        onSwitch={(on) => {
          set('label', { on });
        }}
        bench={bench}
      >
        <PlaceRows
          what="label"
          place={label}
          onChange={(change) => {
            set('label', change);
          }}
        />
        <LengthField
          label="Label height"
          valueMm={label.heightMm}
          leastMm={1}
          mostMm={50}
          onChange={(heightMm) => {
            set('label', { heightMm });
          }}
        />
        <PatternInput
          label="The label says"
          value={label.pattern}
          words={PIECE_WORDS}
          onChange={(pattern) => {
            set('label', { pattern });
          }}
        />
      </MarkGroup>
      <MarkGroup
        title="Codes on pieces"
        on={pieceCode.on}
        onSwitch={(on) => {
          set('pieceCode', { on });
        }}
        bench={bench}
      >
        <CodeKindRow
          label="Kind of the codes on pieces"
          kind={pieceCode.kind}
          onChange={(kind) => {
            set('pieceCode', { kind });
          }}
        />
        <PlaceRows
          what="code"
          place={pieceCode}
          onChange={(change) => {
            set('pieceCode', change);
          }}
        />
        <LengthField
          label="Height of a code"
          valueMm={pieceCode.heightMm}
          leastMm={3}
          mostMm={200}
          onChange={(heightMm) => {
            set('pieceCode', { heightMm });
          }}
        />
        <PatternInput
          label="A piece’s code says"
          value={pieceCode.pattern}
          words={PIECE_WORDS}
          onChange={(pattern) => {
            set('pieceCode', { pattern });
          }}
        />
        {white && (
          <WhiteRow
            on={pieceCode.white}
            onChange={(on) => {
              set('pieceCode', { white: on });
            }}
          />
        )}
      </MarkGroup>
    </>
  );
}

/** At which pieces, on which side, and how far from the artwork. */
function PlaceRows({
  what,
  place,
  onChange,
}: {
  readonly what: string;
  readonly place: { readonly per: MarkPer; readonly at: MarkAt; readonly awayMm: number };
  readonly onChange: (change: { per?: MarkPer; at?: MarkAt; awayMm?: number }) => void;
}) {
  return (
    <>
      <Row label="One at">
        <ChoiceField
          label={`Pieces with a ${what}`}
          value={place.per}
          choices={MARK_PER.map((per) => ({ value: per, text: PER_NAMES[per] }))}
          onChange={(value) => {
            const per = MARK_PER.find((each) => each === value);
            if (per) onChange({ per });
          }}
        />
      </Row>
      <Row label="Side">
        <ChoiceField
          label={`Side of a ${what}`}
          value={place.at}
          choices={MARK_AT.map((at) => ({ value: at, text: `${at} the piece` }))}
          onChange={(value) => {
            const at = MARK_AT.find((each) => each === value);
            if (at) onChange({ at });
          }}
        />
      </Row>
      <LengthField
        label={`From the artwork to the ${what}`}
        valueMm={place.awayMm}
        leastMm={0.5}
        mostMm={50}
        onChange={(awayMm) => {
          onChange({ awayMm });
        }}
      />
    </>
  );
}

export function CodeKindRow({
  label,
  kind,
  onChange,
}: {
  readonly label: string;
  readonly kind: CodeKind;
  readonly onChange: (kind: CodeKind) => void;
}) {
  return (
    <Row label="Kind">
      <ChoiceField
        label={label}
        value={kind}
        choices={CODE_KINDS.map((each) => ({ value: each, text: CODE_NAMES[each] }))}
        onChange={(value) => {
          const next = CODE_KINDS.find((each) => each === value);
          if (next) onChange(next);
        }}
      />
    </Row>
  );
}

/** On clear or dark media a code is read on white only; on white media white would be wasted. */
export function WhiteRow({ on, onChange }: { readonly on: boolean; readonly onChange: (on: boolean) => void }) {
  return <YesField text="White under the code" value={on} onChange={onChange} />;
}

import { CODE_KINDS, MARK_AT, MARK_PER, type MarkPer } from '../../../../core/layout/marks/markSettings.ts';
import { CODE_NAMES } from '../../../draw/codeNames.ts';
import { MarkField, MarkGroup } from './MarkGroup.tsx';
import { MarkPattern } from './MarkPattern.tsx';

const PIECE_WORDS = '{job} {order} {customer} {copy} {of} {page} {part} {panel}';
const PER_NAMES: Readonly<Record<MarkPer, string>> = { piece: 'each piece', job: 'the first piece of each job' };

export const CODE_CHOICES = CODE_KINDS.map((kind) => ({ value: kind, text: CODE_NAMES[kind] }));

/** What is written at pieces: labels and codes. */
export function PieceTexts({ white }: { readonly white: boolean }) {
  return (
    <>
      <MarkGroup title="Labels" kind="label">
        <PlaceRows of="label" what="label" />
        <MarkField.Length name="label.heightMm" label="Label height" leastMm={1} mostMm={50} />
        <MarkPattern name="label.pattern" label="The label says" words={PIECE_WORDS} />
      </MarkGroup>
      <MarkGroup title="Codes on pieces" kind="pieceCode">
        <MarkField.Select
          name="pieceCode.kind"
          label="Kind"
          spoken="Kind of the codes on pieces"
          choices={CODE_CHOICES}
        />
        <PlaceRows of="pieceCode" what="code" />
        <MarkField.Length name="pieceCode.heightMm" label="Height of a code" leastMm={3} mostMm={200} />
        <MarkPattern name="pieceCode.pattern" label="A piece’s code says" words={PIECE_WORDS} />
        {/* On clear or dark media a code is read on white only; on white media white would be wasted. */}
        {white && <MarkField.Check name="pieceCode.white" label="White under the code" />}
      </MarkGroup>
    </>
  );
}

/** At which pieces, on which side, and how far from the artwork. */
function PlaceRows({ of, what }: { readonly of: 'label' | 'pieceCode'; readonly what: string }) {
  return (
    <>
      <MarkField.Select
        name={`${of}.per`}
        label="One at"
        spoken={`Pieces with a ${what}`}
        choices={MARK_PER.map((per) => ({ value: per, text: PER_NAMES[per] }))}
      />
      <MarkField.Select
        name={`${of}.at`}
        label="Side"
        spoken={`Side of a ${what}`}
        choices={MARK_AT.map((at) => ({ value: at, text: `${at} the piece` }))}
      />
      <MarkField.Length name={`${of}.awayMm`} label={`From the artwork to the ${what}`} leastMm={0.5} mostMm={50} />
    </>
  );
}

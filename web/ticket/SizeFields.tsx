import { Lock, LockOpen } from 'lucide-react';
import { useState } from 'react';
import type { TicketPartView } from '../../contract/api/ticket.ts';
import { useSizes } from '../api/data.ts';
import { NAMED_SIZES } from '../../core/ticket/sizeRule.ts';
import { TicketRow } from './TicketRow.tsx';
import type { TicketModel } from './model.ts';
import { LengthInput } from '../ui/fields/LengthInput.tsx';
import { NumberInput } from '../ui/fields/NumberInput.tsx';
import { Select } from '../ui/fields/Select.tsx';

type Rule = NonNullable<TicketPartView['size']>;
const KINDS: readonly { readonly value: Rule['kind']; readonly text: string }[] = [
  { value: 'as it came', text: 'as it came' },
  { value: 'exact', text: 'width and height' },
  { value: 'percent', text: 'percent' },
  { value: 'within', text: 'named size' },
  { value: 'media width', text: 'width of the media' },
  { value: 'length', text: 'length' },
];

/** A rule whose figures nobody has said yet: nothing is changed until somebody has. */
type Pending = 'exact' | 'percent' | 'within' | 'length';

/** Size, by one of six rules, and crop by figures. */
export function SizeFields({ model }: { readonly model: TicketModel }) {
  const { values, change } = model;
  const [pending, setPending] = useState<Pending>();
  const rule = values.size;
  const set = (size: Rule): void => {
    setPending(undefined);
    change({ size });
  };
  return (
    <>
      <TicketRow label="Size" name="size" model={model}>
        <Select
          label="Size by"
          value={pending ?? rule?.kind}
          choices={KINDS}
          onChange={(kind) => {
            if (kind === 'as it came' || kind === 'media width') set({ kind });
            else setPending(kind === rule?.kind ? undefined : kind);
          }}
        />
      </TicketRow>
      {pending !== undefined ? (
        <PendingFields kind={pending} onRule={set} />
      ) : (
        rule && <RuleFields rule={rule} onRule={set} />
      )}
      <CropRows model={model} />
    </>
  );
}

/** The fields of a rule that was chosen, empty: the first figure that is said makes it the job's. */
function PendingFields({ kind, onRule }: { readonly kind: Pending; readonly onRule: (rule: Rule) => void }) {
  const row = (content: React.ReactNode) => (
    <div className="mb-1 ml-[100px]">
      {content}
      <p className="dense mt-0.5 text-soft">Nothing is changed until a figure is set.</p>
    </div>
  );
  const { data: own = [] } = useSizes();
  switch (kind) {
    case 'exact':
      return row(<ExactFields rule={{ kind, widthMm: null, heightMm: null }} onRule={onRule} />);
    case 'percent':
      return row(<PercentFields rule={{ kind, x: 100, y: 100 }} onRule={onRule} />);
    case 'length':
      return row(
        <LengthInput
          label="Length"
          valueMm={null}
          leastMm={1}
          onChange={(mm) => {
            if (mm !== null) onRule({ kind, lengthMm: mm });
          }}
        />,
      );
    case 'within': {
      const sizes = [...own, ...NAMED_SIZES];
      return row(
        <Select
          label="Named size"
          value={undefined}
          unchosen="choose a size"
          choices={sizes.map(sizeChoice)}
          onChange={(name) => {
            const size = sizes.find((each) => each.name === name);
            if (size) onRule({ kind, ...size });
          }}
        />,
      );
    }
  }
}

function sizeChoice({ name, widthMm, heightMm }: (typeof NAMED_SIZES)[number]) {
  return { value: name, text: `${name}, ${widthMm.toFixed(0)} × ${heightMm.toFixed(0)}` };
}

/** The figures of the rule that is chosen; some need none. */
function RuleFields({ rule, onRule }: { readonly rule: Rule; readonly onRule: (rule: Rule) => void }) {
  const row = (content: React.ReactNode) => <div className="mb-1 ml-[100px]">{content}</div>;
  switch (rule.kind) {
    case 'as it came':
    case 'media width':
      return null;
    case 'exact':
      return row(<ExactFields rule={rule} onRule={onRule} />);
    case 'percent':
      return row(<PercentFields rule={rule} onRule={onRule} />);
    case 'length':
      return row(
        <LengthInput
          label="Length"
          valueMm={rule.lengthMm}
          leastMm={1}
          onChange={(mm) => {
            if (mm !== null) onRule({ ...rule, lengthMm: mm });
          }}
        />,
      );
    case 'within':
      return row(<NamedSizeField rule={rule} onRule={onRule} />);
  }
}

/** The shop's own sizes stand first. A size that has left the list stays what it was on the ticket that has it. */
function NamedSizeField({
  rule,
  onRule,
}: {
  readonly rule: Extract<Rule, { kind: 'within' }>;
  readonly onRule: (rule: Rule) => void;
}) {
  const { data: own = [] } = useSizes();
  const { kind: _kind, ...present } = rule;
  const listed = [...own, ...NAMED_SIZES];
  const sizes = listed.some((size) => size.name === present.name) ? listed : [present, ...listed];
  return (
    <Select
      label="Named size"
      value={rule.name}
      choices={sizes.map(sizeChoice)}
      onChange={(name) => {
        const size = sizes.find((each) => each.name === name);
        if (size) onRule({ kind: 'within', ...size });
      }}
    />
  );
}

/** With locked proportions the side that is typed rules; unlocked both do. */
function ExactFields({
  rule,
  onRule,
}: {
  readonly rule: Extract<Rule, { kind: 'exact' }>;
  readonly onRule: (rule: Rule) => void;
}) {
  const free = rule.widthMm !== null && rule.heightMm !== null;
  return (
    <span className="flex flex-wrap items-start gap-2">
      <LengthInput
        label="Width"
        valueMm={rule.widthMm}
        empty="width"
        leastMm={1}
        onChange={(mm) => {
          if (mm !== null || rule.heightMm !== null)
            onRule({ kind: 'exact', widthMm: mm, heightMm: free || mm === null ? rule.heightMm : null });
        }}
      />
      <LengthInput
        label="Height"
        valueMm={rule.heightMm}
        empty="height"
        leastMm={1}
        onChange={(mm) => {
          if (mm !== null || rule.widthMm !== null)
            onRule({ kind: 'exact', widthMm: free || mm === null ? rule.widthMm : null, heightMm: mm });
        }}
      />
      <button
        type="button"
        aria-pressed={!free}
        title={free ? 'Both sides are set: proportions are free. Lock them' : 'Proportions are locked. Free them'}
        aria-label="Proportions locked"
        className="mt-1 rounded p-0.5 text-tide hover:bg-rule/60"
        onClick={() => {
          if (free) onRule({ ...rule, heightMm: null });
          else if (rule.widthMm !== null || rule.heightMm !== null)
            onRule({ kind: 'exact', widthMm: rule.widthMm ?? rule.heightMm, heightMm: rule.heightMm ?? rule.widthMm });
        }}
      >
        {free ? <LockOpen size={15} aria-hidden="true" /> : <Lock size={15} aria-hidden="true" />}
      </button>
    </span>
  );
}

function PercentFields({
  rule,
  onRule,
}: {
  readonly rule: Extract<Rule, { kind: 'percent' }>;
  readonly onRule: (rule: Rule) => void;
}) {
  const [free, setFree] = useState(rule.x !== rule.y);
  return (
    <span className="flex items-center gap-2">
      <NumberInput
        label="Percent across"
        value={Math.round(rule.x)}
        whole
        least={1}
        most={100_000}
        onChange={(x) => {
          onRule({ kind: 'percent', x, y: free ? rule.y : x });
        }}
      />
      {free && (
        <NumberInput
          label="Percent down"
          value={Math.round(rule.y)}
          whole
          least={1}
          most={100_000}
          onChange={(y) => {
            onRule({ kind: 'percent', x: rule.x, y });
          }}
        />
      )}
      <span className="text-soft">%</span>
      <button
        type="button"
        aria-pressed={!free}
        aria-label="Proportions locked"
        className="rounded p-0.5 text-tide hover:bg-rule/60"
        onClick={() => {
          if (free && rule.x !== rule.y) onRule({ kind: 'percent', x: rule.x, y: rule.x });
          setFree(!free);
        }}
      >
        {free ? <LockOpen size={15} aria-hidden="true" /> : <Lock size={15} aria-hidden="true" />}
      </button>
    </span>
  );
}

const SIDES = [
  ['leftMm', 'left'],
  ['topMm', 'top'],
  ['rightMm', 'right'],
  ['bottomMm', 'bottom'],
] as const;

/** What is cut away at each side before the size counts; drawn or typed. */
function CropRows({ model }: { readonly model: TicketModel }) {
  const { values, change } = model;
  const { crop } = values;
  const cropped = crop !== undefined && SIDES.some(([side]) => crop[side] > 0);
  const [open, setOpen] = useState(false);
  return (
    <>
      <TicketRow label="Crop" name="crop" model={model}>
        <button
          type="button"
          aria-expanded={open}
          className="text-tide hover:underline"
          onClick={() => {
            setOpen(!open);
          }}
        >
          {model.mixed.has('crop')
            ? 'mixed'
            : cropped
              ? SIDES.map(([side]) => String(Math.round(crop[side] * 10) / 10)).join(', ')
              : 'none'}
        </button>
      </TicketRow>
      {open && (
        <div className="mb-1 ml-[100px] grid grid-cols-2 gap-1">
          {SIDES.map(([side, name]) => (
            <label key={side} className="flex items-baseline gap-1">
              <span className="w-11 text-soft">{name}</span>
              <LengthInput
                label={`Crop ${name}`}
                valueMm={crop?.[side] ?? 0}
                onChange={(mm) => {
                  change({ crop: { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0, ...crop, [side]: mm ?? 0 } });
                }}
              />
            </label>
          ))}
        </div>
      )}
    </>
  );
}

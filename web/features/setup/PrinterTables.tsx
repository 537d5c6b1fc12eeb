import { OctagonAlert, X } from 'lucide-react';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { dropSizesOf } from '../../../core/coats/dropSizes.ts';
import { modeTrouble } from '../../../core/machine/constants.ts';
import { AddButton } from '../../ui/AddButton.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { NumberInput } from '../../ui/fields/NumberInput.tsx';
import { OptionalNumber } from '../../ui/fields/OptionalNumber.tsx';
import { formFields, useFormField } from '../../ui/form/formFields.tsx';
import { useKeep } from '../../ui/form/SavedForm.tsx';
import { IconButton } from '../../ui/IconButton.tsx';
import { Section } from '../../ui/Sheet.tsx';
import { number } from '../../ui/text/number.ts';

const Field = formFields<PrinterConfig>();

type Mode = PrinterConfig['modes'][number];
type Channel = PrinterConfig['channels'][number];

/** Print modes; one whose passes differ from those of its profile says so, since it ruins prints. */
export function ModeTable({ config }: { readonly config: PrinterConfig }) {
  const keep = useKeep();
  const { modes, machine } = config;
  const add = (): void => {
    const like = modes.at(-1);
    if (!like) return;
    const id = `mode-${String(modes.length + 1)}-${String(Math.round(performance.now()))}`;
    keep('modes', [...modes, { ...like, id, name: `${like.name} copy` }]);
  };
  const columns: Column<Mode>[] = [
    {
      id: 'name',
      title: 'Name',
      cell: (_, i) => (
        <Field.Text bare name={`modes.${i}.name`} label={`Name of mode ${String(i + 1)}`} wanted="It needs a name." />
      ),
    },
    {
      id: 'dpiX',
      title: 'dpi across',
      cell: ({ name }, i) => <Field.Number bare name={`modes.${i}.dpiX`} label={`dpi across, ${name}`} least={0.1} />,
    },
    {
      id: 'dpiY',
      title: 'along',
      cell: ({ name }, i) => <Field.Number bare name={`modes.${i}.dpiY`} label={`dpi along, ${name}`} least={0.1} />,
    },
    {
      id: 'passes',
      title: 'Passes',
      cell: ({ name }, i) => <Field.Number bare whole name={`modes.${i}.passes`} label={`Passes, ${name}`} least={1} />,
    },
    {
      id: 'oneWay',
      title: 'One way',
      cell: ({ name }, i) => <Field.Check bare name={`modes.${i}.oneDirectional`} label={`One way, ${name}`} />,
    },
    {
      id: 'whiteOneWay',
      title: 'White one way',
      cell: ({ name }, i) => (
        <Field.Check bare name={`modes.${i}.whiteOneDirectional`} label={`White one way, ${name}`} />
      ),
    },
    {
      id: 'drop',
      title: 'Drop pl',
      cell: ({ name }, i) => <Field.Number bare name={`modes.${i}.dropPl`} label={`Drop, ${name}`} least={0.1} />,
    },
    {
      id: 'mediumDrop',
      title: 'medium',
      cell: (mode, i) => (
        <DropField
          name={`modes.${String(i)}.mediumPl`}
          label={`Medium drop, ${mode.name}`}
          plain={dropSizesOf(mode.dropPl)[1]}
        />
      ),
    },
    {
      id: 'smallDrop',
      title: 'small',
      cell: (mode, i) => (
        <DropField
          name={`modes.${String(i)}.smallPl`}
          label={`Small drop, ${mode.name}`}
          plain={dropSizesOf(mode.dropPl)[0]}
        />
      ),
    },
    {
      id: 'limit',
      title: 'Ink limit %',
      cell: ({ name }, i) => (
        <Field.Number bare whole per={0.01} name={`modes.${i}.inkLimit`} label={`Ink limit, ${name}`} least={1} />
      ),
    },
    {
      id: 'profile',
      title: 'ICC profile',
      cell: (mode, i) => (
        <>
          <Field.Text bare name={`modes.${i}.profile`} label={`Profile of ${mode.name}`} most={120} />
          <Trouble text={modeTrouble(mode, machine.nozzlesPerInch)} />
        </>
      ),
    },
    {
      id: 'madeFor',
      title: 'made for',
      cell: ({ name }, i) => (
        <Field.Number bare whole name={`modes.${i}.profilePasses`} label={`Profile passes, ${name}`} least={1} />
      ),
    },
    {
      id: 'remove',
      title: '',
      cell: ({ name }, i) => (
        <IconButton
          label={`Remove mode ${name}`}
          disabled={modes.length < 2}
          onClick={() => {
            keep(
              'modes',
              modes.filter((_, at) => at !== i),
            );
          }}
        >
          <X size={15} aria-hidden="true" />
        </IconButton>
      ),
    },
  ];
  if (config.head === 'page-wide') columns.splice(-1, 0, LINE_SPEED);
  return (
    <Section title="Print modes" aside={<AddButton onClick={add}>Add a mode like the last</AddButton>}>
      <DataTable editable label="Print modes" columns={columns} rows={modes} rowId={({ id }) => id} />
    </Section>
  );
}

/** What each mode asks of nozzles: what of them may be missing before a channel is not fit for it. */
export function NozzleTable({ config: { head, modes } }: { readonly config: PrinterConfig }) {
  const columns: Column<Mode>[] = [
    { id: 'name', title: 'Mode', cell: ({ name }) => name },
    ...(head === 'page-wide' ? OF_AN_ARRAY : [OF_A_CARRIAGE]),
  ];
  return (
    <Section title="Nozzles that modes ask for">
      <DataTable editable label="Nozzles that modes ask for" columns={columns} rows={modes} rowId={({ id }) => id} />
    </Section>
  );
}

/** A head that is as wide as the page prints while the media runs. */
const LINE_SPEED: Column<Mode> = {
  id: 'line',
  title: 'mm/s',
  cell: ({ name }, i) => <LineSpeed name={`modes.${i}.lineMmPerS`} label={`Line speed, ${name}`} />,
};

/** Passes hide single nozzles: of those that print the same lines so many must be left. */
const OF_A_CARRIAGE: Column<Mode> = {
  id: 'classShare',
  title: 'left of those for a line, %',
  cell: ({ name }, i) => (
    <Field.Number
      bare
      whole
      per={0.01}
      name={`modes.${i}.classShare`}
      label={`Nozzles left of a line, ${name}`}
      most={100}
    />
  ),
};

/** Each nozzle of an array stands alone: neighbours that are missing show. */
const OF_AN_ARRAY: readonly Column<Mode>[] = [
  {
    id: 'mostColumns',
    title: 'columns missing side by side',
    cell: ({ name }, i) => (
      <Field.Number
        bare
        whole
        name={`modes.${i}.mostColumns`}
        label={`Columns missing side by side at most, ${name}`}
      />
    ),
  },
  {
    id: 'mostBadShare',
    title: 'missing of 10 mm, %',
    cell: ({ name }, i) => (
      <Field.Number
        bare
        per={0.01}
        name={`modes.${i}.mostBadShare`}
        label={`Missing of 10 mm at most, ${name}`}
        most={100}
      />
    ),
  },
];

function LineSpeed({ name, label }: { readonly name: string; readonly label: string }) {
  const [mmPerS, keep] = useFormField<number | null>(name);
  return (
    <NumberInput
      label={label}
      value={mmPerS ?? undefined}
      placeholder=""
      least={0.1}
      className="w-16"
      onChange={keep}
    />
  );
}

function Trouble({ text }: { readonly text: string | null }) {
  if (text === null) return null;
  return (
    <p role="alert" className="mt-0.5 flex max-w-64 gap-1 text-stop">
      <OctagonAlert size={15} className="mt-0.5 shrink-0" aria-hidden="true" /> {text}
    </p>
  );
}

/** Ink channels in the order of the heads. */
export function ChannelTable({ config }: { readonly config: PrinterConfig }) {
  return (
    <Section title="Ink channels, in order">
      <DataTable editable label="Ink channels" columns={CHANNELS} rows={config.channels} rowId={({ id }) => id} />
    </Section>
  );
}

/** Columns of the channels: what each is, its heads and its tank. */
const CHANNELS: readonly Column<Channel>[] = [
  {
    id: 'colour',
    title: '',
    cell: ({ colour }) => (
      <span className="mt-1 block size-5 rounded border border-soft" style={{ background: colour }} />
    ),
  },
  { id: 'name', title: 'Channel', cell: ({ name }) => <span className="mt-1 block pr-2">{name}</span> },
  {
    id: 'heads',
    title: 'Heads',
    cell: ({ name }, i) => <Field.Number bare whole name={`channels.${i}.heads`} label={`Heads, ${name}`} least={1} />,
  },
  {
    id: 'tank',
    title: 'Tank ml',
    cell: ({ name }, i) => <Field.Number bare whole name={`channels.${i}.tankMl`} label={`Tank, ${name}`} least={1} />,
  },
  {
    id: 'price',
    title: 'Price a ml',
    cell: ({ name }, i) => (
      <Field.Number bare per={1e6} name={`channels.${i}.pricePerMlMicro`} label={`Price, ${name}`} />
    ),
  },
  {
    id: 'idle',
    title: 'Idle limit h',
    cell: ({ name }, i) => (
      <Field.Number bare whole name={`channels.${i}.idleLimitH`} label={`Idle limit, ${name}`} least={1} />
    ),
  },
];

/** A drop smaller than the full one; left empty it is in proportion to that. */
function DropField({ name, label, plain }: { readonly name: string; readonly label: string; readonly plain: number }) {
  const [value, keep] = useFormField<number | null | undefined>(name);
  return (
    <OptionalNumber
      label={label}
      value={value ?? null}
      least={0.1}
      most={1000}
      empty={number(plain, 1)}
      className="w-16"
      onChange={keep}
    />
  );
}

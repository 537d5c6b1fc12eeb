import { counted } from '../../ui/text/counted.ts';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useState } from 'react';
import type { DryRun, RuleList, RuleView } from '../../../contract/api/shop.ts';
import { RULE_FIGURES, RULE_TEXTS, type RuleCondition } from '../../../core/routing/rules.ts';
import { sendJson } from '../../api/client.ts';
import { type Printer, usePrinters, useRules } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { AddButton } from '../../ui/AddButton.tsx';
import { Button } from '../../ui/Button.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { NumberInput } from '../../ui/fields/NumberInput.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { TextInput } from '../../ui/fields/TextInput.tsx';
import { IconButton } from '../../ui/IconButton.tsx';
import { DryRunTable } from './DryRunTable.tsx';
import { MonthFigure } from './MonthFigure.tsx';

const WORDS: Readonly<Record<RuleCondition['about'], string>> = {
  stock: 'stock',
  customer: 'customer',
  queue: 'queue',
  preset: 'preset',
  name: 'file name',
  format: 'format',
  widthMm: 'width (mm)',
  lengthMm: 'length (mm)',
  pieces: 'pieces',
  dueH: 'due within (h)',
};

const NONE: RuleList = [];

/** Which printer takes which jobs: rules in order, tried on what is here before they count. */
export function RulesEditor() {
  const { data: kept } = useRules();
  const { data: printers = [] } = usePrinters();
  const { tell, say } = useNotice();
  const [own, setOwn] = useState<RuleList>();
  const [tried, setTried] = useState<DryRun>();
  const rules = own ?? kept ?? NONE;
  const set = (next: RuleList): void => {
    setOwn(next);
    setTried(undefined);
  };
  const setOne = (index: number, part: Partial<RuleView>): void => {
    set(rules.map((rule, i) => (i === index ? { ...rule, ...part } : rule)));
  };
  const move = (index: number, by: -1 | 1): void => {
    const next = [...rules];
    const [rule] = next.splice(index, 1);
    if (rule) next.splice(index + by, 0, rule);
    set(next);
  };
  const add = (): void => {
    const first = printers[0];
    if (!first) return;
    const id = `rule-${String(rules.length + 1)}-${String(Math.round(performance.now()))}`;
    const when: RuleCondition[] = [{ about: 'stock', is: 'contains', text: '' }];
    set([...rules, { id, name: `Rule ${String(rules.length + 1)}`, when, printerIds: [first.id], on: true }]);
  };
  const save = (): void => {
    sendJson('PUT', '/api/rules', rules)
      .then(() => {
        setOwn(undefined);
        say('These rules apply from now on');
      })
      .catch(tell);
  };
  const dryRun = (): void => {
    sendJson<DryRun>('POST', '/api/rules/dry-run', rules).then(setTried).catch(tell);
  };
  // Before they are here, a rule that is added would take the place of all of them.
  if (!kept) return <p className="text-soft">Reading the rules…</p>;
  return (
    <div className="max-w-4xl">
      <h2 className="text-lg font-semibold">Routing rules</h2>
      <p className="mt-1 mb-3 text-soft">
        A job goes where its first matching rule sends it, as long as one of the rule’s printers can take it. Rules
        apply to queues whose routing is <em>by the rules</em>, when a job arrives.
      </p>
      <ol className="flex flex-col gap-2">
        {rules.map((rule, i) => (
          <li key={rule.id} className="rounded-md border border-rule bg-card p-2.5" aria-label={rule.name}>
            <div className="flex items-center gap-2">
              <Checkbox
                label={`${rule.name} is active`}
                text="active"
                value={rule.on}
                onChange={(on) => {
                  setOne(i, { on });
                }}
              />
              <TextInput
                label={`Name of rule ${String(i + 1)}`}
                value={rule.name}
                most={80}
                wanted="A rule needs a name."
                atOnce
                className="flex-1 font-medium"
                onChange={(name) => {
                  setOne(i, { name });
                }}
              />
              {tried && <Count tried={tried} id={rule.id} />}
              <IconButton
                label={`${rule.name} earlier`}
                disabled={i === 0}
                onClick={() => {
                  move(i, -1);
                }}
              >
                <ArrowUp size={15} />
              </IconButton>
              <IconButton
                label={`${rule.name} later`}
                disabled={i === rules.length - 1}
                onClick={() => {
                  move(i, 1);
                }}
              >
                <ArrowDown size={15} />
              </IconButton>
              <IconButton
                label={`Remove ${rule.name}`}
                onClick={() => {
                  set(rules.filter((_, at) => at !== i));
                }}
              >
                <X size={15} />
              </IconButton>
            </div>
            <div className="mt-2 flex flex-wrap items-center gap-x-2 gap-y-1.5 pl-6">
              <span className="text-soft">{rule.when.length === 0 ? 'every job' : 'when'}</span>
              {rule.when.map((condition, at) => (
                <Condition
                  key={at}
                  condition={condition}
                  onChange={(next) => {
                    setOne(i, { when: rule.when.map((each, n) => (n === at ? next : each)) });
                  }}
                  onRemove={() => {
                    setOne(i, { when: rule.when.filter((_, n) => n !== at) });
                  }}
                />
              ))}
              <AddButton
                onClick={() => {
                  setOne(i, { when: [...rule.when, { about: 'widthMm', is: 'over', figure: 1000 }] });
                }}
              >
                and
              </AddButton>
            </div>
            <Targets
              printers={printers}
              ids={rule.printerIds}
              onChange={(printerIds) => {
                setOne(i, { printerIds });
              }}
            />
          </li>
        ))}
      </ol>
      <div className="mt-3 flex flex-wrap gap-2">
        <AddButton onClick={add}>A rule</AddButton>
        <span className="flex-1" />
        {own && (
          <Button
            onClick={() => {
              setOwn(undefined);
              setTried(undefined);
            }}
          >
            As they were
          </Button>
        )}
        <Button onClick={dryRun}>Dry run</Button>
        <Button kind="main" disabled={!own} onClick={save}>
          Apply these rules
        </Button>
      </div>
      {tried && (
        <div className="mt-4">
          <MonthFigure ask={{ change: { rules } }} path={own ? undefined : '/pace/what-if?who=rules'} />
          <DryRunTable tried={tried} />
        </div>
      )}
    </div>
  );
}

function Count({ tried, id }: { readonly tried: DryRun; readonly id: string }) {
  const count = tried.byRule[id];
  if (!count) return null;
  return (
    <span className={count.jobs === 0 ? 'text-wait' : 'text-soft'}>
      {count.jobs === 0
        ? 'meets no job'
        : `${counted(count.jobs, 'job')}, ${String(count.moved)} ${count.moved === 1 ? 'goes' : 'go'} elsewhere`}
    </span>
  );
}

/** The same condition about something else; what was typed stays where it can. */
function conditionAbout(about: RuleCondition['about'], before: RuleCondition): RuleCondition {
  const text = RULE_TEXTS.find((each) => each === about);
  if (text) return { about: text, is: 'contains', text: 'text' in before ? before.text : '' };
  const figure = RULE_FIGURES.find((each) => each === about) ?? 'widthMm';
  const is = figure === 'dueH' ? 'at most' : 'over';
  return { about: figure, is, figure: 'figure' in before ? before.figure : 1000 };
}

function Condition({
  condition,
  onChange,
  onRemove,
}: {
  readonly condition: RuleCondition;
  readonly onChange: (condition: RuleCondition) => void;
  readonly onRemove: () => void;
}) {
  return (
    <span className="inline-flex items-center gap-1 rounded-md border border-rule bg-paper p-1">
      <Select
        label="What the rule looks at"
        value={condition.about}
        choices={[...RULE_TEXTS, ...RULE_FIGURES].map((each) => ({ value: each, text: WORDS[each] }))}
        className=""
        onChange={(next) => {
          onChange(conditionAbout(next, condition));
        }}
      />
      {'figure' in condition ? (
        <>
          <Select
            label="How it compares"
            value={condition.is}
            choices={['over', 'at most']}
            className=""
            onChange={(is) => {
              onChange({ ...condition, is });
            }}
          />
          <NumberInput
            label="Figure"
            atOnce
            value={condition.figure}
            className="w-24"
            onChange={(figure) => {
              onChange({ ...condition, figure });
            }}
          />
        </>
      ) : (
        <>
          <Select
            label="How it compares"
            value={condition.is}
            choices={['is', 'contains', 'is not']}
            className=""
            onChange={(is) => {
              onChange({ ...condition, is });
            }}
          />
          <TextInput
            label="Text"
            atOnce
            value={condition.text}
            className="w-36"
            onChange={(text) => {
              onChange({ ...condition, text });
            }}
          />
        </>
      )}
      <IconButton label="Remove this condition" onClick={onRemove}>
        <X size={14} />
      </IconButton>
    </span>
  );
}

/** The first that can take it, then the next. */
function Targets({
  printers,
  ids,
  onChange,
}: {
  readonly printers: readonly Printer[];
  readonly ids: readonly string[];
  readonly onChange: (ids: string[]) => void;
}) {
  const rest = printers.filter(({ id }) => !ids.includes(id));
  return (
    <div className="mt-1.5 flex flex-wrap items-center gap-2 pl-6">
      {ids.map((id, i) => (
        <span key={id} className="inline-flex items-center gap-1.5">
          <span className="text-soft">{i === 0 ? 'goes to' : 'else'}</span>
          <Select
            label={i === 0 ? 'Printer' : `Else, choice ${String(i + 1)}`}
            value={id}
            choices={printers
              .filter((printer) => printer.id === id || !ids.includes(printer.id))
              .map((printer) => ({ value: printer.id, text: printer.name }))}
            className="font-medium"
            onChange={(next) => {
              onChange(ids.map((each, at) => (at === i ? next : each)));
            }}
          />
          {ids.length > 1 && (
            <IconButton
              label="Remove this printer from the rule"
              onClick={() => {
                onChange(ids.filter((each) => each !== id));
              }}
            >
              <X size={14} />
            </IconButton>
          )}
        </span>
      ))}
      {rest[0] && (
        <AddButton
          onClick={() => {
            onChange([...ids, rest[0]?.id ?? '']);
          }}
        >
          else
        </AddButton>
      )}
    </div>
  );
}

import { ArrowDown, ArrowUp, Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { DryRun, RuleList, RuleView } from '../../../contract/api/shop.ts';
import { RULE_FIGURES, RULE_TEXTS, type RuleCondition } from '../../../core/routing/rules.ts';
import { sendJson } from '../../api/client.ts';
import { type Printer, usePrinters, useRules } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { DryRunTable } from './DryRunTable.tsx';

const WORDS: Record<string, string> = {
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
const FIELD = 'h-8 rounded border border-rule bg-card px-1.5';

/** Which printer takes which jobs: rules in order, tried on what is here before they count. */
export function RulesEditor() {
  const { data: kept } = useRules();
  const { data: printers = [] } = usePrinters();
  const { tell, say } = useNotice();
  const [own, setOwn] = useState<RuleList>();
  const [tried, setTried] = useState<DryRun>();
  const rules = own ?? kept ?? [];
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
        say('The rules count from now on');
      })
      .catch(tell);
  };
  const dryRun = (): void => {
    sendJson<DryRun>('POST', '/api/rules/dry-run', rules).then(setTried).catch(tell);
  };
  return (
    <div className="max-w-4xl">
      <h2 className="text-lg font-semibold">Routing rules</h2>
      <p className="mt-1 mb-3 text-soft">
        The first rule that a job meets, and one of whose printers can take it, says where it goes. They count for
        queues whose routing is <em>by the rules</em>, when a job arrives.
      </p>
      <ol className="flex flex-col gap-2">
        {rules.map((rule, i) => (
          <li key={rule.id} className="rounded-md border border-rule bg-card p-2.5" aria-label={rule.name}>
            <div className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={rule.on}
                aria-label={`${rule.name} counts`}
                onChange={(event) => {
                  setOne(i, { on: event.target.checked });
                }}
                className="accent-tide"
              />
              <input
                aria-label={`Name of rule ${String(i + 1)}`}
                value={rule.name}
                maxLength={80}
                onChange={(event) => {
                  setOne(i, { name: event.target.value });
                }}
                className={`${FIELD} flex-1 font-medium`}
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
          Let these rules count
        </Button>
      </div>
      {tried && <DryRunTable tried={tried} />}
    </div>
  );
}

function Count({ tried, id }: { readonly tried: DryRun; readonly id: string }) {
  const count = tried.byRule[id];
  if (!count) return null;
  return (
    <span className={count.jobs === 0 ? 'text-wait' : 'text-soft'}>
      {count.jobs === 0 ? 'meets no job' : `${String(count.jobs)} jobs, ${String(count.moved)} go elsewhere`}
    </span>
  );
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
  const about = (value: string): void => {
    const text = RULE_TEXTS.find((each) => each === value);
    const figure = RULE_FIGURES.find((each) => each === value);
    if (text) onChange({ about: text, is: 'contains', text: 'text' in condition ? condition.text : '' });
    else if (figure)
      onChange({
        about: figure,
        is: figure === 'dueH' ? 'at most' : 'over',
        figure: 'figure' in condition ? condition.figure : 1000,
      });
  };
  return (
    <span className="inline-flex items-center gap-1 rounded-md border border-rule bg-paper p-1">
      <select
        aria-label="What the rule looks at"
        value={condition.about}
        onChange={(event) => {
          about(event.target.value);
        }}
        className={FIELD}
      >
        {[...RULE_TEXTS, ...RULE_FIGURES].map((each) => (
          <option key={each} value={each}>
            {WORDS[each]}
          </option>
        ))}
      </select>
      {'figure' in condition ? (
        <>
          <select
            aria-label="How it compares"
            value={condition.is}
            onChange={(event) => {
              onChange({ ...condition, is: event.target.value === 'over' ? 'over' : 'at most' });
            }}
            className={FIELD}
          >
            <option>over</option>
            <option>at most</option>
          </select>
          <input
            type="number"
            aria-label="Figure"
            value={condition.figure}
            min={0}
            onChange={(event) => {
              onChange({ ...condition, figure: Number(event.target.value) });
            }}
            className={`${FIELD} w-24 text-right`}
          />
        </>
      ) : (
        <>
          <select
            aria-label="How it compares"
            value={condition.is}
            onChange={(event) => {
              onChange({ ...condition, is: event.target.value as 'is' | 'contains' | 'is not' });
            }}
            className={FIELD}
          >
            <option>is</option>
            <option>contains</option>
            <option>is not</option>
          </select>
          <input
            aria-label="Text"
            value={condition.text}
            maxLength={200}
            onChange={(event) => {
              onChange({ ...condition, text: event.target.value });
            }}
            className={`${FIELD} w-36`}
          />
        </>
      )}
      <IconButton label="Take the condition off" onClick={onRemove}>
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
          <select
            aria-label={i === 0 ? 'Printer' : `Else, choice ${String(i + 1)}`}
            value={id}
            onChange={(event) => {
              onChange(ids.map((each, at) => (at === i ? event.target.value : each)));
            }}
            className={`${FIELD} font-medium`}
          >
            {printers
              .filter((printer) => printer.id === id || !ids.includes(printer.id))
              .map((printer) => (
                <option key={printer.id} value={printer.id}>
                  {printer.name}
                </option>
              ))}
          </select>
          {ids.length > 1 && (
            <IconButton
              label="Take this printer off the rule"
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

function AddButton({ onClick, children }: { readonly onClick: () => void; readonly children: React.ReactNode }) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="inline-flex items-center gap-1 rounded px-1 py-1 text-tide hover:bg-rule/50"
    >
      <Plus size={15} aria-hidden="true" /> {children}
    </button>
  );
}

function IconButton({
  label,
  onClick,
  disabled = false,
  children,
}: {
  readonly label: string;
  readonly onClick: () => void;
  readonly disabled?: boolean;
  readonly children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      disabled={disabled}
      onClick={onClick}
      className="rounded p-1 text-soft hover:bg-rule/50 hover:text-ink disabled:opacity-30"
    >
      {children}
    </button>
  );
}

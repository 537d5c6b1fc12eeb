import { X } from 'lucide-react';
import type { MessageRuleView, MessageSetupAnswer } from '../../../../contract/api/messages.ts';
import { CAUSE_KINDS } from '../../../../core/messages/messageRules.ts';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { OptionalNumber } from '../../../ui/fields/OptionalNumber.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { IconButton } from '../../../ui/IconButton.tsx';
import { KIND_TEXTS, newRule, withKind } from './messageDraft.ts';

interface RulesProps {
  readonly rules: readonly MessageRuleView[];
  readonly people: MessageSetupAnswer['people'];
  readonly onChange: (rules: MessageRuleView[]) => void;
}

/** Each person who is told: of what, how often until it is seen, and who is told then. */
export function MessageRules({ rules, people, onChange }: RulesProps) {
  const free = people.filter(({ id }) => !rules.some(({ personId }) => personId === id));
  const set = (personId: string, part: Partial<MessageRuleView>): void => {
    onChange(rules.map((rule) => (rule.personId === personId ? { ...rule, ...part } : rule)));
  };
  return (
    <div className="flex flex-col gap-3">
      {rules.length === 0 && <p className="text-soft">Nobody is told yet.</p>}
      {rules.map((rule) => (
        <Rule
          key={rule.personId}
          rule={rule}
          people={people}
          onChange={(part) => {
            set(rule.personId, part);
          }}
          onRemove={() => {
            onChange(rules.filter(({ personId }) => personId !== rule.personId));
          }}
        />
      ))}
      {people.length === 0 && <p className="text-soft">Enter people, with their mail address, under People first.</p>}
      {free.length > 0 && (
        <span className="w-60">
          <Select
            label="Tell somebody else"
            value=""
            choices={[
              { value: '', text: 'Tell somebody else …' },
              ...free.map(({ id, name }) => ({ value: id, text: name })),
            ]}
            onChange={(id) => {
              if (id !== '') onChange([...rules, newRule(id)]);
            }}
          />
        </span>
      )}
    </div>
  );
}

function Rule({
  rule,
  people,
  onChange,
  onRemove,
}: {
  readonly rule: MessageRuleView;
  readonly people: MessageSetupAnswer['people'];
  readonly onChange: (part: Partial<MessageRuleView>) => void;
  readonly onRemove: () => void;
}) {
  const { personId, kinds, repeatMin, escalate } = rule;
  const person = people.find(({ id }) => id === personId);
  const name = person?.name ?? personId;
  const others = people.filter(({ id }) => id !== personId);
  return (
    <fieldset className="rounded-md border border-rule bg-card px-3 py-2">
      <legend className="sr-only">{name}</legend>
      <div className="flex items-baseline gap-2">
        <span className="font-semibold">{name}</span>
        <span className={person?.mail == null ? 'text-stop' : 'text-soft'}>
          {person?.mail ?? 'has no mail address: enter it under People'}
        </span>
        <span className="flex-1" />
        <IconButton label={`Tell ${name} no more`} onClick={onRemove}>
          <X size={16} aria-hidden="true" />
        </IconButton>
      </div>
      <div className="my-1.5 flex flex-wrap gap-x-4 gap-y-1">
        {CAUSE_KINDS.map((kind) => (
          <Checkbox
            key={kind}
            text={KIND_TEXTS[kind]}
            value={kinds.includes(kind)}
            onChange={(on) => {
              onChange({ kinds: withKind(kinds, kind, on) });
            }}
          />
        ))}
      </div>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1.5">
        <span>Again every</span>
        <span className="w-40">
          <OptionalNumber
            label={`Minutes until ${name} is told again`}
            value={repeatMin}
            least={1}
            most={1440}
            unit="min"
            empty="once"
            onChange={(minutes) => {
              onChange({ repeatMin: minutes });
            }}
          />
        </span>
        <span>until it is seen.</span>
        {others.length > 0 && (
          <>
            <span>Not seen after</span>
            <span className="w-40">
              <OptionalNumber
                label={`Minutes until somebody else is told than ${name}`}
                value={escalate?.afterMin ?? null}
                least={1}
                most={1440}
                unit="min"
                empty="never"
                onChange={(afterMin) => {
                  const to = escalate?.personId ?? others[0]?.id;
                  onChange({ escalate: afterMin === null || to === undefined ? null : { afterMin, personId: to } });
                }}
              />
            </span>
            <span>tell</span>
            <span className="w-44">
              <Select
                label={`Who is told then, instead of ${name}`}
                value={escalate?.personId ?? ''}
                choices={[
                  { value: '', text: 'nobody else' },
                  ...others.map(({ id, name: text }) => ({ value: id, text })),
                ]}
                onChange={(id) => {
                  onChange({ escalate: id === '' ? null : { afterMin: escalate?.afterMin ?? 30, personId: id } });
                }}
              />
            </span>
          </>
        )}
      </div>
    </fieldset>
  );
}

import { useState } from 'react';
import type { CareRuleBody, CareRuleView } from '../../../../contract/api/care.ts';
import { callsForCare, careRuleText } from '../../../../core/care/careRule.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { usePrinters, useRuns } from '../../../api/data.ts';
import { counted } from '../../../ui/text/counted.ts';
import { Button } from '../../../ui/Button.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { FieldError } from '../../../ui/fields/FieldError.tsx';
import { LengthInput } from '../../../ui/fields/LengthInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { Row, Section, Sheet } from '../../../ui/Sheet.tsx';
import { useCareRules } from '../useRota.ts';
import { Changeable } from '../../../people/May.tsx';

const WHATS = ['nozzle check', 'light clean', 'deep clean', 'stir white'] as const;
type What = (typeof WHATS)[number];

function whatOf(word: What): CareRuleBody['what'] {
  if (word === 'nozzle check') return { kind: 'check' };
  if (word === 'stir white') return { kind: 'stir' };
  return { kind: 'clean', strength: word === 'light clean' ? 'light' : 'deep' };
}

function wordOf(what: CareRuleBody['what']): What {
  if (what.kind === 'clean') return what.strength === 'light' ? 'light clean' : 'deep clean';
  return what.kind === 'check' ? 'nozzle check' : 'stir white';
}

const NEW: CareRuleBody = {
  what: { kind: 'check' },
  overMm: 20_000,
  onlyImportant: false,
  printerIds: null,
  paused: false,
};

/** A rule that puts care before runs: new, or one that is there. */
export function RuleSheet({ ruleId, onClose }: { readonly ruleId: string; readonly onClose: () => void }) {
  const { data: rules } = useCareRules();
  const rule = rules?.find(({ id }) => id === ruleId);
  if (!rules || (ruleId !== 'new' && !rule)) return null;
  return (
    <Sheet title={rule ? 'Rule' : 'New rule'} onClose={onClose} wide>
      <Changeable right="coordinate" what="rules">
        <RuleForm rule={rule} onClose={onClose} />
      </Changeable>
    </Sheet>
  );
}

function RuleForm({ rule, onClose }: { readonly rule: CareRuleView | undefined; readonly onClose: () => void }) {
  const [draft, setDraft] = useState<CareRuleBody>(rule ?? NEW);
  const [wrong, setWrong] = useState<string>();
  const { mutate } = useCareRules();
  const { data: printers = [] } = usePrinters();
  const { data: runs = [] } = useRuns();
  const set = (change: Partial<CareRuleBody>): void => {
    setDraft((before) => ({ ...before, ...change }));
  };
  const { what, overMm, onlyImportant, printerIds, paused } = draft;
  const body = { what, overMm, onlyImportant, printerIds, paused };
  const queued = runs.filter(({ state, printerId }) => state === 'queued' && (printerIds?.includes(printerId) ?? true));
  const named = queued.filter((run) => callsForCare(body, { ...run, outMm: run.byHand ? 0 : run.lengthMm }));
  const send = (answer: Promise<unknown>): void => {
    answer.then(
      () => {
        void mutate();
        onClose();
      },
      (error: unknown) => {
        setWrong(errorText(error));
      },
    );
  };
  return (
    <>
      <Section title="What">
        <Row label="Does">
          <Select
            label="Does"
            value={wordOf(what)}
            choices={WHATS}
            onChange={(word) => {
              set({ what: whatOf(word) });
            }}
          />
        </Row>
        {what.kind === 'clean' && <p className="text-soft">The channels that the run fires are cleaned.</p>}
      </Section>
      <Section title="Before which runs">
        <Row label="Only long ones">
          <Checkbox
            label="Only long ones"
            value={overMm !== null}
            onChange={(on) => {
              set({ overMm: on ? (NEW.overMm ?? 0) : null });
            }}
          />
        </Row>
        {overMm !== null && (
          <Row label="Longer than">
            <LengthInput
              label="Longer than"
              valueMm={overMm}
              leastMm={1}
              onChange={(mm) => {
                if (mm !== null) set({ overMm: mm });
              }}
            />
          </Row>
        )}
        <Row label="Only those marked as important">
          <Checkbox
            label="Only those marked as important"
            value={onlyImportant}
            onChange={(on) => {
              set({ onlyImportant: on });
            }}
          />
        </Row>
        <Row label="On all printers">
          <Checkbox
            label="On all printers"
            value={printerIds === null}
            onChange={(on) => {
              set({ printerIds: on ? null : printers.map(({ id }) => id) });
            }}
          />
        </Row>
        {printerIds !== null && (
          <fieldset className="mt-1 grid grid-cols-2 gap-1">
            <legend className="text-soft">On</legend>
            {printers.map(({ id, name }) => (
              <Checkbox
                key={id}
                text={name}
                value={printerIds.includes(id)}
                onChange={(on) => {
                  set({ printerIds: on ? [...printerIds, id] : printerIds.filter((each) => each !== id) });
                }}
              />
            ))}
          </fieldset>
        )}
        <p className="mt-2 font-medium" aria-live="polite">
          {`${careRuleText(body).charAt(0).toUpperCase()}${careRuleText(body).slice(1)}.`}
        </p>
        <p className="text-soft">
          {queued.length === 0
            ? 'No run is queued there.'
            : `Of ${counted(queued.length, 'queued run')} it names ${named.length === 0 ? 'none' : named.map(({ name }) => name).join(', ')}.`}
        </p>
      </Section>
      <FieldError text={wrong} />
      <Button
        kind="main"
        className="w-full"
        disabled={printerIds?.length === 0}
        onClick={() => {
          send(
            rule
              ? sendJson('PATCH', `/api/care-rules/${rule.id}`, body, { 'if-match': String(rule.version) })
              : sendJson('POST', '/api/care-rules', body),
          );
        }}
      >
        {rule ? 'Keep the change' : 'Make the rule'}
      </Button>
      {rule && (
        <div className="mt-4 flex gap-2">
          <Button
            onClick={() => {
              send(sendJson('PATCH', `/api/care-rules/${rule.id}`, { paused: !rule.paused }));
            }}
          >
            {rule.paused ? 'Let it go on' : 'Pause'}
          </Button>
          <Button
            kind="danger"
            onClick={() => {
              send(sendJson('DELETE', `/api/care-rules/${rule.id}`));
            }}
          >
            Remove the rule
          </Button>
        </div>
      )}
    </>
  );
}

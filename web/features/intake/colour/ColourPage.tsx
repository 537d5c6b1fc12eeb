import { ArrowLeft } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { CoatPreview, CoatPreviewAsked, ColourValues } from '../../../../contract/api/colour/preview.ts';
import { PREVIEW_VIEWS, type PreviewView } from '../../../../core/coats/previewView.ts';
import { changedKeys, inheritedValue, setHere } from '../../../../core/ticket/ticket.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { type JobDetail, useJob, useQueues } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { May } from '../../../people/May.tsx';
import { ArtworkRow } from '../../../ticket/ArtworkRow.tsx';
import { InkLimitRow, IntentRow, ProfileRow, TONE_FIELDS } from '../../../ticket/ColourFields.tsx';
import { type TicketModel, oneTicket } from '../../../ticket/model.ts';
import { Button } from '../../../ui/Button.tsx';
import { PageError } from '../../../ui/PageError.tsx';
import { Section } from '../../../ui/Sheet.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { Slider } from '../../../ui/fields/Slider.tsx';
import { number } from '../../../ui/text/number.ts';
import { useSurroundings } from '../table/jobPlace.ts';
import { CurveFields } from './CurveFields.tsx';
import { InkComparison } from './InkComparison.tsx';
import { SplitPicture } from './SplitPicture.tsx';
import { useCoatPreview } from './useCoatPreview.ts';

const NO_FILE: Parameters<typeof useSurroundings>[1] = { spots: [], cutLines: [] };
const VIEW_TEXT: Readonly<Record<PreviewView, string>> = {
  print: 'As it prints',
  'out of gamut': 'Colours out of reach',
  'over the limit': 'Over the ink limit',
};

/** How a job looks in print by its ticket and by other values of colour, side by side, with what each takes. */
export function ColourPage() {
  const { jobId = '' } = useParams();
  const { data: job, error } = useJob(jobId);
  if (error) return <PageError>{errorText(error)}</PageError>;
  if (!job) return <p className="p-8 text-soft">Reading the ticket…</p>;
  return job.pages === null ? (
    <PageError>{job.sourceName} is still arriving: there is nothing to look at yet.</PageError>
  ) : (
    <JobColour key={job.id} job={job} />
  );
}

function JobColour({ job }: { readonly job: JobDetail }) {
  const { mutate } = useJob(job.id);
  const { data: queues = [] } = useQueues();
  const queue = queues.find(({ id }) => id === job.queueId);
  const { place, names } = useSurroundings(queue, NO_FILE);
  const [values, setValues] = useState<ColourValues>({});
  const [view, setView] = useState<PreviewView>('print');
  const [paperWhite, setPaperWhite] = useState(false);
  const [page, setPage] = useState(0);
  const { tell } = useNotice();
  const go = useNavigate();
  const asked = (of: ColourValues): CoatPreviewAsked => ({
    ...{ jobId: job.id, page, values: of, mostPx: 900 },
    ...{ view, paperWhite },
  });
  const version = JSON.stringify(job.ticket.values);
  const before = useCoatPreview(asked({}), version);
  const changed = setHere(job.ticket, values);
  const keys = changedKeys(job.ticket.values, changed.values);
  // Where nothing is changed, what is there is what would be.
  const other = useCoatPreview(keys.length === 0 ? undefined : asked(values), version);
  const after = keys.length === 0 ? before : other;
  // The ticket as it would be: each row says where its value comes from, as in the ticket itself.
  const model: TicketModel = {
    ...oneTicket({ ...job.ticket, values: changed.values, origins: changed.origins }, names, () => undefined),
    change: (part) => {
      setValues((now) => ({ ...now, ...part }));
    },
    putBack: (back) => {
      const inherited = back.map((key) => [key, inheritedValue(job.ticket, key).value] as const);
      setValues((now): ColourValues => ({ ...now, ...(Object.fromEntries(inherited) as ColourValues) }));
    },
  };
  const keep = (): void => {
    sendJson<JobDetail>('PATCH', `/api/jobs/${job.id}`, values)
      .then((next) => mutate(next, { revalidate: false }))
      .then(() => go(`/intake?job=${job.id}`))
      .catch(tell);
  };
  const tone = changed.values.tone;
  const shown = after.preview ?? before.preview;
  const fault: unknown = after.error ?? before.error;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <header className="flex min-h-14 items-center gap-x-3 border-b border-rule px-4 py-2">
        <Link
          to={`/intake?job=${job.id}`}
          className="inline-flex min-w-0 items-center gap-1 text-tide"
          title="Back to the ticket"
        >
          <ArrowLeft size={16} aria-hidden="true" className="shrink-0" />
          <span className="truncate">{job.sourceName}</span>
        </Link>
        <h1 className="text-lg font-semibold whitespace-nowrap">In print</h1>
        <span className="min-w-0 flex-1 truncate text-soft max-phone:hidden">
          {shown && `${place.printer?.name ?? ''} · ${shown.profile}`}
        </span>
        <May right="coordinate">
          <Button kind="main" disabled={keys.length === 0} onClick={keep}>
            {keys.length === 0 ? 'Nothing changed' : `Keep ${String(keys.length)} on the ticket`}
          </Button>
        </May>
      </header>
      <div className="flex min-h-0 flex-1 max-phone:flex-col max-phone:overflow-auto">
        <div className="flex min-h-72 min-w-0 flex-1 flex-col">
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule px-4 py-2">
            <fieldset className="flex flex-wrap gap-x-4">
              <legend className="sr-only">What is shown</legend>
              {PREVIEW_VIEWS.map((each) => (
                <label key={each} className="flex items-center gap-1.5">
                  <input
                    type="radio"
                    name="view"
                    checked={view === each}
                    onChange={() => {
                      setView(each);
                    }}
                  />
                  {VIEW_TEXT[each]}
                </label>
              ))}
            </fieldset>
            <Checkbox text="on the media’s own white" value={paperWhite} onChange={setPaperWhite} />
            {(job.pages ?? 1) > 1 && (
              <Select
                label="Page"
                value={String(page)}
                choices={job.pageList.map((each) => ({
                  value: String(each.page),
                  text: `Page ${String(each.page + 1)}`,
                }))}
                className=""
                onChange={(next) => {
                  setPage(Number(next));
                }}
              />
            )}
          </div>
          <SplitPicture name={job.sourceName} before={before.preview} after={after.preview} />
        </div>
        <aside
          className="w-[380px] shrink-0 overflow-auto border-l border-rule bg-card px-4 py-3 max-phone:w-full max-phone:border-l-0"
          aria-label="Colour"
        >
          <h2 className="sr-only">Colour</h2>
          {fault !== undefined && (
            <p className="mb-3 text-stop" role="alert">
              {errorText(fault)}
            </p>
          )}
          <Section title="Tone">
            {TONE_FIELDS.map(({ key, label, least, most, step, unit }) => (
              <Slider
                key={key}
                label={label}
                value={tone[key]}
                least={least}
                most={most}
                step={step}
                digits={key === 'gamma' ? 2 : 0}
                unit={unit}
                onChange={(value) => {
                  model.change({ tone: { ...tone, [key]: value } });
                }}
              />
            ))}
          </Section>
          <Section title="Ink">
            {before.preview && after.preview && <InkComparison before={before.preview} after={after.preview} />}
          </Section>
          {after.preview && <Reach preview={after.preview} />}
          <Section title="Profile">
            <ProfileRow model={model} place={place} />
            <ArtworkRow model={model} />
            <IntentRow model={model} place={place} />
            <InkLimitRow model={model} place={place} />
          </Section>
          <Section title="Curves">
            {shown && (
              <CurveFields
                channels={shown.channels}
                curves={changed.values.curves}
                onChange={(curves) => {
                  model.change({ curves });
                }}
              />
            )}
          </Section>
        </aside>
      </div>
    </div>
  );
}

/** What of the page can't be printed as it is asked for. */
function Reach({ preview }: { readonly preview: CoatPreview }) {
  const { outOfGamut, overLimit, inkLimit, mostInk, note } = preview;
  const percent = (share: number): string =>
    share > 0 && share < 0.005 ? 'Less than 1 %' : `${number(share * 100)} %`;
  return (
    <Section title="What it asks for">
      <p>
        {outOfGamut === 0
          ? 'All of its colours can be printed.'
          : `${percent(outOfGamut)} of what is printed has a colour that this profile can’t reach.`}
      </p>
      <p className="mt-1">
        At most {number((overLimit === 0 ? Math.min(mostInk, inkLimit) : mostInk) * 100)} % ink at one place;{' '}
        {overLimit === 0
          ? `the limit of ${number(inkLimit * 100)} % cuts nothing off.`
          : `the limit of ${number(inkLimit * 100)} % holds back ${percent(overLimit).toLowerCase()} of it.`}
      </p>
      {note !== null && <p className="mt-1">{note}</p>}
    </Section>
  );
}

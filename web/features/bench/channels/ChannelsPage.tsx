import { ArrowLeft, ImageDown } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import useSWR from 'swr';
import type { RunChannels } from '../../../../contract/api/colour/channels.ts';
import { errorText, getJson, wasCancelled } from '../../../api/client.ts';
import { type RunDetail, useRun, useSpools } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { isTyping } from '../../../ui/isTyping.ts';
import { PageError } from '../../../ui/PageError.tsx';
import { number } from '../../../ui/text/number.ts';
import { ChannelCanvas } from './ChannelCanvas.tsx';
import { ChannelList } from './ChannelList.tsx';
import { keepCrop } from './cropPicture.ts';
import { cropValues } from './cropValues.ts';
import { zoomFor } from './channelCamera.ts';
import { InkTiles } from './inkTiles.ts';
import { type ShownCoat, shownCoat } from './shownCoat.ts';
import { type Shown, allShown, alone, turned } from './shownChannels.ts';
import { ZoomButtons } from '../ZoomButtons.tsx';
import { useCamera } from './useCamera.ts';

const WHITE = '#FFFFFF';
/** So often it is looked whether more of it is rendered. */
const OWED_MS = 3000;
const MM_PER_IN = 25.4;

/** What a run will really fire, channel by channel, from all of it down to single dots. */
export function ChannelsPage() {
  const { runId = '' } = useParams();
  const { data: run, error: noRun } = useRun(runId);
  const path = `/api/runs/${runId}/channels`;
  const { data, error, mutate } = useSWR<RunChannels, Error>(`${path}?render=false`, {
    shouldRetryOnError: false,
    revalidateOnFocus: false,
    // A printer may have asked for it: what is being rendered shows as soon as it is there.
    refreshInterval: (latest) => (latest?.owed ? OWED_MS : 0),
  });
  const [rendering, setRendering] = useState(false);
  const [failed, setFailed] = useState<unknown>();
  const render = (): void => {
    setRendering(true);
    setFailed(undefined);
    getJson<RunChannels>(path)
      .then((made) => mutate(made, { revalidate: false }))
      .catch((reason: unknown) => {
        setFailed(wasCancelled(reason) ? undefined : reason);
      })
      .finally(() => {
        setRendering(false);
      });
  };
  if (noRun) return <PageError>{errorText(noRun)}</PageError>;
  if (!run) return <p className="p-8 text-soft">Reading the run…</p>;
  const coat = data && shownCoat(data);
  const owed = data?.owed;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <header className="flex min-h-14 items-center gap-x-3 border-b border-rule px-4 py-3">
        <Link
          to={`/bench/${run.id}`}
          className="inline-flex items-center gap-1 whitespace-nowrap text-tide"
          title="Back to the layout"
        >
          <ArrowLeft size={16} aria-hidden="true" /> {run.name}
        </Link>
        <h1 className="text-lg font-semibold whitespace-nowrap">Channels</h1>
        {coat && (
          <span className="min-w-0 truncate text-soft">
            {coat.profile} · {coat.intent} · {coat.isScreened ? coat.screening : 'before screening'} ·{' '}
            {number(coat.dpiX)} × {number(coat.dpiY)} dpi
          </span>
        )}
      </header>
      {coat ? (
        <Coat key={coat.rendering} run={run} coat={coat} data={data}>
          {owed && <Owed owed={owed} rendering={rendering} failed={failed} onRender={render} />}
        </Coat>
      ) : (
        <p className={error ? 'p-8 text-stop' : 'p-8 text-soft'} role={error ? 'alert' : undefined}>
          {error ? errorText(error) : 'Reading the channels…'}
        </p>
      )}
    </div>
  );
}

interface OwedProps {
  readonly owed: NonNullable<RunChannels['owed']>;
  readonly rendering: boolean;
  readonly failed: unknown;
  readonly onRender: () => void;
}

/** What is shown of a run that is not rendered, and the button that renders it. */
function Owed({ owed: { coat, parts, made, refused }, rendering, failed, onRender }: OwedProps) {
  return (
    <section className="mb-4 rounded border border-wait px-3 py-2" aria-label="Not rendered">
      <p>
        <strong>Ink before screening.</strong> The dots are not rendered: {number(coat.widthDots)} ×{' '}
        {number(coat.heightDots)} in {number(coat.channels.length)} channels
        {made > 0 && `; ${number(made)} of ${number(parts)} parts are there`}.
      </p>
      {refused === null ? (
        <>
          <p className="mt-1 text-soft">
            Rendered, every drop is seen and counted. That takes minutes for a long run; it goes on when you leave.
          </p>
          <Button kind="main" className="mt-2" disabled={rendering} onClick={onRender}>
            {rendering ? 'Rendering …' : 'Render the channels'}
          </Button>
        </>
      ) : (
        <p className="mt-1">{refused}</p>
      )}
      {failed !== undefined && (
        <p className="mt-2 text-stop" role="alert">
          {errorText(failed)}
        </p>
      )}
    </section>
  );
}

interface CoatProps {
  readonly run: RunDetail;
  readonly coat: ShownCoat;
  readonly data: RunChannels;
  /** Stands above the channels. */
  readonly children: ReactNode;
}

function Coat({ run, coat, data: { currency, notOnce, notes }, children }: CoatProps) {
  const { data: spools } = useSpools();
  const mediaColour = spools?.find(({ id }) => id === run.spoolId)?.colour ?? WHITE;
  const [shown, setShown] = useState<Shown>(() => allShown(coat.channels.length));
  const [asHeat, setAsHeat] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { tell } = useNotice();
  const [arrived, setArrived] = useState(0);
  const { isScreened } = coat;
  const fresh = (): { isScreened: boolean; tiles: InkTiles } => ({
    isScreened,
    tiles: new InkTiles(run.id, coat, () => {
      setArrived((n) => n + 1);
    }),
  });
  const [held, setHeld] = useState(fresh);
  // The dots take the place of the ink before screening as soon as they are there; what is looked at stays where it is.
  if (held.isScreened !== isScreened) setHeld(fresh());
  const { tiles } = held;
  const feedStep = coat.dpiX / coat.dpiY;
  const whole = useMemo(() => ({ width: coat.widthDots, height: coat.heightDots * feedStep }), [coat, feedStep]);
  const { size, camera, pointed: place, zoomBy, fit } = useCamera(box, whole);
  const pointed = { x: place.x, y: place.y / feedStep };
  useChannelKeys(coat, shown, setShown);
  const zoomNow = zoomFor(camera.scale * (globalThis.devicePixelRatio || 1), coat.mostZoom);
  const keepPicture = (): void => {
    const values = cropValues(coat, camera, size, zoomNow, (key) => tiles.known(key));
    if (!canvas.current || !values) {
      tell(new Error('The picture is still on its way. Try again when it is sharp.'));
      return;
    }
    keepCrop(canvas.current, run.name, coat, values).catch(tell);
  };
  const inks = inksAt(tiles, coat, zoomNow, pointed);
  const mm = (dots: number, dpi: number): string => number((dots / dpi) * MM_PER_IN, 1);
  return (
    <div className="flex min-h-0 flex-1 max-phone:flex-col">
      <div ref={box} className="relative min-h-48 min-w-0 flex-1 overflow-hidden bg-rule/40">
        <ChannelCanvas
          coat={coat}
          tiles={tiles}
          size={size}
          camera={camera}
          shown={shown}
          mediaColour={mediaColour}
          asHeat={asHeat}
          canvas={canvas}
          arrived={arrived}
          label={`${run.name}, ${String(shown.size)} of ${String(coat.channels.length)} channels on the media`}
        />
        <div className="absolute right-3 bottom-3 flex rounded-md border border-rule bg-card shadow">
          <Button
            kind="quiet"
            onClick={keepPicture}
            aria-label="Keep what is seen as PNG"
            title="Keep what is seen as PNG, with its values"
          >
            <ImageDown size={16} />
          </Button>
          <ZoomButtons onZoom={zoomBy} onFit={fit} />
        </div>
      </div>
      <aside
        className="w-80 shrink-0 overflow-auto border-l border-rule bg-card p-4 max-phone:w-full"
        aria-label="Channels"
      >
        {children}
        <ChannelList coat={coat} currency={currency} shown={shown} onShown={setShown} inks={inks} />
        <Checkbox text="how much ink lies where" value={asHeat} onChange={setAsHeat} />
        <p className="mt-1 text-soft">
          {isOn(coat, pointed)
            ? `Here: ${mm(pointed.y, coat.dpiY)} mm from the leading edge, ${mm(pointed.x, coat.dpiX)} mm across.`
            : 'Here: beyond the media.'}{' '}
          Most ink at one place: {number(coat.inkLimit * 100)}&nbsp;%.
        </p>
        <h2 className="mt-4 font-semibold">Drops</h2>
        <p className="text-soft">Small, medium and full: {coat.dropsPl.map((pl) => number(pl, 0, 1)).join(', ')} pl.</p>
        <h2 className="mt-4 font-semibold">Twice or not at all</h2>
        {notOnce.length === 0 ? (
          <p className="text-soft">Every piece and mark is printed once.</p>
        ) : (
          <List texts={notOnce} className="text-stop" />
        )}
        {notes.length > 0 && (
          <>
            <h2 className="mt-4 font-semibold">How it is rendered</h2>
            <List texts={notes} />
          </>
        )}
      </aside>
    </div>
  );
}

function List({ texts, className = '' }: { readonly texts: readonly string[]; readonly className?: string }) {
  return (
    <ul className={`list-disc pl-4 ${className}`}>
      {texts.map((text) => (
        <li key={text}>{text}</li>
      ))}
    </ul>
  );
}

/** Whether a dot lies on the coat. */
function isOn({ widthDots, heightDots }: ShownCoat, { x, y }: { readonly x: number; readonly y: number }): boolean {
  return x >= 0 && y >= 0 && x < widthDots && y < heightDots;
}

/** Ink of each channel in the pixel that stands for a dot; undefined: none is there, or not known yet. */
function inksAt(
  tiles: InkTiles,
  coat: ShownCoat,
  zoom: number,
  dot: { readonly x: number; readonly y: number },
): number[] | undefined {
  if (!isOn(coat, dot)) return undefined;
  const { tilePx, channels } = coat;
  const { x, y } = dot;
  const [px, py] = [Math.floor(x / 2 ** zoom), Math.floor(y / 2 ** zoom)];
  const tile = tiles.known({ zoom, x: Math.floor(px / tilePx), y: Math.floor(py / tilePx) });
  if (!tile) return undefined;
  const at = (py % tilePx) * tile.width + (px % tilePx);
  return channels.map((_, i) => tile.inks[i]?.[at] ?? 0);
}

/** 1 to 8 show or hide a channel, with Shift it alone. */
function useChannelKeys(coat: ShownCoat, shown: Shown, onShown: (shown: Shown) => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || isTyping(event.target) || event.ctrlKey || event.metaKey) return;
      const index = /^Digit([1-8])$/.exec(event.code)?.[1];
      const place = index === undefined ? -1 : Number(index) - 1;
      if (place < 0 || place >= coat.channels.length) return;
      event.preventDefault();
      onShown(event.shiftKey ? alone(shown, place, coat.channels.length) : turned(shown, place));
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [coat, shown, onShown]);
}

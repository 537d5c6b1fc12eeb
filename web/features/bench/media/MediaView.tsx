import { acrossText, fieldUnit } from '../../../ui/text/lengths.ts';
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { type RunDetail, usePrinters, useSpools } from '../../../api/data.ts';
import { MarksDrawing } from './MarksDrawing.tsx';
import { MOST_DRAWN, PiecesCanvas } from './PiecesCanvas.tsx';
import { type DrawnContour, PieceDrawing } from './PieceDrawing.tsx';
import { type PaintedRun, SMALL_PICTURE_PX, pieceAt } from './paintPieces.ts';
import { ringsPath } from '../../../draw/ringsPath.ts';
import { AcrossRuler, FeedRuler, RULER_PX } from './Rulers.tsx';
import { sheetSpans } from '../../../../core/layout/sheets/sheetSpans.ts';
import { isMirrored } from '../../../../core/layout/arrange/twoSides.ts';
import type { RunPiece } from '../../../../contract/api/run.ts';
import type { Place } from '../state/layoutState.ts';
import type { Bench } from '../state/useBench.ts';
import { useLasso } from '../state/useLasso.ts';
import { usePieceDrag } from '../state/usePieceDrag.ts';

interface MediaViewProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly zoom: number;
  readonly onZoom: (factor: number) => void;
  readonly selected: ReadonlySet<string>;
  readonly onSelect: (selected: ReadonlySet<string>) => void;
  readonly stop: ReadonlySet<string>;
  readonly tight: ReadonlySet<string>;
  /** Drawn over the pieces, in their frame, up to an end; told how many millimetres a pixel is. */
  readonly over: { readonly endMm: number; readonly draw: (pxMm: number) => ReactNode } | undefined;
}

/** Shown beyond the used length: the roll goes on. */
const BEYOND = 0.06;
const ROOM_TO_PULL = 0.3;
const PAD_PX = 18;

/*
 * The media as a band, leading edge at the left: the frame of the run (x across, y along the feed, seen from the printed
 * side) turned a quarter counter-clockwise, so that screen X = y and screen Y = media width − x. Nothing is mirrored.
 */
export function MediaView({ run, bench, zoom, onZoom, selected, onSelect, stop, tight, over }: MediaViewProps) {
  const { data: printers } = usePrinters();
  const { data: spools } = useSpools();
  const scroller = useRef<HTMLDivElement>(null);
  const media = useRef<SVGSVGElement>(null);
  const size = useSize(scroller);
  const [steps, setSteps] = useState(0);
  const used = bench.figures?.lengthMm ?? run.lengthMm;
  const sheets = sheetSpans(used, bench.layout.settings.sheetMm ?? null);
  // Behind what is being set up there is room to pull it longer.
  const length = Math.max(used * (1 + BEYOND), (over?.endMm ?? 0) * (1 + ROOM_TO_PULL), 300);
  const fit = Math.min((size.width - PAD_PX) / length, (size.height - PAD_PX) / run.mediaWidthMm);
  const scale = Math.max(1e-4, fit * zoom);
  const onPiece = usePieceDrag(run, bench, scale, selected, onSelect);
  const lasso = useLasso(media, run, bench, scale, selected, onSelect);
  useWheelZoom(scroller, onZoom);
  const { fromMm, widthMm } = bench.usable;
  const top = Math.max(0, (size.height - PAD_PX - run.mediaWidthMm * scale) / 2);
  const colour =
    spools?.find((spool) => spool.stockId === spools.find((each) => each.id === run.spoolId)?.stockId)?.colour ??
    '#FFFFFF';
  // What lies on sheets does not hang from the printer.
  const onRoll = bench.layout.settings.sheetMm == null;
  const freeHang = onRoll
    ? (printers?.find((printer) => printer.id === run.printerId)?.config.freeHangMm ?? null)
    : null;
  const contours = useMemo(() => drawnContours(run.contours), [run.contours]);
  const mirrored = run.pair?.side === 'back' && isMirrored(run.pair);
  const { pieces } = run;
  const { places } = bench.layout;
  const painted = useMemo<PaintedRun | undefined>(
    () => (pieces.length > MOST_DRAWN ? { pieces, places, contours, mirrored, selected, stop, tight } : undefined),
    [pieces, places, contours, mirrored, selected, stop, tight],
  );
  const lines = { line: 1 / scale };
  const step = Math.max(1, size.width / 2);
  const sight = { startMm: ((steps - 1) * step) / scale, endMm: ((steps + 4) * step) / scale };
  return (
    <div
      className="grid min-h-0 flex-1"
      style={{
        gridTemplateColumns: `${String(RULER_PX)}px minmax(0,1fr)`,
        gridTemplateRows: `${String(RULER_PX)}px minmax(0,1fr)`,
      }}
    >
      <div className="dense border-r border-b border-rule bg-card text-center leading-[26px] text-soft">
        {fieldUnit()}
      </div>
      <ScrolledRulers
        scroller={scroller}
        scale={scale}
        lengthMm={length}
        usedMm={used}
        mediaWidthMm={run.mediaWidthMm}
        topPx={top}
        size={size}
      />
      {painted && (
        <PiecesCanvas
          run={painted}
          scroller={scroller}
          size={size}
          scale={scale}
          topPx={top}
          mediaWidthMm={run.mediaWidthMm}
          fromMm={fromMm}
          usedMm={used}
          colour={colour}
        />
      )}
      <div
        ref={scroller}
        style={{ gridColumn: 2, gridRow: 2 }}
        className="relative min-h-0 min-w-0 overflow-auto"
        data-testid="media"
        onScroll={(event) => {
          // What is seen and as much again on both sides is drawn: scrolling seldom draws anything anew.
          if (!painted) setSteps(Math.floor(event.currentTarget.scrollLeft / step));
        }}
        onPointerDownCapture={() => {
          // A field that still has the focus would swallow the keys that move and undo.
          if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
        }}
        onPointerDown={(event) => {
          if ((event.target as Element).closest('[data-piece]') !== null) return;
          const at = painted && lasso.pointMm(event);
          const key = at && pieceAt(painted, at);
          if (key === undefined) lasso.start(event);
          else onPiece(key, event);
        }}
      >
        <svg
          ref={media}
          width={length * scale}
          height={run.mediaWidthMm * scale}
          style={{ marginTop: top }}
          className="block touch-none"
          viewBox={`0 0 ${String(length)} ${String(run.mediaWidthMm)}`}
          role="group"
          aria-label={`Media ${acrossText(run.mediaWidthMm)} wide, used length ${acrossText(used, 1)}`}
        >
          <defs>
            <pattern
              id="margin"
              width={10 * lines.line}
              height={10 * lines.line}
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <line x1="0" y1="0" x2="0" y2={10 * lines.line} stroke="#8a8375" strokeWidth={1.2 * lines.line} />
            </pattern>
            <linearGradient id="beyond" x1="0" x2="1" y1="0" y2="0">
              <stop offset="0" stopColor={colour} />
              <stop offset="1" stopColor={colour} stopOpacity="0.15" />
            </linearGradient>
            {[...contours.values()].map(({ clipId, outline }) => (
              <clipPath key={clipId} id={clipId}>
                <path d={outline} />
              </clipPath>
            ))}
          </defs>
          {/* Painted pieces lie behind the drawing: the media is then seen through it. */}
          <rect
            width={used}
            height={run.mediaWidthMm}
            fill={painted ? 'none' : colour}
            stroke="var(--ink)"
            strokeWidth={lines.line}
          />
          <rect x={used} width={length - used} height={run.mediaWidthMm} fill="url(#beyond)" />
          <g transform={`matrix(0 -1 1 0 0 ${String(run.mediaWidthMm)})`}>
            <Unprintable fromX={0} toX={fromMm} lengthMm={length} plain={painted !== undefined} />
            <Unprintable
              fromX={fromMm + widthMm}
              toX={run.mediaWidthMm}
              lengthMm={length}
              plain={painted !== undefined}
            />
            {(sheets.length > 0 ? sheets : [{ startMm: 0, endMm: used }]).map(({ startMm, endMm }) => (
              <EndMargins
                key={startMm}
                startMm={startMm}
                endMm={endMm}
                fromMm={fromMm}
                widthMm={widthMm}
                settings={bench.layout.settings}
              />
            ))}
            <g transform={`translate(${String(fromMm)} 0)`}>
              {(painted ? [] : run.pieces).map((piece) => {
                const place = bench.layout.places.get(piece.pieceId);
                return (
                  place &&
                  inSight(piece, place, sight) && (
                    <PieceDrawing
                      key={piece.pieceId}
                      piece={piece}
                      place={place}
                      contour={piece.contour === null ? undefined : contours.get(piece.contour)}
                      picture={Math.max(piece.widthMm, piece.heightMm) * scale > SMALL_PICTURE_PX ? 'view' : 'thumb'}
                      signPx={place.locked === true || piece.panel ? lines.line : 0}
                      selected={selected.has(piece.pieceId)}
                      locked={place.locked === true}
                      mirrored={mirrored}
                      trouble={stop.has(piece.pieceId) ? 'stop' : tight.has(piece.pieceId) ? 'tight' : undefined}
                      onPointerDown={onPiece}
                    />
                  )
                );
              })}
            </g>
            <g transform={`translate(${String(fromMm)} 0)`}>
              <MarksDrawing marks={bench.marks.marks} />
              {over?.draw(lines.line)}
            </g>
            {lasso.rect && (
              <rect
                x={lasso.rect.xMm + fromMm}
                y={lasso.rect.yMm}
                width={lasso.rect.widthMm}
                height={lasso.rect.heightMm}
                fill="var(--tide)"
                fillOpacity={0.12}
                stroke="var(--tide)"
                strokeWidth={1.5 * lines.line}
              />
            )}
            <line
              x1={0}
              x2={run.mediaWidthMm}
              y1={used}
              y2={used}
              stroke="var(--tide)"
              strokeWidth={2 * lines.line}
              strokeDasharray={`${String(7 * lines.line)} ${String(4 * lines.line)}`}
            />
            {sheets.slice(1).map(({ startMm }) => (
              <line
                key={startMm}
                x1={0}
                x2={run.mediaWidthMm}
                y1={startMm}
                y2={startMm}
                stroke="var(--ink)"
                strokeWidth={2 * lines.line}
              />
            ))}
            {freeHang !== null && freeHang < length && (
              <line
                x1={0}
                x2={run.mediaWidthMm}
                y1={freeHang}
                y2={freeHang}
                stroke="#9A6700"
                strokeWidth={1.5 * lines.line}
                strokeDasharray={`${String(10 * lines.line)} ${String(3 * lines.line)}`}
              />
            )}
          </g>
          {freeHang !== null && freeHang < length && (
            <EdgeLabel atMm={freeHang} px={lines.line} text={`free-hang ${acrossText(freeHang)}`} mostMm={length} />
          )}
        </svg>
      </div>
    </div>
  );
}

function drawnContours(contours: RunDetail['contours']): ReadonlyMap<string, DrawnContour> {
  return new Map(
    Object.entries(contours).map(([key, { outline, cut }], i) => [
      key,
      { clipId: `contour-${String(i)}`, outline: ringsPath([outline]), cut: ringsPath(cut) },
    ]),
  );
}

/** The rulers follow every scroll by themselves: the pieces between them stay as they are. */
function ScrolledRulers({
  scroller,
  scale,
  lengthMm,
  usedMm,
  mediaWidthMm,
  topPx,
  size,
}: {
  readonly scroller: React.RefObject<HTMLElement | null>;
  readonly scale: number;
  readonly lengthMm: number;
  readonly usedMm: number;
  readonly mediaWidthMm: number;
  readonly topPx: number;
  readonly size: { readonly width: number; readonly height: number };
}) {
  const [scroll, setScroll] = useState({ left: 0, top: 0 });
  useEffect(() => {
    const element = scroller.current;
    if (!element) return undefined;
    const follow = (): void => {
      setScroll({ left: element.scrollLeft, top: element.scrollTop });
    };
    element.addEventListener('scroll', follow, { passive: true });
    return () => {
      element.removeEventListener('scroll', follow);
    };
  }, [scroller]);
  return (
    <>
      <FeedRuler scale={scale} lengthMm={lengthMm} offsetPx={scroll.left} widthPx={size.width} usedMm={usedMm} />
      <AcrossRuler scale={scale} widthMm={mediaWidthMm} offsetPx={scroll.top - topPx} heightPx={size.height} />
    </>
  );
}

/** Whether a piece lies in the stretch of the run that is drawn. */
function inSight(piece: RunPiece, place: Place, { startMm, endMm }: Stretch): boolean {
  const reach = Math.hypot(piece.widthMm, piece.heightMm);
  return place.yMm + reach >= startMm && place.yMm <= endMm;
}

interface Stretch {
  readonly startMm: number;
  readonly endMm: number;
}

function EndMargins({
  startMm,
  endMm,
  fromMm,
  widthMm,
  settings: { leadMm, trailMm },
}: Stretch & { readonly fromMm: number; readonly widthMm: number; readonly settings: Bench['layout']['settings'] }) {
  const common = { x: fromMm, width: widthMm, fill: 'url(#margin)', opacity: 0.35 };
  return (
    <>
      <rect y={startMm} height={leadMm} {...common} />
      <rect y={Math.max(0, endMm - trailMm)} height={trailMm} {...common} />
    </>
  );
}

function Unprintable({
  fromX,
  toX,
  lengthMm,
  plain,
}: {
  readonly fromX: number;
  readonly toX: number;
  readonly lengthMm: number;
  /** Hatching the whole length of a large run would be drawn anew with every scroll. */
  readonly plain: boolean;
}) {
  const fill = plain ? { fill: '#8a8375', opacity: 0.22 } : { fill: 'url(#margin)', opacity: 0.6 };
  return <rect x={fromX} y={0} width={Math.max(0, toX - fromX)} height={lengthMm} {...fill} />;
}

/** A small flag at the upper edge of the media. */
function EdgeLabel({
  atMm,
  px,
  text,
  mostMm,
}: {
  readonly atMm: number;
  readonly px: number;
  readonly text: string;
  readonly mostMm: number;
}) {
  const widthPx = text.length * 6.4 + 8;
  // Near the end of what is shown the flag points the other way.
  const x = atMm + widthPx * px > mostMm ? Math.max(0, atMm - (widthPx + 2) * px) : atMm;
  return (
    <g transform={`translate(${String(x)} 0) scale(${String(px)})`}>
      <rect x={1} y={2} width={widthPx} height={18} rx={2} fill="#9A6700" />
      <text x={5} y={15} fontSize={12} fill="#fff">
        {text}
      </text>
    </g>
  );
}

/** Size of an element, followed as it changes. */
function useSize(ref: React.RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 800, height: 500 });
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() => {
      setSize({ width: element.clientWidth, height: element.clientHeight });
    });
    observer.observe(element);
    return () => {
      observer.disconnect();
    };
  }, [ref]);
  return size;
}

/** Zooms by the wheel with ctrl. The listener is not passive: else the browser would zoom the whole page. */
function useWheelZoom(ref: React.RefObject<HTMLElement | null>, onZoom: (factor: number) => void): void {
  useEffect(() => {
    const element = ref.current;
    if (!element) return undefined;
    const onWheel = (event: WheelEvent): void => {
      if (!event.ctrlKey) return;
      event.preventDefault();
      onZoom(event.deltaY < 0 ? 1.2 : 1 / 1.2);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => {
      element.removeEventListener('wheel', onWheel);
    };
  }, [ref, onZoom]);
}

import type { ApexOptions } from 'apexcharts';
import { useMemo } from 'react';
import type { ClogCurveView } from '../../../contract/api/heads.ts';
import { Chart } from '../../draw/Chart.tsx';
import { number } from '../../ui/text/number.ts';
import { type HeadChannel, useClogCurve } from './useHeads.ts';

/** How likely a channel stays open by its idle hours: steps from what checks have found; dashed where too little was seen. */
export function ClogChart({ printerId, channel }: { readonly printerId: string; readonly channel: HeadChannel }) {
  const { data: curve } = useClogCurve(printerId, channel.id);
  const { idleLimitH } = channel;
  const options = useMemo(() => curve && optionsOf(curve, idleLimitH), [curve, idleLimitH]);
  if (!curve || !options) return <div className="min-h-40" />;
  const { points, seen, spells, clogged } = curve;
  const half = points.find(({ open }) => open <= 0.5)?.hours;
  const said = seen
    ? `From ${number(spells)} idle spells that checks closed, ${number(clogged)} of them with clogs.`
    : `By the learned rate: only ${number(clogged)} of ${number(spells)} idle spells brought clogs so far.`;
  return (
    <>
      <Chart options={options} label={`Chance that ${channel.name} stays open, by idle hours. ${said}`} />
      <p className="dense mb-1 text-soft">
        Share of idle spells without a clog. {said}
        {half === undefined ? '' : ` Half of them clog from ${number(half)} h on.`} The upright line is the idle limit.
      </p>
    </>
  );
}

function optionsOf({ points, seen }: ClogCurveView, idleLimitH: number): ApexOptions {
  const at = (value: (point: (typeof points)[number]) => number): { x: number; y: number }[] =>
    points.map((point) => ({ x: Math.round(point.hours), y: Math.round(value(point) * 1000) / 10 }));
  const band = seen
    ? [
        { name: 'low', type: 'line', data: at(({ low, open }) => low ?? open) },
        { name: 'high', type: 'line', data: at(({ high, open }) => high ?? open) },
      ]
    : [];
  return {
    chart: {
      type: 'line',
      height: 170,
      animations: { enabled: false },
      toolbar: { show: false },
      zoom: { enabled: false },
      fontFamily: 'inherit',
      background: 'transparent',
    },
    series: [{ name: 'open', type: 'line', data: at(({ open }) => open) }, ...band],
    colors: ['var(--tide)', 'var(--soft)', 'var(--soft)'],
    stroke: { width: [2.5, 1, 1], curve: seen ? 'stepline' : 'smooth', dashArray: seen ? [0, 3, 3] : [5, 0, 0] },
    legend: { show: false },
    tooltip: { enabled: false },
    dataLabels: { enabled: false },
    grid: { borderColor: 'var(--rule)', padding: { left: 4, right: 8 } },
    xaxis: {
      type: 'numeric',
      tickAmount: 4,
      decimalsInFloat: 0,
      title: { text: 'hours idle', style: { color: 'var(--soft)', fontWeight: 400 } },
      labels: { style: { colors: 'var(--soft)' } },
      axisBorder: { color: 'var(--rule)' },
      axisTicks: { color: 'var(--rule)' },
    },
    yaxis: {
      min: 0,
      max: 100,
      tickAmount: 4,
      labels: { style: { colors: ['var(--soft)'] }, formatter: (value: number) => `${number(value)} %` },
    },
    annotations: {
      xaxis: [{ x: idleLimitH, borderColor: 'var(--wait)', strokeDashArray: 0 }],
    },
  };
}

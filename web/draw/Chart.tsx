import type ApexCharts from 'apexcharts';
import type { ApexOptions } from 'apexcharts';
import { useEffect, useRef } from 'react';

/** A chart, drawn by a library that is fetched when the first one is wanted. What it shows is said in words beside it. */
export function Chart({ options, label }: { readonly options: ApexOptions; readonly label: string }) {
  const box = useRef<HTMLDivElement>(null);
  const text = JSON.stringify(options);
  useEffect(() => {
    let chart: ApexCharts | undefined;
    let gone = false;
    void import('apexcharts').then(({ default: Apex }) => {
      if (gone || !box.current) return;
      chart = new Apex(box.current, options);
      void chart.render();
    });
    return () => {
      gone = true;
      chart?.destroy();
    };
    // Drawn anew where what it shows has changed, not with every object that says the same.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [text]);
  return <div ref={box} role="img" aria-label={label} className="min-h-40" />;
}

import type ApexCharts from 'apexcharts';
import type { ApexOptions } from 'apexcharts';
import { useEffect, useRef } from 'react';

/**
 * A chart, drawn by a library that is fetched when the first one is wanted. What it shows is said in words beside it.
 * @param options drawn anew with every other object: made once for what they show
 */
export function Chart({ options, label }: { readonly options: ApexOptions; readonly label: string }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    let chart: ApexCharts | undefined;
    let gone = false;
    void import('apexcharts').then(({ default: Apex }) => {
      if (gone || !box.current) return;
      // The page lets in only style elements that carry what it was given itself.
      const nonce = document.querySelector<HTMLMetaElement>('meta[name=style-nonce]')?.content;
      chart = new Apex(box.current, {
        ...options,
        chart: { ...options.chart, ...(nonce === undefined ? {} : { nonce }) },
      });
      void chart.render();
    });
    return () => {
      gone = true;
      chart?.destroy();
    };
  }, [options]);
  return <div ref={box} role="img" aria-label={label} className="min-h-40" />;
}

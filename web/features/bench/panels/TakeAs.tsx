import { number } from '../../../ui/text/number.ts';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { ChevronDown, Download } from 'lucide-react';
import { oversprayOf } from '../../../../core/layout/usableWidth.ts';
import { getFile, keepFile } from '../../../api/client.ts';
import type { RunDetail } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';

/** Of a picture: to look at, to send to a customer, to check a detail. */
const PICTURE_DPI = [50, 100, 200] as const;

/** What a run can be taken away as; what is still being kept is kept first, so that it is what one sees. */
export function TakeAs({ run, save }: { readonly run: RunDetail; readonly save: () => Promise<void> }) {
  const { tell } = useNotice();
  const onSheets = run.settings.sheetMm != null;
  const files: readonly { readonly text: string; readonly about: string; readonly path: string }[] = [
    {
      text: 'PDF',
      about: `${onSheets ? 'a page each sheet, ' : ''}vectors, layers for art, marks and cut`,
      path: 'pdf',
    },
    { text: 'Job sheet', about: `${onSheets ? 'a page each sheet, ' : ''}for the floor, with its code`, path: 'sheet' },
    ...(onSheets
      ? [{ text: 'Cuts as ZIP', about: 'SVG and DXF of each sheet, mm', path: 'cuts.zip' }]
      : [
          { text: 'Cuts as SVG', about: 'contours and trims, mm', path: 'cuts.svg' },
          { text: 'Cuts as DXF', about: 'contours and trims, mm', path: 'cuts.dxf' },
        ]),
    ...PICTURE_DPI.map((dpi) => ({
      text: `PNG, ${String(dpi)} dpi`,
      about: pixelText(run, dpi),
      path: `picture?dpi=${String(dpi)}`,
    })),
  ];
  const take = (path: string): void => {
    save()
      .then(() => getFile(`/api/runs/${run.id}/${path}`))
      .then(keepFile)
      .catch(tell);
  };
  return (
    <Menu as="div" className="relative flex-1">
      <MenuButton className="inline-flex h-8 w-full items-center justify-center gap-1.5 rounded-md border border-rule font-medium hover:border-soft">
        <Download size={15} aria-hidden="true" /> Take as
        <ChevronDown size={15} aria-hidden="true" />
      </MenuButton>
      <MenuItems
        anchor="top start"
        modal={false}
        className="z-20 mb-1 rounded-md border border-rule bg-card py-1 shadow-lg outline-none [--anchor-gap:4px]"
      >
        {files.map(({ text, about, path }) => (
          <MenuItem key={path}>
            <button
              type="button"
              className="flex w-full items-baseline justify-between gap-6 px-3 py-1 text-left data-focus:bg-rule/60"
              onClick={() => {
                take(path);
              }}
            >
              {text}
              <span className="dense text-soft">{about}</span>
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

function pixelText(run: RunDetail, dpi: number): string {
  const { leftMm, rightMm } = oversprayOf(run, run.mediaWidthMm);
  const px = (mm: number): string => number((mm / 25.4) * dpi);
  return `${px(leftMm + run.mediaWidthMm + rightMm)} × ${px(run.lengthMm)} px`;
}

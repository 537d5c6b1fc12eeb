/** Something of the application that is found by the words of the trade, with the place where it is. */
export interface Topic {
  readonly name: string;
  /** What else people call it, and what belongs to it. */
  readonly words: string;
  readonly path: string;
}

/** Where the first of a kind is set up; of the others there are entries of their own. */
interface Firsts {
  readonly printerId: string | undefined;
  readonly queueId: string | undefined;
  readonly stockId: string | undefined;
}

/**
 * Settings, actions and help by the trade's words. Values of a ticket lead to the queue that gives them to what arrives: there
 * they stand in the same form as on the ticket of a job.
 */
export function topics({ printerId, queueId, stockId }: Firsts): Topic[] {
  const printer = `/setup?printer=${printerId ?? ''}`;
  const queue = `/setup?queue=${queueId ?? ''}`;
  const stock = `/setup?stock=${stockId ?? ''}`;
  const floor = `/floor?printer=${printerId ?? ''}`;
  const of = (path: string, rows: readonly (readonly [name: string, words: string])[]): Topic[] =>
    rows.map(([name, words]) => ({ name, words, path }));
  return [
    ...of(queue, [
      ['Cut off', 'cutter, full cut, perforated, cut off at the end, guillotine'],
      ['Dry-out feed', 'drying, dry, ink dries, slow feed'],
      ['Carriage span', 'carriage, head travel, whole bed, media, artwork, speed'],
      ['Print mode', 'passes, resolution, dpi, quality, draft, fine'],
      ['Mirror', 'mirrored, flip, reverse, back-lit, window'],
      ['Size', 'scale, percent, width, height, named size, A1, B1, enlarge'],
      ['Crop', 'trim away, cut away, margins of the artwork'],
      ['Turn', 'rotate, rotation, orientation, quarter turn, 90 degrees'],
      ['Bleed', 'bleed, over the trim'],
      ['Copies', 'how many, quantity, number of prints'],
      ['Grain', 'direction of the media, across, along'],
      ['Tiles and panels', 'tile, panel, overlap, join, split, wallpaper'],
      ['Contour', 'contour cut, kiss cut, die line, spot colour, knife'],
      ['Edge to edge', 'borderless, overspray, no margins'],
      ['Separations', 'each ink alone, black only, spot colours'],
      ['Price of an hour late', 'late, lateness, penalty, due date'],
      ['Keep rule', 'keep, shelf, delete, drop after printing'],
      ['Arrival rule', 'wait, prepare, go, automatic, what happens when a job arrives'],
      ['Hot folders', 'hot folder, watched folder, name pattern, subfolders, stop watching, pause'],
      ['Checks', 'preflight, resolution warning, bleed warning, thin lines'],
      ['Gap between pieces', 'gap, distance, spacing'],
      ['Pool', 'pool, like printers, share'],
    ]),
    ...of(printer, [
      ['Printable width and margins', 'width, margin, left, right, media margin'],
      ['Overspray', 'edge to edge, borderless, over the edges'],
      ['Free-hang length', 'free-hang, hang, floor, take-up'],
      ['Take-up', 'take up, winding, rewinder, tension bar'],
      ['Basket or stacker', 'basket, stacker, catch, collects'],
      ['Print modes and profiles', 'mode, passes, ICC profile, resolution'],
      ['Ink channels', 'ink, inks, colour, tank, price per ml, idle limit, white'],
      ['Speeds and machine constants', 'speed, start-up, feed, stroke, trailer, back-feed'],
      ['Change-over times', 'change over, stock change, set-up time'],
      ['Rate of the machine', 'cost, price per hour, rate, money'],
      ['Finishing', 'cutter, contour cutter, perforate, knife'],
      ['May print with nobody there', 'unattended, lights out, night, alone'],
    ]),
    ...of(stock, [
      ['Stocks', 'media, substrate, material, width, thickness, price, core'],
      ['Modes that suit a stock', 'suits, allowed modes, which printer'],
    ]),
    ...of(floor, [
      ['Heads and nozzles', 'nozzle, nozzle check, purge, clean, clogged, idle, due for exercise, head'],
      ['Ink left', 'ink, tanks, level, low'],
      ['Load media', 'load, roll, spool, source, take out, unload'],
      ['Pause, go on or cancel a run', 'pause, stop, resume, go on, cancel, abort'],
      ['Move a run to another printer', 'elsewhere, fit list, reroute, move'],
      ['Fixed start', 'start at, not before, timed, later'],
      ['Turn the media for a back', 'front, back, two sides, duplex, confirm'],
      ['Empty the basket', 'emptied, basket, stacker, full'],
    ]),
    ...of('/floor', [
      ['Next hands', 'what to do, load, confirm, fault, alert, urgent'],
      ['Propose an order', 'order of the line, sequence, sort, fewer change-overs'],
    ]),
    ...of('/intake', [
      ['Bring files in', 'upload, drop, add files, import'],
      ['Change many tickets', 'bulk, several, all chosen'],
      ['Saved views and columns', 'view, columns, filter, group'],
      ['Worksheet of codes', 'bar code, QR code, labels, scan'],
    ]),
    ...of('/bench', [
      ['Nest', 'nesting, lay out, pack, waste, shortest'],
      ['Contours, sheets and quarter turns', 'by contour, on sheets, rotation, locked pieces'],
      ['Marks', 'crop marks, registration marks, slug line, trace code, labels, exercise strip, bar code'],
      ['Two sides', 'front, back, duplex, show-through'],
      ['Segments', 'segment, cut into runs, free-hang'],
      ['Step and repeat', 'step, repeat, rows, pattern'],
      ['Take as', 'export, PDF, DXF, SVG, cuts, job sheet, picture'],
      ['What a run costs', 'cost, money, price, shares, job cost'],
    ]),
    ...of('/media', [
      ['Receive a spool', 'new roll, delivery, arrived, stock in'],
      ['Correct what is left', 'measure, ledger, correction, length'],
      ['Offcuts', 'offcut, remainder, cut off a piece'],
      ['To order', 'order media, running low, reorder'],
    ]),
    ...of('/shelf', [
      ['Print again', 'reprint, again, copies, repeat order'],
      ['Spoiled pieces', 'spoiled, waste, ruined, reprint some'],
    ]),
  ];
}
